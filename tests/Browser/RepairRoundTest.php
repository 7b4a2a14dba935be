<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;

/**
 * From the first reading to cured: what to do next, doing it, and what follows.
 */
final class RepairRoundTest extends BrowserTestCase
{
    public function test_a_machine_with_two_bad_chips_is_cured_by_mouse(): void
    {
        $this->startJob('Tide gauge', 'larkspur-64');
        $this->find('//textarea')->sendKeys("6C00 00 20\n6C01 0F 2F\n7000 00 20\n7001 FF FF");
        $this->clickButton('Record these lines');
        $this->waitForText('[data-testid="next-step"]', 'is U4.13 connected to U14.14?');
        $this->clickButton('They are connected');
        $this->waitForText('[data-testid="next-step"]', 'Replace U14 with a good 4164');
        $this->waitForText('[data-testid="next-step"]', 'Solder fume and lead');
        $this->clickButton('not now, because');
        $this->click('//*[@role="menuitem"][contains(., "the tool is not at hand")]');
        $this->waitForText('[data-testid="set-aside"]', 'One step put off');
        $this->waitForText('[data-testid="reasons"]', 'bit 5 of bank 0 reads 1 in all 3 readings');
        $this->assertAccessible('the verdict with its next step');
        $this->clickButton('what else?');
        $this->waitForText('[data-testid="next-step"]', 'number 2');

        $this->click('//nav//a[contains(., "Confirm")]');
        $this->waitForText('main', 'One thing at a time');
        $this->assertAccessible('confirm');
        $this->clickButton('exchange for a known good one');
        $this->field('Which part')->clear();
        $this->field('Which part')->sendKeys('U99');
        $this->click('//main//button[contains(., "Cured")]');
        $this->waitForText('[data-testid="problems"]', 'has no chip "U99"');
        $this->field('Which part')->clear();
        $this->field('Which part')->sendKeys('u14');
        $this->click('//main//button[contains(., "Different")]');
        $this->waitForText('[data-testid="interventions"]', 'U14 exchanged for a known good one: different');
        $this->waitForText('[data-testid="context"]', 'U14 exchanged');

        $this->benchLine('6c00 00>01');
        $this->benchLine('7000 00>01');
        $this->benchLine('7100 00>01');
        $this->waitForText('[data-testid="leading"]', 'U9');
        $this->waitForText('[data-testid="verdicts"]', 'U14 is bad');
        $this->waitForText('[data-testid="verdicts"]', 'U9 is a second bad chip');
        $this->click('//*[@data-testid="leading"]/..//*[@data-testid="reasons"]//a');
        $this->waitForText('main', 'newest first');
        self::assertSame('memory', explode("\n", $this->find('//li[contains(@class, "outline-2")]')->getText())[1] ?? '');

        $this->click('//nav//a[contains(., "Repair")]');
        $this->waitForText('main', 'A repair that changed nothing is evidence too');
        $this->assertAccessible('repair');
        $this->click('//label[contains(., "tested before it went in")]');
        $this->click('//main//button[contains(., "Cured")]');
        $this->waitForText('[data-testid="interventions"]', 'U9 replaced, tested before fitting: cured');
        foreach (['U14', 'U9'] as $place) {
            $this->waitForText('[data-testid="next-step"]', "measure each leg of {$place} to the next point of its line");
            $this->clickButton('All connected');
        }
        $this->waitForText('[data-testid="next-step"]', 'Prove it');
        $this->assertAccessible('a cured machine');
        $this->assertQuietConsole();
    }

    public function test_a_diagnostic_is_counted_by_tapping_along_and_compared(): void
    {
        $this->startJob('Signal box', 'larkspur-64');
        $this->click('//nav//a[contains(., "Diagnostics")]');
        $this->waitForText('main', 'No run yet');
        $this->assertAccessible('diagnostics');
        $tap = $this->button('Tap on each of the flashes');
        $tap->click();
        foreach ([400_000, 400_000, 2_400_000] as $pause) {
            usleep($pause);
            $tap->sendKeys(' ');
        }
        $this->waitForText('[data-testid="taps"]', '4');
        $this->waitForText('[data-testid="tap-along"] svg', 'missed?');
        $this->clickButton('take one back');
        $this->clickButton('Record this run');
        $this->waitForText('[data-testid="runs"]', 'One run');
        $this->waitForText('[data-testid="leading"]', 'U11');
        $this->waitForText('[data-testid="next-step"]', 'read them back');
        $this->benchLine('count 3');
        $this->waitForText('[data-testid="runs"]', '2 of 2 alike');
        $this->benchLine('count 5');
        $this->waitForText('[data-testid="runs"]', 'Unstable: 2 different results in 3 runs');
        foreach (['1000 00>08', '1001 ff>ff', '2000 00>08'] as $note) {
            $this->benchLine($note);
            $this->waitForText('[data-testid="bench-line-words"]', 'Kept');
        }
        $this->waitForText('[data-testid="notice"]', 'is one off from');
        $this->waitForText('main svg', 'long memory test');
        $this->assertAccessible('diagnostics compared');
        $this->assertQuietConsole();
    }

    public function test_by_notes_alone_and_a_withdrawal_that_turns_the_verdict_and_back(): void
    {
        $this->startJob('Ferry log', 'larkspur-64');
        // With its line whole and another chip in, it is the buffer.
        foreach (['6c00 00>20', '6c01 0f>2f', '7000 00>20', 'closed u14.14 u4.13', 'replace u14 same'] as $note) {
            $this->benchLine($note);
            $this->waitForText('[data-testid="bench-line-words"]', 'Kept');
        }
        $this->waitForText('[data-testid="leading"]', 'data buffer');
        $this->benchLine('reseat u14 sideways');
        $this->waitForText('[data-testid="bench-line-words"]', 'Say same, better, cured, worse or different');
        $this->clickButton('Log');
        $this->clickButton('Withdraw');
        $this->waitForText('[data-testid="leading"]', 'bit 5 of bank 0');
        $this->clickButton('Restore');
        $this->waitForText('[data-testid="leading"]', 'data buffer');
    }

    public function test_two_faults_are_repaired_by_notes_and_keys_alone(): void
    {
        $this->startJob('Ferry clock', 'tamarisk-two');
        $notes = [
            'count 11 x2', '8000 00>04', '8001 ff>ff', '8100 00>04', 'swap u33 u34 moved', 'refit u33', 'exchange u33 different', 'count 2 x2',
            '4000 00>02', '4001 ff>ff', '4100 00>02', 'exchange u22 cured', 'count pass x3',
        ];
        foreach ($notes as $note) {
            $this->benchLine($note);
            $this->waitForText('[data-testid="bench-line-words"]', 'Kept');
        }
        $this->waitForText('[data-testid="next-step"]', 'Prove it');
        $this->waitForText('[data-testid="verdicts"]', 'U33 was the fault');
        $this->waitForText('[data-testid="verdicts"]', 'U22 was the fault');
        $this->press(WebDriverKeys::ESCAPE, 'l');
        $this->waitForText('main', 'newest first');
        $this->press('z');
        $this->press('z');
        $this->waitForText('[data-testid="leading"]', 'U22');
        $this->press('Z');
        $this->press('Z');
        $this->waitForText('[data-testid="next-step"]', 'Prove it');
        $this->press('c');
        $this->waitForText('[role="dialog"]', 'The machine as it stands');
        $this->assertAccessible('the machine as it stands');
        $this->assertQuietConsole();
    }

    public function test_the_workshop_decides_what_is_proposed_and_a_job_can_have_it_otherwise(): void
    {
        $this->startJob('Harbour sign', 'larkspur-64');
        $this->benchLine('count 6 x2');
        $this->waitForText('[data-testid="leading"]', 'U14');
        $job = (string) parse_url($this->browser->getCurrentURL(), PHP_URL_PATH);
        $this->open('/workshop');
        $this->waitForText('main', 'Equipment at hand');
        $this->assertAccessible('workshop');
        $this->clickButton('diagnostic ROM or disk');
        $this->find('//button[@aria-pressed="false"][contains(., "diagnostic ROM")]');
        $this->open($job);
        // Without the diagnostic the memory is read.
        $this->waitForText('[data-testid="next-step"]', 'read it back');
        $this->click('//*[@data-testid="context"]');
        $this->click('//*[@role="tab"][contains(., "Bench")]');
        $this->waitForText('[role="dialog"]', 'As in the workshop');
        $this->click('//*[@role="dialog"]//button[contains(., "diagnostic ROM")]');
        $this->waitForText('[role="dialog"]', 'otherwise than in the workshop');
        $this->assertQuietConsole();
    }
}
