<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * Motorola S-records. Source: Motorola M68000 family reference, appendix on S-records.
 *
 * S0 heading, S1 S2 S3 data with 16, 24 and 32 bit addresses, S5 S6 count of data records, S7 S8 S9 end.
 */
final class SRecord
{
    private const ADDRESS_BYTES = ['0' => 2, '1' => 2, '2' => 3, '3' => 4, '5' => 2, '6' => 3, '7' => 4, '8' => 3, '9' => 2];

    /**
     * @throws InputRejected with every broken record by line
     */
    public static function read(string $text): MemoryImage
    {
        $problems = new ProblemList;
        $records = [];
        $count = 0;
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
            $type = $record[1];
            $width = self::ADDRESS_BYTES[$type];
            $address = (int) hexdec(bin2hex(substr($bytes, 1, $width)));
            if ($type === '1' || $type === '2' || $type === '3') {
                $records[] = [$address, substr($bytes, 1 + $width, -1)];
                $count++;
            } elseif (($type === '5' || $type === '6') && $address !== $count) {
                $problems->atLine($line, "The file says it has {$address} data records, but {$count} came before this line.");
            } elseif ($type === '7' || $type === '8' || $type === '9') {
                $ended = $line;
            }
        }
        if ($problems->isEmpty() && $records === []) {
            $problems->add('', 'This S-record file holds no data record (S1, S2 or S3).');
        }
        if ($problems->isEmpty() && $ended === 0) {
            $problems->add('', 'The end record (S7, S8 or S9) is missing: the file may have been cut off.');
        }
        $problems->throwIfAny();

        return MemoryImage::fromRecords($records);
    }

    /**
     * @param  int<1, 250>  $bytesPerRecord
     */
    public static function write(MemoryImage $image, int $bytesPerRecord = 16): string
    {
        $last = $image->lastAddress();
        [$data, $end, $width] = $last > 0xFFFFFF ? ['3', '7', 4] : ($last > 0xFFFF ? ['2', '8', 3] : ['1', '9', 2]);
        $out = [];
        foreach ($image->segments as $from => $bytes) {
            $size = strlen($bytes);
            for ($i = 0; $i < $size; $i += $bytesPerRecord) {
                $out[] = self::record($data, $width, $from + $i, substr($bytes, $i, $bytesPerRecord));
            }
        }
        if (count($out) <= 0xFFFFFF) {
            $out[] = count($out) <= 0xFFFF ? self::record('5', 2, count($out), '') : self::record('6', 3, count($out), '');
        }
        $out[] = self::record($end, $width, 0, '');

        return implode("\n", $out)."\n";
    }

    private static function record(string $type, int $width, int $address, string $data): string
    {
        $bytes = chr($width + strlen($data) + 1).substr(pack('N', $address), 4 - $width).$data;

        return "S{$type}".strtoupper(bin2hex($bytes.chr(self::checksum($bytes))));
    }

    private static function bytesOf(string $record, int $line, ProblemList $problems): ?string
    {
        if (preg_match('/^S[0-9]/', $record) !== 1) {
            $problems->atLine($line, 'An S-record starts with S and a digit, this line with "'.mb_strimwidth(mb_scrub($record), 0, 12, '…').'".');

            return null;
        }
        if (! isset(self::ADDRESS_BYTES[$record[1]])) {
            $problems->atLine($line, "Record type S{$record[1]} is not known; S0 to S3 and S5 to S9 are.");

            return null;
        }
        $digits = substr($record, 2);
        if ($digits === '' || strlen($digits) % 2 !== 0 || ! ctype_xdigit($digits)) {
            $problems->atLine($line, "After S{$record[1]} an even number of hexadecimal digits is expected.");

            return null;
        }
        $bytes = (string) hex2bin($digits);
        if (strlen($bytes) !== ord($bytes[0]) + 1 || ord($bytes[0]) < self::ADDRESS_BYTES[$record[1]] + 1) {
            $problems->atLine($line, sprintf('The record says that %d bytes follow its length, but %d do.', ord($bytes[0]), strlen($bytes) - 1));

            return null;
        }
        $wanted = self::checksum(substr($bytes, 0, -1));
        if ($wanted !== ord($bytes[-1])) {
            $problems->atLine($line, sprintf('The checksum is %02X, but the record adds up to %02X: a digit is wrong.', ord($bytes[-1]), $wanted));

            return null;
        }

        return $bytes;
    }

    private static function checksum(string $bytes): int
    {
        return ~(int) array_sum((array) unpack('C*', $bytes)) & 0xFF;
    }
}
