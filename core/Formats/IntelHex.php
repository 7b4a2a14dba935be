<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * Intel HEX. Source: Intel, Hexadecimal Object File Format Specification, revision A, 1988.
 *
 * Record types 00 data, 01 end, 02 extended segment address, 04 extended linear address; 03 and 05 give a start
 * address, which a memory image has no use for.
 */
final class IntelHex
{
    /**
     * @throws InputRejected with every broken record by line
     */
    public static function read(string $text): MemoryImage
    {
        $problems = new ProblemList;
        $records = [];
        $base = 0;
        $segmented = false;
        $ended = 0;
        foreach (Lines::of($text) as $line => $record) {
            $record = trim($record);
            if ($record === '') {
                continue;
            }
            if ($ended !== 0) {
                $problems->atLine($line, "There is a record after the end record of line {$ended}.");

                continue;
            }
            $bytes = self::bytesOf($record, $line, $problems);
            if ($bytes === null) {
                continue;
            }
            $length = ord($bytes[0]);
            $address = (ord($bytes[1]) << 8) | ord($bytes[2]);
            $data = substr($bytes, 4, $length);
            switch (ord($bytes[3])) {
                case 0:
                    self::place($records, $base, $address, $data, $segmented);
                    break;
                case 1:
                    $ended = $line;
                    break;
                case 2:
                case 4:
                    if ($length !== 2) {
                        $problems->atLine($line, "An extended address record holds 2 bytes, this one {$length}.");
                        break;
                    }
                    $segmented = ord($bytes[3]) === 2;
                    $base = ((ord($data[0]) << 8) | ord($data[1])) << ($segmented ? 4 : 16);
                    break;
                case 3:
                case 5:
                    break;
                default:
                    $problems->atLine($line, sprintf('Record type %02X is not known; 00 to 05 are.', ord($bytes[3])));
            }
        }
        if ($problems->isEmpty() && $records === []) {
            $problems->add('', 'This Intel HEX file holds no data record.');
        }
        if ($problems->isEmpty() && $ended === 0) {
            $problems->add('', 'The end record (:00000001FF) is missing: the file may have been cut off.');
        }
        $problems->throwIfAny();

        return MemoryImage::fromRecords($records);
    }

    /**
     * @param  int<1, 255>  $bytesPerRecord
     */
    public static function write(MemoryImage $image, int $bytesPerRecord = 16): string
    {
        $out = [];
        $upper = 0;
        foreach ($image->segments as $from => $bytes) {
            $size = strlen($bytes);
            for ($i = 0; $i < $size; $i += $chunk) {
                $address = $from + $i;
                $chunk = min($bytesPerRecord, $size - $i, 0x10000 - ($address & 0xFFFF));
                if ($address >> 16 !== $upper) {
                    $upper = $address >> 16;
                    $out[] = self::record(0, 4, pack('n', $upper));
                }
                $out[] = self::record($address & 0xFFFF, 0, substr($bytes, $i, $chunk));
            }
        }
        $out[] = self::record(0, 1, '');

        return implode("\n", $out)."\n";
    }

    private static function record(int $address, int $type, string $data): string
    {
        $bytes = pack('CnC', strlen($data), $address, $type).$data;

        return ':'.strtoupper(bin2hex($bytes.chr(-self::sum($bytes) & 0xFF)));
    }

    /**
     * @param  list<array{int, string}>  $records
     */
    private static function place(array &$records, int $base, int $address, string $data, bool $segmented): void
    {
        // Within a segment the offset wraps at 64 KiB; with a linear base it runs on.
        $room = $segmented ? 0x10000 - $address : strlen($data);
        $records[] = [$base + $address, substr($data, 0, $room)];
        if (strlen($data) > $room) {
            $records[] = [$base, substr($data, $room)];
        }
    }

    private static function bytesOf(string $record, int $line, ProblemList $problems): ?string
    {
        if ($record[0] !== ':') {
            $problems->atLine($line, 'An Intel HEX record starts with a colon, this line with "'.mb_strimwidth(mb_scrub($record), 0, 12, '…').'".');

            return null;
        }
        $digits = substr($record, 1);
        if (strlen($digits) % 2 !== 0 || ! ctype_xdigit($digits)) {
            $problems->atLine($line, 'After the colon an even number of hexadecimal digits is expected.');

            return null;
        }
        $bytes = (string) hex2bin($digits);
        if (strlen($bytes) < 5 || strlen($bytes) !== ord($bytes[0]) + 5) {
            $problems->atLine($line, strlen($bytes) < 5
                ? 'The record is cut off: length, address, type and checksum take 10 digits at least.'
                : sprintf('The record says it holds %d bytes, but has %d.', ord($bytes[0]), strlen($bytes) - 5));

            return null;
        }
        if ((self::sum($bytes) & 0xFF) !== 0) {
            $wanted = -self::sum(substr($bytes, 0, -1)) & 0xFF;
            $problems->atLine($line, sprintf('The checksum is %02X, but the record adds up to %02X: a digit is wrong.', ord($bytes[-1]), $wanted));

            return null;
        }

        return $bytes;
    }

    private static function sum(string $bytes): int
    {
        return (int) array_sum((array) unpack('C*', $bytes));
    }
}
