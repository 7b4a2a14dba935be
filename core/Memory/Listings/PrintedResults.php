<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Listings;

use ZapTrace\Memory\Tests\TestFailure;
use ZapTrace\Problems\InputRejected;

/**
 * What a listing printed or left in memory, typed back or pasted.
 */
final readonly class PrintedResults
{
    /**
     * @param  list<TestFailure>  $failures
     * @param  bool  $complete  every failure is among them
     */
    private function __construct(public array $failures, public bool $complete)
    {
    }

    /**
     * From BASIC: a line for each failure with address, what it should be, what it was, in decimal; last how many there
     * were. From machine code: bytes in hexadecimal, from the number of failures on.
     *
     * @throws InputRejected with everything that cannot be read
     */
    public static function parse(string $text, Language $language, int $from, int $to): self
    {
        $results = $language->isBasic() ? self::ofBasic($text) : self::ofMachineCode($text, $language, $from);
        foreach ($results->failures as $failure) {
            if ($failure->address < $from || $failure->address > $to) {
                throw InputRejected::of('results', sprintf('A failure at %X lies outside the range %X to %X that was tested. Look whether a number was left out.', $failure->address, $from, $to));
            }
        }

        return $results;
    }

    private static function ofBasic(string $text): self
    {
        $failures = [];
        $count = null;
        foreach (preg_split('/\R/', $text) ?: [] as $number => $line) {
            if (trim($line) === '') {
                continue;
            }
            if (preg_match('/^\s*(\d+)\s*FAILURES?\s*$/i', $line, $match) === 1) {
                $count = (int) $match[1];
            } elseif (preg_match('/^\D*(\d+)\D+(\d+)\D+(\d+)\D*$/', $line, $match) === 1 && (int) $match[2] <= 255 && (int) $match[3] <= 255) {
                $failures[] = new TestFailure((int) $match[1], (int) $match[2], (int) $match[3]);
            } else {
                throw InputRejected::of('line '.($number + 1), 'This is no result: three decimal numbers are wanted - address, what it should be, what it was - or the last line, such as 0 FAILURES.');
            }
        }
        if ($count === null && $failures === []) {
            throw InputRejected::of('results', 'Nothing to read: give the lines it printed, the last one with the number of failures.');
        }

        return new self($failures, $count !== null && $count === count($failures));
    }

    private static function ofMachineCode(string $text, Language $language, int $from): self
    {
        // A monitor puts the address before each line of bytes.
        $plain = (string) preg_replace('/^\s*\S{4,8}\s*[:\->]\s*/m', '', $text);
        preg_match_all('/[0-9A-Fa-f]{2}/', (string) preg_replace('/[^0-9A-Fa-f]/', '', $plain), $match);
        $bytes = array_map(static fn (string $byte): int => (int) hexdec($byte), $match[0]);
        if ($bytes === []) {
            throw InputRejected::of('results', 'Nothing to read: give the bytes from the number of failures on, in hexadecimal.');
        }
        $count = $language === Language::M68000 ? $bytes[0] : intdiv($bytes[0], 4);
        if ($count > Lister::KEPT || ($language !== Language::M68000 && $bytes[0] % 4 !== 0)) {
            throw InputRejected::of('results', sprintf('The first byte, %02X, is no number of failures%s. Does it start at the right address?', $bytes[0], $language === Language::M68000 ? '' : ' times four'));
        }
        $size = 2 + $language->addressBytes();
        if (count($bytes) < 1 + $count * $size) {
            throw InputRejected::of('results', "{$count} failures take ".(1 + $count * $size).' bytes, but only '.count($bytes).' are given. Read further.');
        }
        $base = $language === Language::I8088 ? ListingRequest::segmentOf($from) * 16 : 0;
        $failures = [];
        for ($place = 0; $place < $count; $place++) {
            $entry = array_slice($bytes, 1 + $place * $size, $size);
            $address = array_slice($entry, 0, $size - 2);
            $value = 0;
            foreach ($language->isBigEndian() ? $address : array_reverse($address) as $byte) {
                $value = $value << 8 | $byte;
            }
            $failures[] = new TestFailure($base + $value, $entry[$size - 2], $entry[$size - 1]);
        }

        return new self($failures, $count < Lister::KEPT);
    }
}
