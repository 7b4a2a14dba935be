<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Formats\FileKind;
use ZapTrace\Formats\HexText;
use ZapTrace\Formats\IntelHex;
use ZapTrace\Formats\MemoryImage;
use ZapTrace\Formats\SRecord;
use ZapTrace\Numbers\Radix;
use ZapTrace\Problems\InputRejected;

/**
 * A file that a technician brings: a list of readings, or a dump of memory to be compared with something.
 */
final readonly class ReadingsFile
{
    /** The largest file that is read, in bytes. */
    public const MAX_BYTES = 32 * 1024 * 1024;

    /**
     * @param  list<string>  $notes  what was noticed but did not stop the reading
     */
    private function __construct(
        public FileKind $kind,
        public ReadingSet $readings,
        public array $notes,
    ) {
    }

    /**
     * @param  int|null  $base  address of the first byte of a binary dump; 0 when null
     * @param  float  $held  seconds waited between writing and reading
     * @param  FileKind|null  $kind  what the technician says it is; told from the content when null
     * @param  Settings|null  $settings  when given, what reaches no memory under them is refused
     *
     * @throws InputRejected with all problems
     */
    public static function read(string $content, string $name, BoardProfile $board, Radix $radix, ?Expectation $expectation, ?int $base = null, ?int $page = null, float $held = 0.0, ?FileKind $kind = null, ?Settings $settings = null): self
    {
        self::refuseSize(strlen($content), $name);
        if ($content === '') {
            throw InputRejected::of($name, 'The file is empty.');
        }

        $told = $kind !== null;
        $kind ??= FileKind::of($content);
        $note = $told ? null : $kind->noteFor($name);
        $notes = $note === null ? [] : [$note];
        if ($kind === FileKind::Readings) {
            if ($expectation !== null) {
                $notes[] = 'Readings say for themselves what was expected; the comparison asked for was left aside.';
            }

            return new self($kind, (new ReadingsText($board, $radix, $settings))->read($content, $held), $notes);
        }
        if ($expectation === null) {
            throw InputRejected::of($name, "This is {$kind->words()}: say what it should have held (a fill value, an alternating pattern, the address as data, or a second file).");
        }
        if ($base !== null && $kind !== FileKind::Binary) {
            $notes[] = "The start address was left aside: {$kind->words()} says its own addresses.";
        }

        $dump = self::imageOf($content, $kind, $base ?? 0);
        $highest = $board->bus->highestAddress();
        if ($dump->lastAddress() > $highest) {
            throw InputRejected::of($name, sprintf('The dump reaches %X, which is outside memory: the last address is %X. Check the start address.', $dump->lastAddress(), $highest));
        }
        $set = new ReadingSet($board->bus);
        $compared = 0;
        foreach ($expectation->against($dump, $board->bus) as [$from, $expected, $read]) {
            $set->addDump($from, $expected, $read, $page, $held);
            $compared += strlen($read);
        }
        if ($compared < $dump->size()) {
            $notes[] = sprintf('%d of %d bytes were compared: the second file does not cover the rest.', $compared, $dump->size());
        }

        if ($settings !== null) {
            [, $outside] = (new Slicer($board))->slice($set, $settings);
            if ($outside === $set->count()) {
                throw InputRejected::of($name, sprintf('Nothing of this dump (%04X to %04X) is memory that a bank answers under the present links. Check the start address.', $dump->firstAddress(), $dump->lastAddress()));
            }
            if ($outside > 0) {
                $notes[] = "{$outside} of {$set->count()} bytes lie where no bank answers (ROM, I/O or nothing) and were left aside.";
            }
        }

        return new self($kind, $set, $notes);
    }

    /**
     * A dump or image by its content.
     *
     * @throws InputRejected
     */
    public static function image(string $content, string $name, int $base): MemoryImage
    {
        self::refuseSize(strlen($content), $name);
        if ($content === '') {
            throw InputRejected::of($name, 'The file is empty.');
        }
        $kind = FileKind::of($content);
        if ($kind === FileKind::Readings) {
            throw InputRejected::of($name, 'This is no dump: binary, Intel HEX, S-records or a hex text dump is wanted to compare with.');
        }

        return self::imageOf($content, $kind, $base);
    }

    /**
     * @throws InputRejected when a file of this many bytes is not read
     */
    public static function refuseSize(int $bytes, string $name): void
    {
        if ($bytes > self::MAX_BYTES) {
            throw InputRejected::of($name, sprintf('The file has %.1f MiB; at most %d MiB are read. Cut it to the memory in question.', $bytes / 1048576, self::MAX_BYTES / 1048576));
        }
    }

    private static function imageOf(string $content, FileKind $kind, int $base): MemoryImage
    {
        return match ($kind) {
            FileKind::IntelHex => IntelHex::read($content),
            FileKind::SRecord => SRecord::read($content),
            FileKind::HexText => HexText::read($content),
            default => MemoryImage::contiguous($base, $content),
        };
    }
}
