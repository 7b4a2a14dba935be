<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

use ZapTrace\Problems\InputRejected;

/**
 * A recording of digital channels, read as a stream.
 */
abstract class Capture
{
    /** The largest file that is read, in bytes. */
    public const MAX_BYTES = 64 * 1024 * 1024;

    protected const CHUNK = 262144;

    /** @var list<string> names of the channels */
    protected array $channels = [];

    /** Seconds in a unit of time. */
    protected float $unit = 1e-9;

    protected int $end = 0;

    protected int $changes = 0;

    /**
     * @param  resource  $stream  a file, from its beginning
     *
     * @throws InputRejected when its first lines cannot be read
     */
    public static function open($stream, string $name): self
    {
        $start = (string) fread($stream, 4096);
        rewind($stream);
        if ($start === '') {
            throw InputRejected::of($name, 'The file is empty: 0 bytes. Save the recording again.');
        }
        $size = fstat($stream)['size'] ?? 0;
        if ($size > self::MAX_BYTES) {
            throw InputRejected::of($name, sprintf('The recording has %d MB; at most %d MiB are read. Record a shorter stretch, from the reset on.', intdiv($size, 1000000), self::MAX_BYTES >> 20));
        }

        return preg_match('/^\s*\$\w/', $start) === 1 ? new Vcd($stream, $name) : new CaptureCsv($stream, $name);
    }

    /**
     * @return list<string>
     */
    public function channels(): array
    {
        return $this->channels;
    }

    /** Seconds in a unit of time. */
    public function unit(): float
    {
        return $this->unit;
    }

    /** The last moment that was read. */
    public function end(): int
    {
        return $this->end;
    }

    /** Changes that were read. */
    public function changes(): int
    {
        return $this->changes;
    }

    /**
     * Reads all of it.
     *
     * @param  (callable(int): bool)|null  $progress  told the bytes read so far; false stops the reading
     * @return bool whether it was read to its end
     *
     * @throws InputRejected with everything that is wrong with it
     */
    abstract public function read(CaptureSink $sink, ?callable $progress = null): bool;
}
