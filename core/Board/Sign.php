<?php

declare(strict_types=1);

namespace ZapTrace\Board;

use ZapTrace\Formats\JsonNode;

/**
 * Something a machine is known to do by itself, and what that points at.
 */
final readonly class Sign
{
    /**
     * @param  bool  $good  a sign of health: what it points at works
     * @param  array<string, float>  $sites  reference => how strongly a fault there would show so
     * @param  array<string, float>  $kinds  the same by kind of part
     * @param  list<string>  $excludes  signs that are not there where this one is
     */
    public function __construct(
        public string $id,
        public string $words,
        public string $means,
        public bool $good,
        public array $sites,
        public array $kinds,
        public bool $generic = false,
        public array $excludes = [],
    ) {
    }

    public static function fromNode(JsonNode $node, bool $generic = false): self
    {
        $strengths = static fn (string $member): array => array_map(static fn (JsonNode $strength): float => $strength->asNumber(), $node->members($member));

        return new self($node->string('id'), $node->string('words'), $node->string('means'), $node->boolean('good', false), $strengths('sites'), $strengths('kinds'), $generic, $node->strings('excludes'));
    }

    /**
     * The generic signs, from their data file.
     *
     * @return list<self>
     *
     * @throws \JsonException when the file is damaged
     */
    public static function generic(string $json): array
    {
        return array_map(static fn (JsonNode $sign): self => self::fromNode($sign, true), JsonNode::decode($json)->each('signs'));
    }

    /**
     * How strongly a fault in each part of the board would show so.
     *
     * @return array<string, float> by reference
     */
    public function strengths(BoardProfile $board): array
    {
        $strengths = [];
        foreach ($board->chips as $chip) {
            $strength = $this->sites[$chip->ref] ?? $this->kinds[$chip->kind()] ?? 0.0;
            if ($strength > 0.0) {
                $strengths[$chip->ref] = $strength;
            }
        }

        return $strengths;
    }
}
