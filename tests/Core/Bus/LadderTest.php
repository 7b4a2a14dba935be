<?php

declare(strict_types=1);

namespace Tests\Core\Bus;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use Tests\Support\Captures;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\Machine;
use ZapTrace\Bus\Cycle;
use ZapTrace\Bus\CycleKind;
use ZapTrace\Bus\CycleList;
use ZapTrace\Bus\Divergence;
use ZapTrace\Bus\Ladder;
use ZapTrace\Bus\LadderBuilder;
use ZapTrace\Bus\MemoryPlan;
use ZapTrace\Rom\RomImage;

final class LadderTest extends TestCase
{
    use TestTrait;

    public function test_a_run_beside_itself_does_not_part(): void
    {
        foreach ([self::beside(Captures::run(), Captures::run()), self::besideRom(Captures::run())] as $ladder) {
            self::assertNull($ladder->divergence);
            self::assertSame(Captures::run()->count(), $ladder->distance);
        }
    }

    public function test_a_wrong_data_bit_at_cycle_n_is_found_at_n(): void
    {
        $run = Captures::run();
        $this->limitTo(60)->forAll(Generators::choose(2, $run->count() - 1), Generators::choose(0, 7))->disableShrinking()->then(static function (int $at, int $bit) use ($run): void {
            $cycle = $run->at($at);
            if (! $cycle->kind->isRead() || Captures::plan()->romByte($cycle->address) === null) {
                return;
            }
            $sick = Captures::changed($run, static fn (int $number, Cycle $is): Cycle => $number === $at ? new Cycle($is->time, $is->kind, $is->address, $is->data ^ 1 << $bit) : $is);
            foreach ([self::beside($sick, $run), self::besideRom($sick)] as $ladder) {
                self::assertSame($at, $ladder->divergence?->cycle);
                self::assertSame($at, $ladder->distance);
                self::assertSame(Divergence::DATA_BITS, $ladder->divergence->kind);
                self::assertSame([$bit], $ladder->divergence->bits);
            }
        });
    }

    public function test_a_wrong_address_line_at_cycle_n_is_found_at_n(): void
    {
        $run = Captures::run();
        $this->limitTo(40)->forAll(Generators::choose(20, $run->count() - 20), Generators::choose(0, 15))->disableShrinking()->then(static function (int $at, int $bit) use ($run): void {
            $sick = Captures::changed($run, static fn (int $number, Cycle $is): Cycle => $number >= $at ? new Cycle($is->time, $is->kind, $is->address ^ 1 << $bit, $is->data) : $is);
            foreach ([self::beside($sick, $run), self::besideRom($sick)] as $ladder) {
                self::assertSame($at, $ladder->divergence?->cycle);
                self::assertSame([Divergence::ADDRESS_BITS, [$bit]], [$ladder->divergence->kind, $ladder->divergence->bits]);
            }
        });
    }

    public function test_waiting_in_a_loop_for_longer_is_no_difference(): void
    {
        $good = self::waits(3);
        foreach ([1, 2, 9, 40] as $rounds) {
            $ladder = self::beside(self::waits($rounds), $good);
            self::assertNull($ladder->divergence, "{$rounds} rounds");
        }
        $forever = self::waits(80, leaves: false);
        $ladder = self::beside($forever, $good);
        self::assertSame(Divergence::REPEATS, $ladder->divergence?->kind);
        self::assertStringContainsString('waits for something', $ladder->divergence->words);
    }

    public function test_memory_that_nothing_was_written_to_and_ports_may_read_anything(): void
    {
        $good = self::list([[0xFFFC, 0x00], [0xFFFD, 0xF0], [0x0300, 0x11], [0xD001, 0x22], [0x0301, 0x33, CycleKind::Write], [0x0301, 0x33]]);
        $sick = self::list([[0xFFFC, 0x00], [0xFFFD, 0xF0], [0x0300, 0x99], [0xD001, 0x88], [0x0301, 0x33, CycleKind::Write], [0x0301, 0x13]]);
        $ladder = self::beside($sick, $good);

        self::assertSame([5, Divergence::DATA_BITS, [5]], [$ladder->distance, $ladder->divergence?->kind, $ladder->divergence?->bits]);
    }

    public function test_all_ones_at_a_rom_is_nothing_selected(): void
    {
        $sick = Captures::changed(Captures::run(), static fn (int $number, Cycle $is): Cycle => $number > 40 && $is->address >= 0xE000 ? new Cycle($is->time, $is->kind, $is->address, 0xFF) : $is);
        $found = self::besideRom($sick)->divergence;

        self::assertSame(Divergence::NOTHING_SELECTED, $found?->kind);
        self::assertStringContainsString('nothing is selected', $found->words);
    }

    public function test_a_rom_whose_address_line_does_not_get_through(): void
    {
        $plan = Captures::plan();
        $sick = Captures::changed(Captures::run(), static fn (int $number, Cycle $is): Cycle => $plan->romByte($is->address) !== null && $is->kind->isRead() ? new Cycle($is->time, $is->kind, $is->address, (int) $plan->romByte($is->address ^ 0x0100)) : $is);
        $found = self::besideRom($sick)->divergence;

        self::assertSame([Divergence::ADDRESS_BITS, [8]], [$found?->kind, $found?->bits]);
    }

    public function test_a_good_recording_alone_tells_which_address_line_does_not_reach_the_rom(): void
    {
        $builder = new LadderBuilder(Captures::bus('Z80'), new MemoryPlan([['from' => 0, 'to' => 0x1FFF, 'kind' => 'rom', 'chip' => 'U2', 'image' => null]]));
        $byte = static fn (int $address): int => ord(hash('sha256', "rom {$address}", true));
        $list = static function (callable $reads): CycleList {
            $list = new CycleList(0xFFFF, 0xFF);
            foreach (range(0, 47) as $address) {
                $list->add($address, CycleKind::Fetch, $address, $reads($address));
            }

            return $list;
        };
        foreach ([0, 2, 4] as $line) {
            $found = $builder->against($list(static fn (int $address): int => $byte($address & ~(1 << $line))), $list($byte))->divergence;
            self::assertSame([Divergence::ADDRESS_BITS, [$line], true, 1 << $line], [$found?->kind, $found?->bits, $found?->behind, $found?->cycle]);
        }
        // One address that is read again and again proves nothing, nor what fits here and not there.
        $loop = $builder->against($list(static fn (int $address): int => $address === 9 ? $byte(8) : $byte($address)), $list($byte))->divergence;
        self::assertNotSame(Divergence::ADDRESS_BITS, $loop?->kind);
        $other = $builder->against($list(static fn (int $address): int => $address < 24 ? $byte($address & ~1) : $byte($address & ~1) ^ 0x5A), $list($byte))->divergence;
        self::assertNotSame(Divergence::ADDRESS_BITS, $other?->kind);
    }

    public function test_the_wrong_rom_answers(): void
    {
        $bytes = static fn (string $seed): string => implode('', array_map(static fn (int $block): string => hash('sha256', "{$seed}{$block}", true), range(0, 63)));
        $ranges = [];
        foreach (['U1' => 0x0000, 'U2' => 0x0800] as $chip => $from) {
            $ranges[] = ['from' => $from, 'to' => $from + 0x7FF, 'kind' => 'rom', 'chip' => $chip, 'image' => RomImage::of($bytes($chip), $chip)];
        }
        $sick = new CycleList(0xFFFF, 0xFF);
        foreach (range(0, 30) as $address) {
            $sick->add($address, CycleKind::Fetch, $address, ord($bytes('U2')[$address]));
        }
        $found = (new LadderBuilder(Captures::bus('Z80'), new MemoryPlan($ranges)))->againstRom($sick)->divergence;

        self::assertSame([Divergence::WRONG_TARGET, 0], [$found?->kind, $found?->cycle]);
        self::assertStringContainsString('what U2 holds', $found->words);
    }

    public function test_a_machine_that_never_starts_stops_or_is_reset_again(): void
    {
        self::assertSame(Divergence::NEVER_STARTS, self::besideRom(new CycleList(0xFFFF, 0xFF))->divergence?->kind);
        self::assertSame(Divergence::NEVER_STARTS, self::besideRom(self::list(array_map(static fn (int $at): array => [0x1234 + $at, 0], range(0, 80))))->divergence?->kind);

        $run = Captures::run();
        $short = Captures::changed($run, static fn (int $number, Cycle $is): ?Cycle => $number < 50 ? $is : null);
        $short->end = 100_000;
        self::assertSame([Divergence::STOPS, 50], [self::besideRom($short)->divergence?->kind, self::besideRom($short)->distance]);

        $again = new CycleList(0xFFFF, 0xFF);
        foreach ([...range(0, 59), ...range(0, 59)] as $place => $number) {
            $again->add($place, $run->at($number)->kind, $run->at($number)->address, $run->at($number)->data);
        }
        self::assertSame([Divergence::REPEATS, 60], [self::beside($again, $run)->divergence?->kind, self::beside($again, $run)->distance]);
    }

    public function test_eight_of_sixteen_data_bits_and_the_low_address_lines_are_enough(): void
    {
        $run = Captures::run();
        $partly = new CycleList(0x00FF, 0x0F);
        for ($number = 0; $number < $run->count(); $number++) {
            $partly->add($run->at($number)->time, $run->at($number)->kind, $run->at($number)->address & 0xFF, ($run->at($number)->data ^ ($number === 90 ? 2 : 0)) & 0x0F);
        }
        $ladder = self::beside($partly, $run);

        self::assertSame([90, [1]], [$ladder->divergence?->cycle, $ladder->divergence?->bits]);
    }

    public function test_real_faults_of_the_simulated_machine_are_seen_on_its_bus(): void
    {
        $board = Boards::shipped('larkspur-64');
        $good = Captures::decode((new Machine($board, [], 3))->capture(500), Captures::bus('6502'));
        self::assertNull(self::besideRom($good)->divergence);
        $bit = Captures::decode((new Machine($board, [new InjectedFault(FaultKind::ReadsLow, 'U14')], 3))->capture(500), Captures::bus('6502'));
        foreach ([self::besideRom($bit), self::beside($bit, $good)] as $ladder) {
            self::assertSame([Divergence::DATA_BITS, [5]], [$ladder->divergence?->kind, $ladder->divergence?->bits]);
        }
        $dead = Captures::decode((new Machine($board, [new InjectedFault(FaultKind::Dead, 'U2')], 3))->capture(500), Captures::bus('6502'));
        self::assertSame(Divergence::NOTHING_SELECTED, self::besideRom($dead)->divergence?->kind);
        $clock = Captures::decode((new Machine($board, [new InjectedFault(FaultKind::Dead, 'U20')], 3))->capture(500), Captures::bus('6502'));
        self::assertSame(Divergence::NEVER_STARTS, self::besideRom($clock)->divergence?->kind);
    }

    private static function beside(CycleList $sick, CycleList $good): Ladder
    {
        return (new LadderBuilder(Captures::bus('6502'), Captures::plan()))->against($sick, $good);
    }

    private static function besideRom(CycleList $sick): Ladder
    {
        return (new LadderBuilder(Captures::bus('6502'), Captures::plan()))->againstRom($sick);
    }

    /** A start, a loop of four reads that waits for a port, and what comes after it. */
    private static function waits(int $rounds, bool $leaves = true): CycleList
    {
        $cycles = [[0xFFFC, 0x00], [0xFFFD, 0xF0]];
        for ($round = 0; $round < $rounds; $round++) {
            array_push($cycles, [0xF000, 0xAD], [0xF001, 0x0D], [0xF002, 0xD0], [0xD00D, $round]);
        }
        foreach ($leaves ? range(0, 20) : [] as $step) {
            $cycles[] = [0xF100 + $step, 0xEA];
        }

        return self::list($cycles);
    }

    /**
     * @param  list<array{0: int, 1: int, 2?: CycleKind}>  $cycles
     */
    private static function list(array $cycles): CycleList
    {
        $list = new CycleList(0xFFFF, 0xFF);
        foreach ($cycles as $time => $cycle) {
            $list->add($time, $cycle[2] ?? CycleKind::Read, $cycle[0], $cycle[1]);
        }

        return $list;
    }
}
