<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\TestCase;
use ZapTrace\Reasoning\DiagnosisSearch;
use ZapTrace\Reasoning\Fault;
use ZapTrace\Reasoning\Finding;
use ZapTrace\Reasoning\Network;
use ZapTrace\Reasoning\Report;
use ZapTrace\Reasoning\TesterOutcome;

/**
 * The search with faults out of play, reports with a likelihood of their own, and faults that are added once; held
 * against exhaustive enumeration.
 */
final class LiveFaultsTest extends TestCase
{
    use TestTrait;

    public function test_reports_with_a_likelihood_of_their_own_agree_with_brute_force(): void
    {
        $this->limitTo(80)->forAll(Generators::choose(1, 10_000_000), Generators::choose(2, 9))->disableShrinking()
            ->then(function (int $seed, int $count): void {
                [$faults, $findings] = $this->random($seed, $count);
                $network = new Network($faults, $findings);
                $this->assertAgrees($this->everySet($network), (new DiagnosisSearch)->search($network)->sites, 0.002);
            });
    }

    public function test_what_repairs_removed_is_conditioned_on_and_not_counted(): void
    {
        // Five faults, each proved by a finding of its own; two of them are out of play.
        $faults = [];
        $findings = [];
        foreach (range(1, 5) as $i) {
            $faults[] = new Fault("f{$i}", "U{$i}", 0.01, live: $i > 2);
            $findings[] = new Finding("i{$i}", true, 1e-6, 0.01, ["f{$i}" => 0.99]);
        }
        $sites = (new DiagnosisSearch)->search(new Network($faults, $findings, 3))->sites;

        foreach (range(1, 5) as $i) {
            self::assertGreaterThan(0.99, $sites["U{$i}"], 'Three live ones, and two beside them.');
        }
    }

    public function test_a_hidden_fault_keeps_its_prior(): void
    {
        $faults = [new Fault('seen', 'U1', 0.01), new Fault('hidden', 'U2', 0.07, grows: false)];
        $network = new Network($faults, [new Finding('i', true, 1e-4, 0.02, ['seen' => 0.95])], addOthers: true);
        $sites = (new DiagnosisSearch)->search($network)->sites;

        self::assertEqualsWithDelta(0.07, $sites['U2'], 0.002);
        self::assertSame(0.0, (new DiagnosisSearch)->search(new Network($faults, $network->findings))->sites['U2'], 'A bare network leaves out what explains nothing.');
    }

    public function test_faults_added_once_agree_with_brute_force(): void
    {
        $this->limitTo(40)->forAll(Generators::choose(1, 10_000_000))->disableShrinking()
            ->then(function (int $seed): void {
                [$faults, $findings] = $this->random($seed, 8, 0.02);
                $explaining = [];
                foreach ($findings as $finding) {
                    $explaining += array_flip($finding->explainedBy());
                }
                $faults = array_map(static fn (Fault $fault): Fault => new Fault($fault->id, $fault->site, $fault->prior, grows: isset($explaining[$fault->id])), $faults);
                $this->assertAgrees($this->everySet(new Network($faults, $findings), true), (new DiagnosisSearch)->search(new Network($faults, $findings, addOthers: true))->sites, 0.01);
            });
    }

    public function test_faults_that_no_finding_tells_apart_share_by_their_priors(): void
    {
        $faults = [new Fault('stuck', 'U1', 0.03), new Fault('dead', 'U1', 0.01), new Fault('other', 'U2', 0.01)];
        $findings = [new Finding('i', true, 1e-4, 0.02, ['stuck' => 0.9, 'dead' => 0.9, 'other' => 0.9])];
        $posterior = (new DiagnosisSearch)->search(new Network($faults, $findings, collapse: true));

        self::assertEqualsWithDelta(3.0, $posterior->faults['stuck'] / $posterior->faults['dead'], 0.1);
        self::assertEqualsWithDelta($posterior->sites['U1'], $posterior->faults['stuck'] + $posterior->faults['dead'], 1e-9);
    }

    public function test_of_a_site_only_one_fault_is_there_when_they_are_collapsed(): void
    {
        $faults = [new Fault('a', 'U1', 0.2), new Fault('b', 'U1', 0.2)];
        $findings = [new Finding('i', true, 0.01, 0.01, ['a' => 0.5, 'b' => 0.6])];
        foreach ((new DiagnosisSearch)->search(new Network($faults, $findings, collapse: true))->diagnoses as $diagnosis) {
            self::assertLessThanOrEqual(1, count($diagnosis->faults));
        }
    }

    public function test_a_blind_tester_passes_every_part_alike(): void
    {
        $outcome = new TesterOutcome(false, ['bad' => 0.95], 'blind', 0.01, 0.15);

        self::assertEqualsWithDelta(0.99, $outcome->chance([]), 1e-9);
        self::assertLessThan(0.25, $outcome->chance(['bad']));
        self::assertEqualsWithDelta($outcome->chance(['blind']), $outcome->chance(['blind', 'bad']), 1e-9, 'It cannot tell.');
    }

    /**
     * @return array{list<Fault>, list<Report>}
     */
    private function random(int $seed, int $count, float $most = 0.2): array
    {
        mt_srand($seed);
        $unit = static fn (): float => mt_rand(1, 999) / 1000;
        $faults = [];
        for ($i = 0; $i < $count; $i++) {
            $faults[] = new Fault("f{$i}", "U{$i}", 0.001 + $most * $unit() ** 3);
        }
        $findings = [];
        foreach (range(0, 5) as $number) {
            $explains = [];
            foreach ($faults as $fault) {
                if (mt_rand(0, 2) === 0) {
                    $explains[$fault->id] = $unit();
                }
            }
            $findings[] = $number < 4
                ? new Finding("i{$number}", mt_rand(0, 1) === 1, 0.001 + 0.1 * $unit(), 0.001 + 0.3 * $unit(), $explains)
                : new TesterOutcome(mt_rand(0, 1) === 1, $explains, 'f0', 0.02, 0.2);
        }

        return [$faults, $findings];
    }

    /**
     * @param  array<string, float>  $expected
     * @param  array<string, float>  $found
     */
    private function assertAgrees(array $expected, array $found, float $delta): void
    {
        ksort($expected);
        ksort($found);
        self::assertEqualsWithDelta($expected, $found, $delta);
    }

    /**
     * @param  bool  $all  faults that explain nothing as well
     * @return array<string, float> site => share, over every set of at most four
     */
    private function everySet(Network $network, bool $all = false): array
    {
        $explaining = [];
        foreach ($network->findings as $finding) {
            $explaining += array_flip($finding->explainedBy());
        }
        $candidates = array_values(array_filter($network->faults, static fn (Fault $fault): bool => $all || isset($explaining[$fault->id])));
        $sites = array_fill_keys(array_map(static fn (Fault $fault): string => $fault->site, $network->faults), 0.0);
        $total = 0.0;
        for ($mask = 0; $mask < 1 << count($candidates); $mask++) {
            $set = array_values(array_filter($candidates, static fn (int $place): bool => ($mask >> $place & 1) === 1, ARRAY_FILTER_USE_KEY));
            if (count($set) > 4) {
                continue;
            }
            $weight = 1.0;
            foreach ($set as $fault) {
                $weight *= $fault->prior / (1.0 - $fault->prior);
            }
            foreach ($network->findings as $finding) {
                $weight *= $finding->chance(array_map(static fn (Fault $fault): string => $fault->id, $set));
            }
            $total += $weight;
            foreach ($set as $fault) {
                $sites[$fault->site] += $weight;
            }
        }

        return array_map(static fn (float $weight): float => $weight / $total, $sites);
    }
}
