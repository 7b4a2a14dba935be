<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\Remote\LocalFileDetector;
use Facebook\WebDriver\WebDriverKeys;

/**
 * The first piece of the job, as a technician does it: from the machine's name to the chip on the board.
 */
final class MemoryRoundTest extends BrowserTestCase
{
    public function test_from_a_new_job_to_the_bad_chip_and_back_by_mouse(): void
    {
        $this->startJob('Tide gauge', 'larkspur-64');
        $this->waitForText('aside', 'No suspect yet');
        $this->assertAccessible('an empty job');

        $this->find('//textarea')->sendKeys("6C00 00 20\n6C01 0x\nE000 00 20");
        $this->clickButton('Record these lines');
        $this->waitForText('[data-testid="problems"]', 'line 2');
        $this->waitForText('[data-testid="problems"]', 'line 3');
        $this->waitForText('[data-testid="counts"]', '0 readings');
        $this->assertAccessible('a refused paste');

        $lines = $this->find('//textarea');
        $lines->clear();
        $lines->sendKeys("6C00 00 20\n6C01 0F 2F\n6E40 CC EC\n7100 33 33");
        $this->clickButton('Record these lines');
        $this->waitForText('[data-testid="leading"]', 'U14');
        $this->waitForText('[data-testid="counts"]', '4 readings, 3 failed');
        $this->waitForText('[data-testid="chip-counts"]', 'bit 5, every address: 3 failed of 3 able to show it, 4 in all');
        $this->waitForText('[data-testid="findings"]', 'Bit 5 of bank 0 reads 1 in all 3 readings');
        self::assertSame('true', $this->find('[data-bit="5"]')->getAttribute('data-failing'));
        self::assertSame('false', $this->find('[data-bit="4"]')->getAttribute('data-failing'));
        $this->assertAccessible('the memory stage with findings');

        $this->clickButton('Log');
        $this->waitForText('[data-testid="log"]', '4 readings');
        $this->assertAccessible('the log');
        $this->clickButton('Withdraw');
        $this->waitForText('aside', 'No suspect yet');
        $this->clickButton('Restore');
        $this->waitForText('[data-testid="leading"]', 'U14');
        $this->assertQuietConsole();
    }

    public function test_a_whole_job_by_keyboard_alone(): void
    {
        $this->open('/');
        $this->find('//h1[contains(., "bench")]');
        for ($i = 0; $i < 12; $i++) {
            $this->press(WebDriverKeys::TAB);
            if ($this->browser->switchTo()->activeElement()->getText() === 'New job') {
                break;
            }
        }
        $this->press(WebDriverKeys::ENTER);
        $this->field('Machine');
        usleep(300_000);
        $this->press('Ferry log', WebDriverKeys::ENTER);
        $this->waitForText('h1', 'Ferry log');
        $this->find('[data-testid="counts"]');

        $this->find('body')->sendKeys('/');
        $this->press('1000 0000>0100');
        $this->waitForText('[data-testid="bench-line-words"]', 'memory: wrote 0000, read 0100 at 001000: bit 8 high, U48');
        $this->press(WebDriverKeys::ENTER);
        $this->waitForText('[data-testid="leading"]', 'U48');
        $this->press('1002 zz>0100');
        $this->waitForText('[data-testid="bench-line-words"]', '"zz" is not a hexadecimal number');
        $this->press(WebDriverKeys::ENTER);
        $this->press(...array_fill(0, 14, WebDriverKeys::BACKSPACE));
        $this->press(WebDriverKeys::ARROW_UP);
        self::assertSame('1000 0000>0100', $this->find('#bench-line')->getAttribute('value'));
        $this->press(WebDriverKeys::ARROW_DOWN, 'lk1 o');
        $this->press(WebDriverKeys::TAB);
        self::assertSame('lk1 off', $this->find('#bench-line')->getAttribute('value'));
        $this->press(WebDriverKeys::ENTER);
        $this->waitForText('[data-testid="context"]', 'LK1 at off');

        $this->press(WebDriverKeys::ESCAPE);
        $this->find('body')->sendKeys('z');
        $this->waitForText('[data-testid="context"]', 'As it came: LK1 at 080000');
        $this->find('body')->sendKeys('z');
        $this->waitForText('aside', 'No suspect yet');
        $this->find('body')->sendKeys('Z');
        $this->waitForText('[data-testid="leading"]', 'U48');
        $this->find('body')->sendKeys('?');
        $this->waitForText('[role="dialog"]', 'take back the last observation');
        $this->waitForText('[role="dialog"]', 'wrote 00, read 20 at 6C00');
        $this->assertAccessible('the sheet of keys');
        $this->press(WebDriverKeys::ESCAPE);
        usleep(300_000);
        $this->find('body')->sendKeys('l');
        $this->waitForText('[data-testid="log"]', '001000: wrote 0000, read 0100');
    }

    public function test_a_link_changes_the_bank_and_the_answer_follows(): void
    {
        $this->startJob('Mail order desk', 'tamarisk-two');
        $this->benchLine('4000 00>20');
        $this->waitForText('[data-testid="leading"]', 'U26');

        $this->click('[data-testid="context"]');
        $this->waitForText('[role="dialog"]', 'Bank 1 at 4000, bank 0 at 8000');
        $this->assertAccessible('links and latches');
        $this->click("//label[contains(., 'all along')]");
        $this->clickButton('swapped');
        $this->waitForText('[data-testid="context"]', 'LK1 at swapped');
        $this->clickButton('Close');
        $this->waitForText('[data-testid="leading"]', 'U36');
    }

    public function test_a_dump_from_a_file_and_what_the_screen_shows(): void
    {
        $this->startJob('Signal box', 'larkspur-64');
        $this->clickButton('From a file');
        $this->field('File')->setFileDetector(new LocalFileDetector)->sendKeys(self::file('dump.bin', str_repeat("\x08", 512)));
        $this->field('Starts at')->sendKeys('zz');
        $this->clickButton('Record this file');
        $this->waitForText('[data-testid="problems"]', 'Start address');
        $this->field('Starts at')->clear();
        $this->field('Starts at')->sendKeys('2000');
        $this->clickButton('Record this file');
        $this->waitForText('[data-testid="leading"]', 'U12');
        $this->waitForText('[data-testid="counts"]', '512 readings, 512 failed');
        $this->assertAccessible('the file form');

        $this->clickButton('From the screen');
        $this->field('Character seen')->sendKeys('$');
        $this->clickButton('Record what the screen shows');
        $this->waitForText('[data-testid="suspects"]', 'U11');
        $this->clickButton('Free-memory figure');
        $this->field('Figure at each power-on')->sendKeys('30718 30718');
        $this->clickButton('Record figures');
        $this->waitForText('figcaption', 'first failing by the free-memory figure, 8000');
        $this->assertAccessible('free memory');
    }

    public function test_everything_is_there_after_the_server_was_killed(): void
    {
        $this->startJob('Ice plant', 'larkspur-64');
        $this->benchLine('6c00 00>20');
        $this->waitForText('[data-testid="leading"]', 'U14');
        self::killServer();
        $this->benchLine('6c01 00>20');
        $this->waitForText('[data-testid="bench-line-words"]', 'does not answer');
        self::assertSame('6c01 00>20', $this->find('#bench-line')->getAttribute('value'), 'What was typed is not lost.');

        self::startServer();
        $this->find('#bench-line')->sendKeys(WebDriverKeys::ENTER);
        $this->waitForText('[data-testid="counts"]', '2 readings');
        $this->browser->navigate()->refresh();
        $this->waitForText('[data-testid="leading"]', 'U14');
        $this->waitForText('[data-testid="counts"]', '2 readings, 2 failed');
    }
}
