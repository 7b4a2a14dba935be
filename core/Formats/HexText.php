<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * A dump as text: an address column (hexadecimal, with or without a colon), then up to 8 or 16 bytes a line. A
 * column of characters after the bytes is left aside when two blanks or a bar part it from them.
 */
final class HexText
{
    private const LINE = '/^\s*(?:0x|\$)?([0-9A-Fa-f]{1,8})(?::\s*|\s+|-\s+)(.*)$/';

    /**
     * @throws InputRejected with every broken line
     */
    public static function read(string $text): MemoryImage
    {
        $problems = new ProblemList;
        $records = [];
        $taken = []; // Address => line, of every line's first byte: a second block at one address is a slip.
        $end = null;
        foreach (Lines::of($text) as $line => $content) {
            if (trim($content) === '' || str_starts_with(ltrim($content), ';')) {
                continue;
            }
            $content = rtrim((string) preg_replace('/;.*$/', '', $content));
            if (preg_match(self::LINE, $content, $match) !== 1) {
                $problems->atLine($line, 'An address and then 8 or 16 bytes in hexadecimal are expected, such as "6C00: 00 20 FF …".');

                continue;
            }
            $bytes = self::bytes($match[2], $line, $problems);
            if ($bytes === null) {
                continue;
            }
            $address = (int) hexdec($match[1]);
            if ($end !== null && $address < $end && $address > $end - 16 && ! isset($taken[$address])) {
                $problems->atLine($line, sprintf('The line starts at %04X, inside the line before it, which reaches %04X: too many bytes there, or a wrong address here.', $address, $end - 1));
            }
            if (isset($taken[$address])) {
                $problems->atLine($line, sprintf('Address %04X was given on line %d already.', $address, $taken[$address]));
            }
            $taken[$address] = $line;
            $end = $address + strlen($bytes);
            $records[] = [$address, $bytes];
        }
        if ($problems->isEmpty() && $records === []) {
            $problems->add('', 'There is no line with an address and bytes.');
        }
        $problems->throwIfAny();

        return MemoryImage::fromRecords($records);
    }

    /**
     * @param  8|16  $bytesPerLine
     */
    public static function write(MemoryImage $image, int $bytesPerLine = 16): string
    {
        $out = '';
        foreach ($image->segments as $from => $bytes) {
            foreach (str_split($bytes, $bytesPerLine) as $i => $row) {
                $out .= sprintf('%04X: ', $from + $i * $bytesPerLine).strtoupper(implode(' ', str_split(bin2hex($row), 2)))."\n";
            }
        }

        return $out;
    }

    private static function bytes(string $text, int $line, ProblemList $problems): ?string
    {
        // The column of characters: after a bar, or after two blanks that follow at least one byte.
        $text = (string) preg_replace('/\s*\|.*$/', '', $text);
        if (preg_match('/^((?:[0-9A-Fa-f]{2}\s?){8}(?:\s{1,2}(?:[0-9A-Fa-f]{2}\s?){8})?)(?:\s{2,}.*)?$/', $text, $full) === 1) {
            $text = $full[1];
        }
        $words = preg_split('/[\s,]+/', trim($text), -1, PREG_SPLIT_NO_EMPTY) ?: [];
        $bytes = '';
        foreach ($words as $place => $word) {
            if (strlen($word) % 2 !== 0 || ! ctype_xdigit($word)) {
                $problems->atLine($line, 'Byte '.($place + 1).' is "'.mb_strimwidth(mb_scrub($word), 0, 12, '…').'"; two hexadecimal digits are expected.');

                return null;
            }
            $bytes .= hex2bin($word);
        }
        if ($bytes === '' || strlen($bytes) > 16) {
            $problems->atLine($line, $bytes === '' ? 'There are no bytes after the address.' : 'There are '.strlen($bytes).' bytes; 8 or 16 to a line are expected.');

            return null;
        }

        return $bytes;
    }
}
