<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Reasoning\BoardFaults;
use ZapTrace\Reasoning\SiteKind;
use ZapTrace\Reasoning\SuspectedFault;

final class BoardFaultsTest extends TestCase
{
    /**
     * @return iterable<string, array{string}>
     */
    public static function boards(): iterable
    {
        yield 'one bank' => ['larkspur-64'];
        yield 'two banks and a link' => ['tamarisk-two'];
        yield 'lanes and a riser' => ['halyard-16'];
    }

    #[DataProvider('boards')]
    public function test_every_memory_chip_and_every_chip_that_serves_it_can_be_at_fault(string $slug): void
    {
        $board = Boards::shipped($slug);
        $faults = BoardFaults::of($board, Boards::modes())->all();
        $sites = array_unique(array_map(static fn (SuspectedFault $fault): string => $fault->site, $faults));

        foreach ($board->banks as $bank) {
            foreach ($bank->chips() as $chip) {
                self::assertContains($chip, $sites);
            }
            foreach ($bank->servers as $server) {
                self::assertContains($server->chip, $sites, "{$server->role} of bank {$bank->name}");
            }
        }
        self::assertContains(BoardFaults::ELSEWHERE, $sites);
        self::assertSame(count($faults), count(array_unique(array_map(static fn (SuspectedFault $fault): string => $fault->id, $faults))), 'Each fault has an identity of its own.');
    }

    public function test_a_service_that_the_profile_does_not_name_is_a_site_all_the_same(): void
    {
        $sites = array_map(static fn (SuspectedFault $fault): string => $fault->site, BoardFaults::of(Boards::build(Boards::plain()), Boards::modes())->all());

        foreach (['select', 'strobe', 'multiplexer', 'buffer', 'refresh', 'supply'] as $role) {
            self::assertContains("{$role} of bank 0", $sites);
        }
    }

    public function test_only_a_link_that_can_silence_a_bank_reads_like_a_dead_bank(): void
    {
        $links = static fn (string $slug, string $cause = 'link'): array => array_values(array_unique(array_map(
            static fn (SuspectedFault $fault): string => "{$fault->site} ".implode(',', $fault->banks ?? []),
            array_filter(BoardFaults::of(Boards::shipped($slug), Boards::modes())->all(), static fn (SuspectedFault $fault): bool => $fault->kind === SiteKind::Link && $fault->mode->cause === $cause),
        )));

        self::assertSame(['LK1 1'], $links('tamarisk-two'), 'At 16K bank 1 is silent; bank 0 answers in every position.');
        self::assertSame(['LK1 riser'], $links('halyard-16'));
        self::assertSame([], $links('larkspur-64'), 'Its links move or halve the one bank, and never silence it.');
        self::assertSame(['LK1 0', 'LK2 0'], $links('larkspur-64', 'link-part'), 'They take a part of it away.');
        self::assertSame([], $links('tamarisk-two', 'link-part'));
    }

    public function test_a_strobe_of_one_lane_does_not_explain_the_other(): void
    {
        $faults = array_filter(BoardFaults::of(Boards::shipped('halyard-16'), Boards::modes())->all(), static fn (SuspectedFault $fault): bool => $fault->site === 'U60' && $fault->mode->name === 'dead');
        $strobe = array_values($faults)[0];

        self::assertGreaterThan(0.5, $strobe->showsIn('high', ['main'], [9], []));
        self::assertSame(0.0, $strobe->showsIn('high', ['main'], [3], []));
        self::assertSame(0.0, $strobe->showsIn('high', ['riser'], [9], []));
    }

    public function test_without_its_clock_no_bank_is_read(): void
    {
        $faults = array_column(array_map(static fn (SuspectedFault $fault): array => ['id' => $fault->id, 'fault' => $fault], BoardFaults::of(Boards::shipped('halyard-16'), Boards::modes())->all()), 'fault', 'id');

        // U58 divides the clock of the processor, and gives none of the strobes of the bank.
        self::assertSame(['main', 'riser'], $faults['U58/dead']->banks);
        self::assertGreaterThan(0.1, $faults['U58/dead']->showsIn('high', ['main'], [3], []));
    }
}
