<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Bank;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Server;
use ZapTrace\Memory\PatternFinding;

/**
 * Ranks by pattern alone: each finding divides its confidence among its causes by their weights, and several
 * findings on one site add as independent chances, 1 - (1 - a)(1 - b).
 */
final readonly class PatternRanking implements Ranking
{
    /** A buffer whose channel reads well from another bank is not the cause; what is left is for a marginal one. */
    private const GOOD_ELSEWHERE = 0.1;

    public function __construct(private PatternCauses $causes)
    {
    }

    public function rank(array $findings, BoardProfile $board): array
    {
        $left = [];
        $kinds = [];
        $because = [];
        foreach ($findings as $finding) {
            foreach ($this->shares($finding, $board) as $site => [$kind, $share]) {
                $left[$site] = ($left[$site] ?? 1.0) * (1.0 - $share);
                $kinds[$site] ??= $kind;
                $because[$site][] = [$share, $finding->sentence];
            }
        }
        $suspects = [];
        foreach ($left as $site => $rest) {
            $reasons = $because[$site];
            usort($reasons, static fn (array $a, array $b): int => $b[0] <=> $a[0]);
            $suspects[] = new Suspect($site, $kinds[$site], 1.0 - $rest, array_values(array_unique(array_column($reasons, 1))));
        }
        usort($suspects, static fn (Suspect $a, Suspect $b): int => round($b->share, 9) <=> round($a->share, 9) ?: strnatcmp($a->site, $b->site));

        return $suspects;
    }

    /**
     * @return array<string, array{SiteKind, float}>
     */
    private function shares(PatternFinding $finding, BoardProfile $board): array
    {
        $weights = [];
        foreach ($this->causes->of($finding) as $cause => $weight) {
            if ($cause === 'buffer' && $finding->lineGoodElsewhere) {
                $weight *= self::GOOD_ELSEWHERE;
            }
            $sites = $this->sites($cause, $finding, $board);
            foreach ($sites as $site => $kind) {
                $weights[$site] = [$weights[$site][0] ?? $kind, ($weights[$site][1] ?? 0.0) + $weight / count($sites)];
            }
        }
        $total = array_sum(array_column($weights, 1));

        return array_map(static fn (array $entry): array => [$entry[0], $finding->confidence * $entry[1] / $total], $weights);
    }

    /**
     * The sites on this board that a cause stands for. Where the profile does not name the serving chip, the
     * service itself is the site.
     *
     * @return array<string, SiteKind>
     */
    private function sites(string $cause, PatternFinding $finding, BoardProfile $board): array
    {
        $banks = array_map(static fn (string $name): Bank => $board->banks[$name], $finding->banks);
        $data = array_map(static fn (int $line): string => "D{$line}", $finding->lines);
        $address = array_map(static fn (int $line): string => "A{$line}", $finding->addressLines);

        return match ($cause) {
            'chip' => array_fill_keys($finding->chips, SiteKind::Chip),
            'only-chip' => count($finding->chips) === 1 ? [$finding->chips[0] => SiteKind::Chip] : [],
            'data-net' => count($data) > 2 && $finding->pattern->value !== 'tied-bits' ? [] : ($data === [] ? [] : [implode('+', $data) => SiteKind::Net]),
            'address-net' => [($address === [] ? "addresses of bank {$finding->banks[0]}" : implode('+', $address)) => SiteKind::Net],
            'buffer' => $this->servers($banks, 'buffer', $data, SiteKind::Buffer),
            'multiplexer' => $this->servers($banks, 'multiplexer', $address, SiteKind::Multiplexer),
            'select' => $this->servers($banks, 'select', $data, SiteKind::Select),
            'strobe' => $this->servers($banks, 'strobe', $data, SiteKind::Strobe),
            'refresh' => $this->servers($banks, 'refresh', [], SiteKind::Refresh),
            'supply' => $this->servers($banks, 'supply', [], SiteKind::Supply),
            'link' => $this->links($banks, $board),
            default => [],
        };
    }

    /**
     * @param  list<Bank>  $banks
     * @param  list<string>  $lines  only servers that carry one of these; all when empty
     * @return array<string, SiteKind>
     */
    private function servers(array $banks, string $role, array $lines, SiteKind $kind): array
    {
        $sites = [];
        foreach ($banks as $bank) {
            $servers = array_filter(
                $bank->serversIn($role),
                static fn (Server $server): bool => $lines === [] || array_filter($lines, $server->carries(...)) !== [],
            );
            foreach ($servers as $server) {
                $sites[$server->chip] = $kind;
            }
            if ($servers === []) {
                $sites["{$role} of bank {$bank->name}"] = $kind;
            }
        }

        return $sites;
    }

    /**
     * The links that decide whether, or where, these banks answer.
     *
     * @param  list<Bank>  $banks
     * @return array<string, SiteKind>
     */
    private function links(array $banks, BoardProfile $board): array
    {
        $names = array_map(static fn (Bank $bank): string => $bank->name, $banks);
        $sites = [];
        foreach ($board->map->ranges as $range) {
            if (in_array($range->bank, $names, true)) {
                foreach (array_keys($range->when) as $ref) {
                    if (! $board->settings[$ref]->isLatch) {
                        $sites[$ref] = SiteKind::Link;
                    }
                }
            }
        }

        return $sites;
    }
}
