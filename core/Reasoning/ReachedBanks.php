<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;

/**
 * The banks that the processor reaches, by the positions of links and latches; each asked once.
 */
final class ReachedBanks
{
    /** @var array<string, list<string>> */
    private array $known = [];

    public function __construct(private readonly BoardProfile $board)
    {
    }

    /**
     * @return list<string>
     */
    public function of(Settings $settings): array
    {
        return $this->known[$settings->key()] ??= $this->find($settings);
    }

    /**
     * @return list<string>
     */
    private function find(Settings $settings): array
    {
        $banks = [];
        foreach ($this->board->map->reachedBy('read', $settings) as $range) {
            if ($range->kind === RangeKind::Ram && $range->bank !== null) {
                $banks[$range->bank] = $range->bank;
            }
        }

        return array_values($banks);
    }
}
