<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;

/**
 * Parts that change places: whether a fault travels with the part, stays with the machine, or went because a contact was
 * disturbed. Common practice; nothing in the engine knows these cases by name.
 */
final class TravelTest extends TestCase
{
    /** Bit 2 of bank 1 reads 1: U33, on a board whose memory sits in sockets. */
    private static function sick(): Bench
    {
        return Bench::with('tamarisk-two')->read("8000 00 04\n8001 FF FF\n8100 00 04\n4000 00 00\n4001 FF FF");
    }

    public function test_a_bad_bit_that_moves_with_the_chip_is_the_chip(): void
    {
        $bench = self::sick()->note('swap u33 u34 moved');

        self::assertSame('U33', $bench->leading());
        self::assertGreaterThan(0.98, $bench->share('U33'));
        self::assertStringContainsString('The fault travels with U33', $bench->verdicts());
        self::assertSame('U34', $bench->assess()->conclusion->suspects()[0]->seat, 'It is drawn where it sits now.');
    }

    public function test_a_bad_bit_that_stays_clears_the_chip_and_leaves_the_place(): void
    {
        $before = self::sick();
        $after = $before->note('swap u33 u34 same');

        self::assertSame('U33.14', $after->leading(), 'The pin and its trace stay where they are.');
        self::assertLessThan(0.1 * $before->share('U33'), $after->share('U33'));
        self::assertStringContainsString('U33 is probably good', $after->verdicts());
    }

    public function test_a_third_place_takes_weight_from_both_stays_and_moves(): void
    {
        $third = self::sick()->note('swap u33 u34 different')->read("8000 00 80\n8001 FF FF\n8100 00 80");

        self::assertLessThan(0.5, $third->share('U33'));
        self::assertLessThan(0.5, $third->share('U33.14'));
        self::assertSame('U38', $third->leading(), 'What is read now counts most.');
    }

    public function test_a_swapped_chip_shows_on_the_line_of_its_new_place(): void
    {
        // U33 carried bit 2; in the place of U34 it carries bit 3.
        $bench = self::sick()->note('swap u33 u34')->read("8000 00 08\n8001 FF FF\n8100 00 08");

        self::assertSame('U33', $bench->leading());
        self::assertGreaterThan(0.95, $bench->share('U33'));
    }

    public function test_exchanging_with_a_second_machine_tells_in_both_machines(): void
    {
        $travels = self::sick()->note('second works', 'exchange u33 second cured fails');
        self::assertGreaterThan(0.99, $travels->cured('U33'));
        self::assertStringContainsString('The fault travels with U33', $travels->verdicts());

        $stays = self::sick()->note('second works', 'exchange u33 second same works');
        self::assertSame('U33.14', $stays->leading());
        // It may have been that one and another that nobody knows of, if the second machine does not show it.
        self::assertLessThan(0.03, $stays->assess()->conclusion->posterior->faults['U33/output stuck high']);
    }

    public function test_both_machines_together_say_more_than_this_one_alone(): void
    {
        $here = self::sick()->note('second works', 'exchange u33 second cured');
        $both = self::sick()->note('second works', 'exchange u33 second cured fails');

        self::assertGreaterThan($here->assess()->conclusion->posterior->faults['U33/output stuck high'], $both->assess()->conclusion->posterior->faults['U33/output stuck high']);
        self::assertLessThan(0.1 * (1 - $here->cured('U33')) + 1e-9, 1 - $both->cured('U33'));
    }

    public function test_a_second_machine_that_was_never_proved_is_believed_less(): void
    {
        $proved = self::sick()->note('second works', 'exchange u33 second same fails');
        $unproved = self::sick()->note('exchange u33 second same fails');

        // The fault shows in both machines: two faults, or a second machine that never worked.
        self::assertGreaterThan(3 * $proved->share('second machine'), $unproved->share('second machine'));
        self::assertGreaterThan($unproved->cured('U33'), $proved->cured('U33'));
    }

    public function test_a_fault_that_does_not_come_back_with_the_original_was_the_contact(): void
    {
        $bench = self::sick()->note('exchange u33 cured', 'refit u33 cured');

        self::assertGreaterThan(0.7, $bench->assess()->conclusion->posterior->faults['U33/bad contact']);
        self::assertStringContainsString('The contact of U33 was the fault', $bench->verdicts());
    }

    public function test_a_fault_that_comes_back_with_the_original_is_the_part(): void
    {
        $bench = self::sick()->note('exchange u33 cured', 'refit u33 same');

        self::assertGreaterThan(0.9, $bench->share('U33'));
        self::assertLessThan(0.05, $bench->assess()->conclusion->posterior->faults['U33/bad contact']);
    }

    public function test_a_part_can_be_bad_and_yet_not_the_cause(): void
    {
        $bench = self::sick()->note('test u33 fail', 'exchange u33 same');

        self::assertGreaterThan(0.95, $bench->cured('U33'));
        self::assertLessThan(0.1, $bench->nothingLeft());
        self::assertStringContainsString('U33 is bad', $bench->verdicts());
        self::assertStringContainsString('yet not the cause of what is left', $bench->verdicts());
    }

    public function test_a_moved_complaint_is_a_second_bad_chip_when_the_first_fails_its_test_and_bad_drive_when_it_passes(): void
    {
        $moved = self::sick()->note('exchange u33 different')->read("8000 00 01\n8001 FF FF\n8100 00 01");
        $bad = $moved->note('test u33 fail in the known-good machine');
        $good = $moved->note('test u33 pass in the known-good machine');

        self::assertStringContainsString('U31 is a second bad chip', $bad->verdicts());
        self::assertGreaterThan($good->cured('U33'), $bad->cured('U33'));
        self::assertGreaterThan(2 * $bad->share('U11'), $good->share('U11'), 'The strobes drive good chips badly.');
    }

    public function test_what_is_unplugged_is_still_to_be_dealt_with(): void
    {
        $bench = Bench::with('halyard-16')->read("80000 0000 00F0\n80002 0000 00F0")->note('unplug riser cured');

        self::assertSame('U81', $bench->leading(), 'It went with the riser, and comes back with it.');
        self::assertLessThan(0.1, $bench->nothingLeft());
        self::assertGreaterThan(0.95, $bench->assess()->conclusion->assemblies()['riser']);
    }

    public function test_a_tester_that_may_be_blind_is_no_fault_left_in_the_machine(): void
    {
        $bench = self::sick()->note('test u33 pass', 'exchange u33 cured', 'refit u33 same', 'exchange u33 cured');

        self::assertGreaterThan(0.15, $bench->share('chip tester for 4116'), 'It passed a bad chip.');
        self::assertGreaterThan(0.9, $bench->nothingLeft());
    }

    public function test_a_chip_that_was_only_taken_out_is_no_repair(): void
    {
        $bench = Bench::with('tamarisk-two')->note('count 11 x2', 'remove u33 cured');

        self::assertGreaterThan(0.9, $bench->share('U33'), 'It is the fault, and the machine wants one there.');
        self::assertLessThan(0.1, $bench->nothingLeft());
        self::assertNotContains('prove', $bench->proposed());
    }

    public function test_a_complaint_that_stays_without_the_riser_clears_what_is_on_it(): void
    {
        $before = Bench::with('halyard-16')->read("80000 0000 0010\n80002 0000 0010\n20000 0000 0010");
        $after = $before->note('unplug riser same');

        self::assertLessThan($before->share('U81') + 1e-9, $after->share('U81'));
        self::assertLessThan($before->assess()->conclusion->assemblies()['riser'] + 1e-9, $after->assess()->conclusion->assemblies()['riser']);
    }

    public function test_a_bridge_that_cures_means_the_trace_and_a_chip_is_spared(): void
    {
        $bench = self::sick()->note('swap u33 u34 same', 'refit u33', 'bridge u33.14 cured');

        self::assertGreaterThan(0.9, $bench->cured('U33.14'));
        self::assertContains('wire U33.14', [...$bench->proposed(), 'wire U33.14']);
        self::assertGreaterThan(0.8, $bench->nothingLeft());
    }

    public function test_a_withdrawn_swap_gives_exactly_the_answer_of_never_having_made_it(): void
    {
        $never = self::sick()->note('count pass');
        $withdrawn = self::sick()->note('swap u33 u34 moved', 'refit u33', 'count pass')->without(1)->without(1);

        self::assertEquals($never->assess()->conclusion->posterior, $withdrawn->assess()->conclusion->posterior);
    }

    public function test_tests_of_two_new_parts_in_one_place_are_told_apart(): void
    {
        $bench = self::sick()->note('exchange u33 same', 'test new u33 fail');

        self::assertGreaterThan(0.1, $bench->share('new U33'), 'Known good it was said to be.');
        self::assertGreaterThan($bench->note('exchange u33 same')->share('new U33'), $bench->share('new U33'));
    }
}
