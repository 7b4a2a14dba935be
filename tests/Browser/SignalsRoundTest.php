<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;

/**
 * When memory is not the answer: pin by pin to the place where right becomes wrong.
 */
final class SignalsRoundTest extends BrowserTestCase
{
    private function choose(string $label, string $value): void
    {
        $this->browser->executeScript(
            'const select = document.getElementById(arguments[0]); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(select, arguments[1]); select.dispatchEvent(new Event("change", { bubbles: true }));',
            [$this->field($label)->getAttribute('id'), $value],
        );
    }

    public function test_an_open_trace_is_found_by_probe_path_strip_and_continuity(): void
    {
        $this->startJob('Kiln controller', 'larkspur-64');
        $this->stage('Signals');
        $this->waitForText('main', 'Touch a pin with the probe');
        $this->waitForText('//main//select', 'U14 4164');
        $this->choose('Chip', 'U14');
        $this->click('//button[normalize-space(.)="free run"]');
        $this->waitForText('[role="listbox"]', 'MA0');
        $this->assertAccessible('signals');
        // It begins at pin 2, as pin 1 is on no net. Down to pin 5, then one key for what the probe shows.
        $this->find('[role="listbox"]')->sendKeys(str_repeat(WebDriverKeys::ARROW_DOWN, 3));
        $this->waitForText('//section[@aria-label="Pin U14.5"]', 'MA0');
        $this->find('[role="listbox"]')->sendKeys('s');
        $this->waitForText('[role="listbox"]', '✗ silent');
        $this->waitForText('//section[@aria-label="Pin U14.6"]', 'U14.6');
        $this->click('//button[@id="pin-U14-5"]');
        $this->clickButton('Show the way of MA0');
        $this->waitForText('//section[@aria-label="The way of MA0"]', 'Probe next');
        $this->waitForText('//section[@aria-label="The way of MA0"]', 'loads of MA0');
        $this->assertAccessible('the path strip');
        $this->click('//section[@aria-label="The way of MA0"]//button[starts-with(@title, "U5.4 ")]');
        $this->waitForText('//section[@aria-label="Pin U5.4"]', 'should be pulsing');
        $this->click('//section[@aria-label="Pin U5.4"]//button[.="pulsing"]');
        $this->waitForText('//section[@aria-label="The way of MA0"]', '✓ pulsing');
        $this->note('u16.5 silent free', 'u9.5 pulsing free');
        $this->waitForText('[data-testid="leading"]', 'MA0');
        $this->waitForText('[data-testid="next-step"]', 'MA0');
        // MA0 leads now, and is no chip though it looks like one's name: a chip is shown all the same.
        $this->stage('Traces');
        $this->stage('Signals');
        $this->waitForText('[role="listbox"]', 'pulsing');

        $this->click('//button[.="Clock tree"]');
        $this->waitForText('//table[@aria-label="Clock tree"]', '16 MHz');
        $this->find('//input[@aria-label="Measured at U20.11"]')->sendKeys('500 khz'.WebDriverKeys::ENTER);
        $this->waitForText('//table[@aria-label="Clock tree"]', 'half of what it should be');
        $this->assertAccessible('the clock tree');
        $this->click('//button[.="Select check"]');
        $this->field('Address that should reach it')->sendKeys('E000');
        $this->find('//section[@aria-label="Select check"]//input')->sendKeys('U2');
        $this->clickButton('Work it out');
        $this->click('//button[@aria-label="U3.1 (A) is high"]');
        $this->click('//button[@aria-label="U3.7 (/Y7) is high"]');
        $this->waitForText('//section[@aria-label="Select check"]', 'U3: its inputs are right and its output is not');
        $this->assertAccessible('the select check');

        $this->stage('Traces');
        $this->waitForText('//main//select', 'MA0');
        $this->choose('Net', 'MA0');
        foreach ([['U16.5', 'Open'], ['U10.5', 'Connected'], ['U13.5', 'Open'], ['U9.5', 'Connected']] as [$pin, $answer]) {
            $this->waitForText('//section[@aria-label="Trace of MA0"]', "to {$pin}");
            $this->click("//section[@aria-label='Trace of MA0']//button[.='{$answer}']");
        }
        $this->waitForText('//section[@aria-label="Trace of MA0"]', 'Fit a wire from U9.5 to U13.5');
        $this->assertAccessible('traces');
        $this->note('wire ma0 cured');
        $this->waitForText('[data-testid="next-step"]', 'Prove it');
    }

    public function test_a_practice_run_is_worked_on_to_its_end(): void
    {
        self::startWorker();
        $this->open('/practice');
        $this->waitForText('h1', 'Practice');
        $this->assertAccessible('practice');
        $this->choose('Board', 'larkspur-64');
        $this->field('Number of the machine')->clear();
        $this->field('Number of the machine')->sendKeys('66');
        $this->clickButton('Get a dead machine');
        $this->waitForText('main', 'Practice bench');
        $this->clickButton('Do it');
        $this->waitForText('//main//*[@role="status"]', 'screen stays blank');
        $this->clickButton('Do it on the practice bench');
        $this->waitForText('main', '2 steps,');
        $this->choose('Instrument', 'walk');
        $this->field('Chip')->sendKeys('U1');
        $this->click('//main//button[.="Do it"]');
        $this->waitForText('//main//*[@role="status"]', 'All pins of U1 touched');
        $this->waitForText('//section[@aria-label="Seen before that"]', 'The screen stays blank');
        $this->choose('Instrument', 'replace');
        $this->field('Part, net or link')->sendKeys('U1');
        $this->click('//main//button[.="Do it"]');
        $this->waitForText('//main//*[@role="status"]', 'U1 exchanged for a known good one: cured');
        $this->assertAccessible('the practice bench');
        $this->browser->manage()->timeouts()->implicitlyWait(0);
        $this->clickButton('Finish and tell me what was wrong');
        $this->waitForText('main', 'Nothing is left: the machine is repaired');
        $this->waitForText('main', 'U1: dead');
        for ($wait = 0; $wait < 40 && ! str_contains($this->find('main')->getText(), 'the advice alone'); $wait++) {
            sleep(5);
        }
        $this->waitForText('//table[@aria-label="You and the advice"]', 'the advice alone');
        $this->assertAccessible('the end of a practice run');
    }

    public function test_a_board_is_drawn_and_probed(): void
    {
        $this->open('/boards');
        $this->field('A board of your own')->sendKeys('Willow desk');
        $this->clickButton('Draw it');
        $this->waitForText('h1', 'Draw Willow desk');
        $draw = function (string $line, string $text): void {
            $this->field('Draw by typing')->sendKeys($line.WebDriverKeys::ENTER);
            $this->waitForText('main', $text);
        };
        $draw('chip u1 74ls04 at 60,40', '1 chip, 0 nets');
        $draw('chip u2 74ls00 at 120,40 socket', '2 chips, 0 nets');
        $draw('u1.2 u2.1 = GO', '2 chips, 1 net');
        $draw('u9.1 = X', 'There is no u9 on this board yet');
        $this->field('Draw by typing')->clear();
        $this->waitForText('[aria-label="To be looked at"]', 'U1.14 (VCC) is a supply pin on no net');
        $this->click('//*[name()="g"][@data-chip="U1"]');
        $this->press(WebDriverKeys::ARROW_RIGHT);
        $this->waitForText('main', 'at 62,40 mm');
        $this->assertAccessible('the board editor');
        $this->clickButton('Undo');
        $this->waitForText('main', 'at 60,40 mm');
        $this->field('Take in a netlist')->sendKeys("+5: u1.14 u2.14\nGND: u1.7 u2.7\nSTOP,u2,3");
        $this->clickButton('Take in');
        $this->waitForText('main', '2 chips, 4 nets');

        $this->startJob('Letter scale', 'willow-desk');
        $this->note('u1.1 low', 'u1.2 low');
        $this->stage('Signals');
        $this->waitForText('main', 'Gate check');
        $this->waitForText('main', 'U1.2 (1Y) is low, which its inputs do not give');
    }
}
