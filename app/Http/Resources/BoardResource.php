<?php

declare(strict_types=1);

namespace App\Http\Resources;

use ZapTrace\Board\Assembly;
use ZapTrace\Board\Bank;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Checklist;
use ZapTrace\Board\Chip;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\Rail;
use ZapTrace\Board\Server;
use ZapTrace\Board\Setting;
use ZapTrace\Board\Sign;
use ZapTrace\Board\TestedFunction;
use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticCode;
use ZapTrace\Parts\PartLibrary;

/**
 * A board profile as JSON for the page, with what the part library knows of its chips.
 */
final class BoardResource
{
    /**
     * @return array<string, mixed>
     */
    public static function summary(BoardProfile $board, bool $shipped): array
    {
        return [
            'slug' => $board->slug,
            'name' => $board->name,
            'revision' => $board->revision,
            'summary' => $board->summary,
            'radix' => $board->radix->value,
            'chips' => count($board->chips),
            'banks' => count($board->banks),
            'dataWidth' => $board->bus->dataWidth,
            'addressWidth' => $board->bus->addressWidth,
            'shipped' => $shipped,
        ];
    }

    /**
     * @return array<string, mixed>
     */
    public static function whole(BoardProfile $board, PartLibrary $parts, bool $shipped): array
    {
        return [
            ...self::summary($board, $shipped),
            'plan' => $board->plan === null ? null : [
                'width' => $board->plan->width, 'height' => $board->plan->height,
                'connectors' => $board->plan->connectors, 'holes' => $board->plan->holes,
            ],
            'assemblies' => array_map(static fn (Assembly $assembly): array => [
                'id' => $assembly->id, 'name' => $assembly->name, 'removable' => $assembly->removable, 'needed' => $assembly->needed, 'outline' => $assembly->outline,
            ], $board->assemblies),
            'parts' => array_values(array_map(static function (Chip $chip) use ($parts): array {
                $part = $parts->find($chip->part);

                return [
                    'ref' => $chip->ref, 'part' => $chip->part, 'role' => $chip->role, 'title' => $part->title ?? '', 'kind' => $part->kind ?? 'logic',
                    'pins' => $part->pins ?? 16, 'wide' => $part->wide ?? false, 'assembly' => $chip->assembly, 'socketed' => $chip->socketed,
                    'x' => $chip->x, 'y' => $chip->y, 'turn' => $chip->turn,
                ];
            }, $board->chips)),
            'settings' => array_values(array_map(static fn (Setting $setting): array => [
                'ref' => $setting->ref, 'name' => $setting->name, 'default' => $setting->default, 'isLatch' => $setting->isLatch,
                'positions' => array_map(static fn (string $name, string $changes): array => ['name' => $name, 'changes' => $changes], array_map(strval(...), array_keys($setting->positions)), $setting->positions),
                'x' => $setting->x, 'y' => $setting->y,
            ], $board->settings)),
            'memoryBanks' => array_values(array_map(static fn (Bank $bank): array => [
                'name' => $bank->name, 'width' => $bank->width, 'firstLine' => $bank->firstLine,
                'chipOfBit' => array_map(static fn (int $line): array => ['bit' => $line, 'chip' => $bank->chipOfLine[$line]], array_keys($bank->chipOfLine)),
                'row' => $bank->multiplex->row ?? [], 'column' => $bank->multiplex->column ?? [],
                'servedBy' => array_map(static fn (Server $server): array => ['chip' => $server->chip, 'role' => $server->role, 'lines' => $server->lines], $bank->servers),
            ], $board->banks)),
            'map' => array_map(static fn (MapRange $range): array => [
                'from' => $range->from, 'to' => $range->to, 'kind' => $range->kind->value, 'name' => $range->name, 'bank' => $range->bank, 'chip' => $range->chip,
                'access' => $range->access, 'page' => $range->page, 'when' => (object) $range->when, 'mask' => $range->mask, 'value' => $range->value,
            ], $board->map->ranges),
            'screen' => $board->screen === null ? null : [
                'from' => $board->screen->from, 'columns' => $board->screen->columns, 'rows' => $board->screen->rows,
                'pixels' => count($board->screen->linesLeftToRight), 'hasCharacters' => $board->screen->codes !== [],
            ],
            'diagnostics' => array_map(static fn (Diagnostic $diagnostic): array => [
                'id' => $diagnostic->id, 'name' => $diagnostic->name, 'reports' => $diagnostic->reports, 'covers' => $diagnostic->covers,
                'revision' => $diagnostic->revision, 'names' => $diagnostic->names, 'minutes' => $diagnostic->minutes, 'insert' => $diagnostic->insert,
                'registers' => $diagnostic->registers === null ? [] : [$diagnostic->registers['written'], $diagnostic->registers['read']],
                'codes' => array_map(static fn (DiagnosticCode $code): array => [
                    'code' => $code->code, 'name' => $code->name, 'bank' => $code->bit['bank'] ?? null, 'bit' => $code->bit['line'] ?? null,
                    'chips' => $code->bit === null ? $code->sites : array_filter([$board->banks[$code->bit['bank']]->chipOfLine[$code->bit['line']] ?? null]),
                ], array_values($diagnostic->codes)),
            ], $board->diagnostics),
            'rails' => array_map(static fn (Rail $rail): array => ['name' => $rail->name, 'volts' => $rail->volts, 'regulator' => $rail->regulator], $board->rails),
            'signs' => array_values(array_map(static fn (Sign $sign): array => ['id' => $sign->id, 'words' => $sign->words, 'means' => $sign->means, 'good' => $sign->good, 'generic' => $sign->generic], $board->signs)),
            'functions' => array_map(static fn (TestedFunction $function): array => ['id' => $function->id, 'name' => $function->name, 'how' => $function->how, 'sites' => $function->sites, 'banks' => $function->banks], $board->functions),
            'checks' => Checklist::of($board),
            'processor' => $board->processor === null ? null : ['chip' => $board->processor->chip, 'part' => $board->processor->part, 'clockHz' => $board->processor->clockHz, 'basic' => $board->processor->basic],
            'freeMemory' => $board->freeMemory === null ? null : ['healthy' => $board->freeMemory->healthy],
        ];
    }
}
