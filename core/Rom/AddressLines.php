<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

/**
 * Right contents in the wrong places: which address lines would do that. Only what explains every byte is named.
 */
final readonly class AddressLines
{
    /** Places that are looked at before a guess is tried on all of them. */
    private const SAMPLES = 192;

    /** As long a stretch of the read is searched for in the good image. */
    private const STRETCH = 32;

    private int $bits;

    public function __construct(private string $read, private string $good)
    {
        $this->bits = RomImage::bitsFor(strlen($read));
    }

    /**
     * Lines that make no difference to what is read.
     *
     * @return list<int> the lowest first
     */
    public static function withoutEffect(string $bytes): array
    {
        $size = strlen($bytes);
        $lines = [];
        for ($line = 0; 1 << $line < $size; $line++) {
            $apart = 1 << $line;
            if ($size % (2 * $apart) !== 0) {
                break;
            }
            $alike = true;
            for ($sample = 0; $sample < self::SAMPLES && $alike; $sample++) {
                $place = intdiv($size * $sample, self::SAMPLES) & ~$apart;
                $alike = $bytes[$place] === $bytes[$place | $apart];
            }
            if ($alike) {
                $changes = substr($bytes, 0, $size - $apart) ^ substr($bytes, $apart);
                $mask = substr(str_repeat(str_repeat("\xFF", $apart).str_repeat("\0", $apart), intdiv($size, 2 * $apart)), 0, $size - $apart);
                $changes &= $mask;
                if (strspn($changes, "\0") === strlen($changes)) {
                    $lines[] = $line;
                }
            }
        }

        return $lines;
    }

    /**
     * @return array{lines: list<int>, sentence: string, mirrored: bool}|null null when no simple mix-up explains it
     */
    public function explain(): ?array
    {
        if (strlen($this->read) !== 1 << $this->bits || strlen($this->good) !== strlen($this->read) || $this->bits < 2) {
            return null;
        }
        for ($line = 0; $line < $this->bits; $line++) {
            $bit = 1 << $line;
            if ($this->fits(and: ~$bit)) {
                return ['lines' => [$line], 'sentence' => "It reads as if A{$line} were always low.", 'mirrored' => true];
            }
            if ($this->fits(or: $bit)) {
                return ['lines' => [$line], 'sentence' => "It reads as if A{$line} were always high.", 'mirrored' => true];
            }
            if ($this->fits(xor: $bit)) {
                return ['lines' => [$line], 'sentence' => "It reads as if A{$line} were inverted: halves of the contents have changed places.", 'mirrored' => false];
            }
        }
        for ($one = 0; $one < $this->bits; $one++) {
            for ($other = $one + 1; $other < $this->bits; $other++) {
                if ($this->fits(one: $one, other: $other, whenUnequal: 1 << $one | 1 << $other)) {
                    return ['lines' => [$one, $other], 'sentence' => "It reads as if A{$one} and A{$other} had changed places.", 'mirrored' => false];
                }
                if ($this->fits(one: $one, other: $other, clear: 1 << $one | 1 << $other)) {
                    return ['lines' => [$one, $other], 'sentence' => "It reads as if A{$one} and A{$other} touched, both low as soon as one is.", 'mirrored' => false];
                }
            }
        }

        return $this->offset();
    }

    /**
     * @return array{lines: list<int>, sentence: string, mirrored: bool}|null
     */
    private function offset(): ?array
    {
        $size = strlen($this->read);
        $from = 0;
        // A stretch with something in it, not a fill.
        while ($from + self::STRETCH < $size && count(count_chars(substr($this->read, $from, self::STRETCH), 1)) < 6) {
            $from += self::STRETCH;
        }
        $stretch = substr($this->read, $from, self::STRETCH);
        for ($at = strpos($this->good, $stretch); $at !== false; $at = strpos($this->good, $stretch, $at + 1)) {
            $by = ($at - $from + $size) % $size;
            if ($by !== 0 && $this->read === substr($this->good, $by).substr($this->good, 0, $by)) {
                $lines = [];
                for ($line = 0; $line < $this->bits; $line++) {
                    if (($by >> $line & 1) === 1) {
                        $lines[] = $line;
                    }
                }

                return ['lines' => $lines, 'sentence' => sprintf('The contents are right but sit %X lower than they should: what belongs at %X is read at 0.', $by, $by), 'mirrored' => false];
            }
        }

        return null;
    }

    /**
     * Whether each place of the read comes from ((place AND and) OR or) XOR xor of the good image; where two lines are
     * unequal, some bits are turned over or cleared after that.
     */
    private function fits(int $and = -1, int $or = 0, int $xor = 0, int $one = 0, int $other = 0, int $whenUnequal = 0, int $clear = 0): bool
    {
        $size = strlen($this->read);
        // First places spread over all lines, by a step that shares no factor with a power of two; then all.
        foreach ([[40503, self::SAMPLES], [1, $size]] as [$step, $count]) {
            for ($number = 0, $at = 0; $number < $count; $number++, $at = ($at + $step) & ($size - 1)) {
                $from = ($at & $and | $or) ^ $xor;
                if (($at >> $one ^ $at >> $other) & 1) {
                    $from = ($from ^ $whenUnequal) & ~$clear;
                }
                if ($this->read[$at] !== $this->good[$from]) {
                    return false;
                }
            }
        }

        return true;
    }
}
