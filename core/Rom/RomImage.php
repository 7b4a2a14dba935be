<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

use ZapTrace\Formats\IntelHex;
use ZapTrace\Formats\MemoryImage;
use ZapTrace\Formats\SRecord;
use ZapTrace\Memory\ReadingsFile;
use ZapTrace\Problems\InputRejected;

/**
 * What a ROM chip holds, or should hold: bytes from its own address 0 on.
 */
final readonly class RomImage
{
    /** The largest chip there is an image of, in bytes. */
    public const MAX_BYTES = 16 * 1024 * 1024;

    private function __construct(public string $bytes, public string $name)
    {
    }

    /**
     * @throws InputRejected when there are no bytes, or more than any chip holds
     */
    public static function of(string $bytes, string $name): self
    {
        if ($bytes === '') {
            throw InputRejected::of($name, 'The file is empty: 0 bytes. Read the chip again.');
        }
        if (strlen($bytes) > self::MAX_BYTES) {
            throw InputRejected::of($name, sprintf('The image has %.1f MiB; at most %d MiB are read. No ROM of these machines is as large: is it another file?', strlen($bytes) / 1048576, self::MAX_BYTES >> 20));
        }

        return new self($bytes, $name);
    }

    /**
     * From a file: Intel HEX and S-records by their records, anything else byte by byte. The image begins at the lowest
     * address of the records; what they leave out is FF, as in an erased chip.
     *
     * @throws InputRejected with everything that is wrong with it
     */
    public static function fromFile(string $content, string $name): self
    {
        $start = ltrim(substr($content, 0, 64));
        if (preg_match('/^:[0-9A-Fa-f]{10}/', $start) !== 1 && preg_match('/^S[0-9][0-9A-Fa-f]{4}/', $start) !== 1) {
            return self::of($content, $name);
        }
        $image = ReadingsFile::image($content, $name, 0);
        if ($image->lastAddress() - $image->firstAddress() >= self::MAX_BYTES) {
            throw InputRejected::of($name, sprintf('Its records lie as far apart as %X and %X. Cut the file to one chip.', $image->firstAddress(), $image->lastAddress()));
        }
        $bytes = str_repeat("\xFF", $image->lastAddress() - $image->firstAddress() + 1);
        foreach ($image->segments as $from => $segment) {
            $bytes = substr_replace($bytes, $segment, $from - $image->firstAddress(), strlen($segment));
        }

        return self::of($bytes, $name);
    }

    public function size(): int
    {
        return strlen($this->bytes);
    }

    /** Address lines it takes to reach all of it. */
    public function addressBits(): int
    {
        return self::bitsFor($this->size());
    }

    public static function bitsFor(int $size): int
    {
        $bits = 0;
        while (1 << $bits < $size) {
            $bits++;
        }

        return $bits;
    }

    /** CRC-32 of ITU-T V.42, eight hex digits. */
    public function crc32(): string
    {
        return sprintf('%08X', crc32($this->bytes));
    }

    public function sha1(): string
    {
        return sha1($this->bytes);
    }

    /** All bytes added up, 16 bits of it. */
    public function sum16(): int
    {
        $sum = 0;
        foreach (count_chars($this->bytes, 1) as $byte => $times) {
            $sum += $byte * $times;
        }

        return $sum & 0xFFFF;
    }

    public function asIntelHex(int $from = 0): string
    {
        return IntelHex::write(MemoryImage::contiguous($from, $this->bytes));
    }

    public function asSRecords(int $from = 0): string
    {
        return SRecord::write(MemoryImage::contiguous($from, $this->bytes));
    }
}
