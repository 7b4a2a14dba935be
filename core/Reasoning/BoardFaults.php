<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Bank;
use ZapTrace\Board\BoardProfile;

/**
 * The faults that can stand behind the memory of a board: its memory chips, the chips that serve each bank, the
 * lines between them, its links, and what is not on the profile.
 */
final readonly class BoardFaults
{
    public const ELSEWHERE = 'elsewhere';

    /**
     * @param  list<SuspectedFault>  $faults
     */
    private function __construct(public array $faults)
    {
    }

    public static function of(BoardProfile $board, FailureModes $modes): self
    {
        $faults = [];
        $add = static function (string $site, SiteKind $kind, FailureMode $mode, ?array $banks, ?array $lines, ?array $addresses, string $detail) use (&$faults): void {
            $id = "{$site}/{$mode->name}".($detail === '' ? '' : "/{$detail}");
            $faults[$id] = new SuspectedFault(
                $id, $site, $kind, $mode,
                $banks === null ? null : array_values(array_filter($banks, is_string(...))),
                $lines === null ? null : array_values(array_filter($lines, is_int(...))),
                $addresses === null ? null : array_values(array_filter($addresses, is_int(...))),
            );
        };
        foreach ($board->banks as $bank) {
            self::chips($bank, $modes, $add);
            self::nets($bank, $modes, $add);
        }
        self::servers($board, $modes, $add);
        self::links($board, $modes, $add);
        foreach ($modes->of('elsewhere') as $mode) {
            if (str_starts_with($mode->name, 'one data bit')) {
                for ($line = 0; $line < $board->bus->dataWidth; $line++) {
                    $add(self::ELSEWHERE, SiteKind::Elsewhere, $mode, null, [$line], null, "D{$line}");
                }
            } else {
                $add(self::ELSEWHERE, SiteKind::Elsewhere, $mode, null, null, null, '');
            }
        }

        return new self(array_values($faults));
    }

    /**
     * @param  callable(string, SiteKind, FailureMode, list<string>|null, list<int>|null, list<int>|null, string): void  $add
     */
    private static function chips(Bank $bank, FailureModes $modes, callable $add): void
    {
        foreach ($bank->chips() as $chip) {
            $lines = $bank->linesOf($chip);
            foreach ($modes->of('chip') as $mode) {
                if (count($lines) > 1 && str_starts_with($mode->name, 'output stuck')) {
                    foreach ($lines as $line) {
                        $add($chip, SiteKind::Chip, $mode, [$bank->name], [$line], null, "D{$line}");
                    }
                } else {
                    $add($chip, SiteKind::Chip, $mode, [$bank->name], $lines, null, '');
                }
            }
        }
    }

    /**
     * @param  callable(string, SiteKind, FailureMode, list<string>|null, list<int>|null, list<int>|null, string): void  $add
     */
    private static function nets(Bank $bank, FailureModes $modes, callable $add): void
    {
        foreach ($modes->of('net') as $mode) {
            foreach ($bank->lines() as $line) {
                if (str_starts_with($mode->name, 'open to one chip')) {
                    $add("D{$line}", SiteKind::Net, $mode, [$bank->name], [$line], null, "bank {$bank->name}");
                } elseif ($mode->name === 'short to its neighbour') {
                    // Any two lines of a lane: neighbours on the board need not be neighbours by number.
                    for ($other = $line + 1; $other <= ($line | 7) && isset($bank->chipOfLine[$other]); $other++) {
                        $add("D{$line}+D{$other}", SiteKind::Net, $mode, null, [$line, $other], null, '');
                    }
                } else {
                    $add("D{$line}", SiteKind::Net, $mode, null, [$line], null, '');
                }
            }
        }
        foreach ($modes->of('address') as $mode) {
            foreach ([...$bank->multiplex->row ?? [], ...$bank->multiplex->column ?? []] as $line) {
                $add("A{$line}", SiteKind::Net, $mode, null, null, [$line], '');
            }
        }
    }

    /**
     * @param  callable(string, SiteKind, FailureMode, list<string>|null, list<int>|null, list<int>|null, string): void  $add
     */
    private static function servers(BoardProfile $board, FailureModes $modes, callable $add): void
    {
        $services = [];
        foreach ($board->banks as $bank) {
            foreach (['select', 'strobe', 'multiplexer', 'buffer', 'refresh', 'supply'] as $role) {
                $servers = $bank->serversIn($role);
                foreach ($servers as $server) {
                    $services["{$role} {$server->chip}"] ??= ['role' => $role, 'site' => $server->chip, 'banks' => [], 'lines' => []];
                    $services["{$role} {$server->chip}"]['banks'][] = $bank->name;
                    array_push($services["{$role} {$server->chip}"]['lines'], ...$server->lines);
                }
                if ($servers === []) {
                    $services["{$role} of bank {$bank->name}"] = ['role' => $role, 'site' => "{$role} of bank {$bank->name}", 'banks' => [$bank->name], 'lines' => []];
                }
            }
        }
        foreach ($services as ['role' => $role, 'site' => $site, 'banks' => $banks, 'lines' => $carried]) {
            $kind = SiteKind::from($role);
            $numbers = static fn (string $letter): array => array_values(array_unique(array_map(
                static fn (string $line): int => (int) substr($line, 1),
                array_filter($carried, static fn (string $line): bool => $line[0] === $letter),
            )));
            $data = $numbers('D');
            foreach ($modes->of($role) as $mode) {
                if ($role === 'buffer') {
                    foreach ($data === [] ? range(0, $board->bus->dataWidth - 1) : $data as $line) {
                        $add($site, $kind, $mode, $banks, [$line], null, "D{$line}");
                    }
                } elseif ($mode->name === 'channel dead') {
                    foreach ($numbers('A') as $line) {
                        $add($site, $kind, $mode, $banks, null, [$line], "A{$line}");
                    }
                    if ($numbers('A') === []) {
                        $add($site, $kind, $mode, $banks, null, null, '');
                    }
                } elseif ($role === 'select' || $role === 'strobe') {
                    // One part may serve several banks by different gates: each bank is a fault of its own.
                    foreach ($banks as $bank) {
                        $add($site, $kind, $mode, [$bank], $data === [] ? null : $data, null, count($banks) > 1 ? "bank {$bank}" : '');
                    }
                } else {
                    $add($site, $kind, $mode, $banks, $data === [] ? null : $data, null, '');
                }
            }
        }
    }

    /**
     * @param  callable(string, SiteKind, FailureMode, list<string>|null, list<int>|null, list<int>|null, string): void  $add
     */
    private static function links(BoardProfile $board, FailureModes $modes, callable $add): void
    {
        foreach ($board->links() as $link) {
            $banks = [];
            foreach ($board->map->ranges as $range) {
                // Only a link that can take a bank away altogether reads like a dead bank.
                if ($range->bank !== null && isset($range->when[$link->ref]) && self::canSilence($board, $link->ref, $range->bank)) {
                    $banks[$range->bank] = $range->bank;
                }
            }
            foreach ($banks === [] ? [] : $modes->of('link') as $mode) {
                foreach ($banks as $bank) {
                    $add($link->ref, SiteKind::Link, $mode, [$bank], null, null, "bank {$bank}");
                }
            }
        }
    }

    private static function canSilence(BoardProfile $board, string $link, string $bank): bool
    {
        $answering = [];
        foreach ($board->map->ranges as $range) {
            if ($range->bank === $bank) {
                foreach ($range->when[$link] ?? array_keys($board->settings[$link]->positions) as $position) {
                    $answering[(string) $position] = true;
                }
            }
        }

        return count($answering) < count($board->settings[$link]->positions);
    }
}
