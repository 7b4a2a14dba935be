<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

/**
 * What a file of readings holds, told from its content; its name's ending is not believed.
 */
enum FileKind: string
{
    case IntelHex = 'intel-hex';
    case SRecord = 's-record';
    case HexText = 'hex-text';
    case Readings = 'readings';
    case Binary = 'binary';

    /** No line of readings or of a text dump is longer; the records of the other texts start with : or S. */
    private const LONGEST_LINE = 200;

    private const SHORTEST_FILL = 8;

    public static function of(string $content): self
    {
        $start = substr($content, 0, 8192);
        if (str_starts_with($start, Lines::BYTE_ORDER_MARK)) {
            $start = substr($start, 3);
        }
        $odd = strlen((string) preg_replace('/[\x09\x0A\x0C\x0D\x20-\x7E\x80-\xFF]/', '', $start));
        $high = strlen((string) preg_replace('/[\x00-\x7F]/', '', $start));
        if ($odd > 0 || ($high > 0 && ! mb_check_encoding(mb_strcut($start, 0, 8000), 'UTF-8'))) {
            return self::Binary;
        }

        if (strcspn($start, "\r\n") > self::LONGEST_LINE && preg_match('/^(:|S[0-9])[0-9A-Fa-f]+/', $start) !== 1) {
            return self::Binary; // A fill with a printable value, such as 55 or 20, is one endless "line".
        }
        if (strlen($start) >= self::SHORTEST_FILL && (trim($start) === '' || preg_match('/^[^\s,;:>]+$/', $start) === 1)) {
            return self::Binary; // Blanks alone, or one word without a line end: a short fill, and no reading either way.
        }

        foreach (Lines::of($start) as $line) {
            $line = trim(explode(';', $line)[0]);
            if ($line === '') {
                continue;
            }
            if ($line[0] === ':') {
                return self::IntelHex;
            }
            if (preg_match('/^S[0-9][0-9A-Fa-f]{4}/', $line) === 1) {
                return self::SRecord;
            }

            return self::isDumpLine($line) ? self::HexText : self::Readings;
        }

        return self::Readings;
    }

    public function words(): string
    {
        return match ($this) {
            self::IntelHex => 'Intel HEX',
            self::SRecord => 'S-records',
            self::HexText => 'a hex text dump',
            self::Readings => 'readings, a line each',
            self::Binary => 'a binary dump',
        };
    }

    /**
     * What to tell when the ending of the file's name promises something else.
     */
    public function noteFor(string $name): ?string
    {
        $promised = match (strtolower(pathinfo($name, PATHINFO_EXTENSION))) {
            'hex', 'ihx', 'ihex' => self::IntelHex,
            's19', 's28', 's37', 'srec', 'mot' => self::SRecord,
            'bin', 'rom', 'img' => self::Binary,
            'csv' => self::Readings,
            default => $this,
        };

        return $promised === $this || ($promised === self::IntelHex && $this === self::HexText)
            ? null
            : "{$name} is named like ".$promised->words().', but holds '.$this->words().': it was taken as what it holds.';
    }

    /** An address with a colon and a byte, or with more than two bytes after it. */
    private static function isDumpLine(string $line): bool
    {
        return preg_match('/^(?:0x|\$)?[0-9A-Fa-f]{1,8}\s*[:-]\s+[0-9A-Fa-f]{2}\b(?!\s*[,>])/', $line) === 1
            || preg_match('/^(?:0x|\$)?[0-9A-Fa-f]{1,8}(?:[\s,]+[0-9A-Fa-f]{2}){4,16}\b/', $line) === 1;
    }
}
