<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\Remote\LocalFileDetector;
use Tests\Support\Boards;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\Machine;

/**
 * From a file to a named chip: a ROM that is read, and the bus of a machine that hangs.
 */
final class RomAndBusRoundTest extends BrowserTestCase
{
    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::startWorker();
    }

    public function test_a_rom_with_a_dead_data_bit_is_read_compared_and_named(): void
    {
        $good = (new Machine(Boards::shipped('larkspur-64'), [], 1))->image('U2');
        $this->startJob('Weigh bridge', 'larkspur-64');
        $this->stage('ROM');
        $this->waitForText('main', 'U2: system ROM, E000 to FFFF; 8192 bytes.');
        $this->assertAccessible('the ROM without a read');
        $this->choose('Reads of the chip (one file each)', self::file('u2.bin', $good | str_repeat("\x10", 8192)));
        $this->choose('Known-good image, if there is one', self::file('system.bin', $good));
        $this->clickButton('Compare and record');
        $this->waitForText('[data-testid="rom-verdict"]', 'u2.bin: data bits that never change');
        $this->waitForText('[data-testid="rom-because"]', 'D4 reads 1 at every address');
        $this->waitForText('[data-testid="leading"]', 'U2');
        $this->waitForText('table[aria-label="Bits that differ"]', 'D4');
        $this->assertAccessible('a ROM that differs');

        $this->field('Go to address')->sendKeys('F000');
        $this->clickButton('Go');
        $this->waitForText('[data-testid="hex"]', 'F000');
        $this->field('Find bytes or text')->sendKeys('D8 B2');
        $this->clickButton('Find');
        $this->clickButton('Next difference');
        $this->waitForText('//section[@aria-label="Bytes"]//*[@role="status"]', 'of 2079, at F0');

        $this->click('//button[@role="tab"][.="Build"]');
        $this->clickButton('Add this step');
        $this->field('size (hex)')->clear();
        $this->field('size (hex)')->sendKeys('8000');
        $this->clickButton('Look at it');
        $this->waitForText('[data-testid="built"]', '32768 bytes');
        $this->assertAccessible('building an image');
        $this->click('//button[@role="tab"][.="Adapter"]');
        $this->waitForText('//section[@aria-label="Adapter"]', 'a spare address line');
        $this->assertAccessible('the adapter sheet');
        $this->assertQuietConsole();
    }

    public function test_a_machine_that_hangs_is_recorded_and_its_chip_named(): void
    {
        $board = Boards::shipped('larkspur-64');
        $this->startJob('Lift counter', 'larkspur-64');
        $this->stage('Bus');
        $this->waitForText('main', 'Nothing recorded yet');
        $this->assertAccessible('the bus without a capture');
        $this->bring('good.vcd', (new Machine($board, [], 1))->capture(500), 'of a good one');
        $this->waitForText('table[aria-label="Captures"]', 'decoded');
        $swapped = strtr((new Machine($board, [new InjectedFault(FaultKind::ReadsLow, 'U12')], 1))->capture(500), [' A0 $end' => ' A1 $end', ' A1 $end' => ' A0 $end']);
        $this->bring('sick.vcd', $swapped, 'of this machine');
        $this->waitForText('//table[@aria-label="Captures"]//tr[contains(., "sick.vcd")]', 'decoded');
        $this->waitForText('[data-testid="divergence"]', 'The channels were not checked yet');

        $this->click('//button[@role="tab"][.="Channels"]');
        $this->clickButton('Check the channels');
        $this->waitForText('[data-testid="setup"]', 'A0 is on A1, not on A0.');
        $this->assertAccessible('the channels');
        $this->clickButton('Take the corrected assignment');
        $this->waitForText('//table[@aria-label="Captures"]//tr[contains(., "sick.vcd")]', 'decoded');
        $this->click('//button[@role="tab"][.="Ladder"]');
        $this->waitForText('[data-testid="divergence"]', 'D3 is wrong');
        $this->waitForText('[data-testid="rungs"]', 'CMP 00');
        $this->assertAccessible('the ladder');
        $this->clickButton('Record what it says');
        $this->waitForText('[data-testid="leading"]', 'U12');
        $this->waitForText('table[aria-label="Captures"]', '27');
        $this->click('//button[@role="tab"][contains(., "Reset")]');
        $this->waitForText('main', 'goes high once, after');
        $this->assertQuietConsole();
    }

    private function bring(string $name, string $content, string $of): void
    {
        $this->choose('Capture (Value Change Dump or CSV, up to 64 MiB)', self::file($name, $content));
        $this->click("//button[normalize-space(.)=\"{$of}\"]");
        $this->clickButton('Send and decode');
        $this->waitForText('table[aria-label="Captures"]', $name);
    }

    private function choose(string $label, string $file): void
    {
        $this->field($label)->setFileDetector(new LocalFileDetector)->sendKeys($file);
    }
}
