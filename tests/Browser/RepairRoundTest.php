<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * From the first reading to cured: what to do next, doing it, and what follows.
 */
final class RepairRoundTest extends BrowserTestCase
{
    public function test_a_machine_with_two_bad_chips_is_cured_by_mouse(): void
    {
        $this->startJob('Tide gauge', 'larkspur-64');
        $this->find('//textarea')->sendKeys("6C00 00 20\n6C01 0F 2F\n7000 00 20\n7001 FF FF");
        $this->button('Record these lines')->click();
        $this->waitForText('[data-testid="next-step"]', 'Replace U14 with a good 4164');
        $this->waitForText('[data-testid="next-step"]', 'Solder fume and lead');
        $this->waitForText('[data-testid="reasons"]', 'bit 5 of bank 0 reads 1 in all 3 readings');
        $this->assertAccessible('the verdict with its next step');
        $this->find('//*[@data-testid="next-step"]//button[contains(., "not now")]')->click();
        $this->waitForText('[data-testid="next-step"]', 'number 2');
        $this->find('//*[@data-testid="next-step"]//button[contains(., "back") or contains(., "not now")]');

        $this->find('//nav//a[contains(., "Confirm")]')->click();
        $this->waitForText('main', 'Confirm and repair');
        $this->assertAccessible('confirm and repair');
        $this->field('Which part')->clear();
        $this->field('Which part')->sendKeys('U99');
        $this->find('//main//button[contains(., "Cured")]')->click();
        $this->waitForText('[data-testid="problems"]', 'has no chip "U99"');
        $this->field('Which part')->clear();
        $this->field('Which part')->sendKeys('u14');
        $this->find('//main//button[contains(., "Different")]')->click();
        $this->waitForText('[data-testid="interventions"]', 'U14 exchanged for a known good one: different');
        $this->waitForText('[data-testid="context"]', 'U14 exchanged');

        $this->benchLine('6c00 00>01');
        $this->benchLine('7000 00>01');
        $this->benchLine('7100 00>01');
        $this->waitForText('[data-testid="leading"]', 'U9');
        $this->waitForText('[data-testid="cured"]', 'U14, now out of play, was faulty');
        $this->benchLine('exchange u9 cured');
        $this->waitForText('[data-testid="next-step"]', 'Prove it');
        $this->assertAccessible('a cured machine');
        $this->assertQuietConsole();
    }

    public function test_a_diagnostic_is_counted_by_tapping_along_and_compared(): void
    {
        $this->startJob('Signal box', 'larkspur-64');
        $this->find('//nav//a[contains(., "Diagnostics")]')->click();
        $this->waitForText('main', 'No run yet');
        $this->assertAccessible('diagnostics');
        $tap = $this->button('Tap on each of the flashes');
        $tap->click();
        foreach ([250_000, 250_000, 800_000] as $pause) {
            usleep($pause);
            $tap->sendKeys(' ');
        }
        $this->waitForText('[data-testid="taps"]', '4');
        $this->waitForText('[data-testid="tap-along"] svg', 'missed?');
        $this->button('take one back')->click();
        $this->button('Record this run')->click();
        $this->waitForText('[data-testid="runs"]', 'One run');
        $this->waitForText('[data-testid="leading"]', 'U11');
        $this->waitForText('[data-testid="next-step"]', 'run the diagnostic again');
        $this->benchLine('count 3');
        $this->waitForText('[data-testid="runs"]', '2 of 2 alike');
        $this->benchLine('count 5');
        $this->waitForText('[data-testid="runs"]', 'Unstable: 2 different results in 3 runs');
        foreach (['1000 00>08', '1001 ff>ff', '2000 00>08'] as $note) {
            $this->benchLine($note);
            $this->waitForText('[data-testid="bench-line-words"]', 'Kept');
        }
        $this->waitForText('[data-testid="notice"]', 'is one off from');
        $this->waitForText('figcaption', 'tested by it');
        $this->assertAccessible('diagnostics compared');
        $this->assertQuietConsole();
    }

    public function test_by_notes_alone_and_a_withdrawal_that_turns_the_verdict_and_back(): void
    {
        $this->startJob('Ferry log', 'larkspur-64');
        foreach (['6c00 00>20', '6c01 0f>2f', '7000 00>20', 'replace u14 same'] as $note) {
            $this->benchLine($note);
            $this->waitForText('[data-testid="bench-line-words"]', 'Kept');
        }
        $this->waitForText('[data-testid="leading"]', 'D5');
        $this->benchLine('reseat u14 sideways');
        $this->waitForText('[data-testid="bench-line-words"]', 'Say same, better, cured, worse or different');
        $this->button('Log')->click();
        $this->button('Withdraw')->click();
        $this->waitForText('[data-testid="leading"]', 'U14');
        $this->button('Restore')->click();
        $this->waitForText('[data-testid="leading"]', 'D5');
    }
}
