<?php

declare(strict_types=1);

namespace App\Console\Commands;

use Illuminate\Console\Command;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\Problem;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Rom\ChecksumKind;
use ZapTrace\Rom\RomBuild;
use ZapTrace\Rom\RomComparer;
use ZapTrace\Rom\RomImage;

/**
 * Compares reads of a ROM chip, and builds images for one.
 */
final class RomCommand extends Command
{
    protected $signature = 'zap:rom
        {what : compare or build}
        {files* : Reads of the chip, or the images to build from: binary, Intel HEX or S-records}
        {--good= : compare: a known-good image}
        {--repeat= : build: repeat to fill this size (8192, 8K or a type such as 2764)}
        {--pad= : build: fill up to this size}
        {--fill=FF : build: the byte that pads, in hex}
        {--split : build: even and odd bytes, in two files}
        {--interleave : build: two files, even bytes first}
        {--swap : build: swap the bytes of each pair}
        {--cut= : build: FROM:LENGTH, in hex}
        {--concatenate : build: one file after the other}
        {--correct= : build: AT:SUM in hex, the byte that makes the 8-bit sum right}
        {--format=binary : build: binary, intel-hex or s-record}
        {--o|output= : build: the file to write}
        {--json : Print one JSON object}';

    protected $description = 'Compare reads of a ROM chip, or build an image for one';

    public function handle(PartLibrary $parts): int
    {
        try {
            return match ($this->argument('what')) {
                'compare' => $this->compare(),
                'build' => $this->build($parts),
                default => throw InputRejected::of('', 'Say compare or build: php artisan zap:rom compare READ… [--good=FILE], or zap:rom build FILE… --repeat=8K -o FILE.'),
            };
        } catch (InputRejected $rejected) {
            foreach ($rejected->problems as $problem) {
                fwrite(STDERR, "{$problem}\n");
            }

            return 2;
        }
    }

    private function compare(): int
    {
        $reads = $this->images([...$this->files(), ...($this->text('good') === '' ? [] : [$this->text('good')])]);
        $good = $this->text('good') === '' ? null : array_pop($reads);
        assert($reads !== []);
        $found = (new RomComparer)->compare($reads, $good);
        if ($this->option('json')) {
            $this->output->writeln(json_encode($found->summary(), JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES));
        } else {
            $this->output->writeln($found->verdict->value);
            foreach ($found->because as $sentence) {
                $this->output->writeln("  {$sentence}");
            }
        }

        return self::SUCCESS;
    }

    private function build(PartLibrary $parts): int
    {
        $images = $this->images($this->files());
        $output = $this->text('output');
        $problems = new ProblemList;
        if ($output === '') {
            $problems->add('-o', 'Say where to write it: -o FILE.');
        }
        $made = array_values(array_filter(['repeat', 'pad', 'split', 'interleave', 'swap', 'cut', 'concatenate', 'correct'], fn (string $name): bool => $this->option($name) !== null && $this->option($name) !== false));
        if ($made === []) {
            $problems->add('', 'Say what to build: --repeat, --pad, --split, --interleave, --swap, --cut, --concatenate or --correct.');
        }
        $format = $this->text('format');
        if (! in_array($format, ['binary', 'intel-hex', 's-record'], true)) {
            $problems->add('--format', "There is no format \"{$format}\"; there are binary, intel-hex and s-record.");
        }
        $several = in_array('interleave', $made, true) || in_array('concatenate', $made, true);
        if ($several && count($images) < 2 || in_array('interleave', $made, true) && count($images) !== 2) {
            $problems->add('files', in_array('interleave', $made, true) ? 'Interleaving wants two files: the even bytes and the odd ones.' : 'Give the files that follow each other.');
        } elseif (! $several && count($images) > 1) {
            $problems->add('files', 'Only --interleave and --concatenate take several files.');
        }
        $problems->throwIfAny();
        assert($images !== []);
        $image = $several ? (in_array('interleave', $made, true) ? RomBuild::interleave($images[0], $images[1]) : RomBuild::concatenate($images)) : $images[0];
        // In the order in which they make sense together: what is taken out, turned, filled up, summed.
        if ($this->text('cut') !== '') {
            [$from, $length] = $this->pair('cut');
            $image = RomBuild::cut($image, $from, $length);
        }
        if ($this->option('swap')) {
            $image = RomBuild::swap($image);
        }
        if ($this->text('pad') !== '') {
            $image = RomBuild::pad($image, $this->size('pad', $parts), $this->number('fill', $this->text('fill')));
        }
        if ($this->text('repeat') !== '') {
            $image = RomBuild::repeat($image, $this->size('repeat', $parts));
        }
        if ($this->text('correct') !== '') {
            [$at, $sum] = $this->pair('correct');
            $image = RomBuild::correct($image, $at, $sum, ChecksumKind::Sum8);
        }
        $written = [];
        foreach ($this->option('split') ? array_combine(['-even', '-odd'], RomBuild::split($image)) : ['' => $image] as $suffix => $part) {
            $name = $suffix === '' ? $output : preg_replace('/(\.[^.\/]*)?$/', "{$suffix}$1", $output, 1);
            $content = match ($format) {
                'intel-hex' => $part->asIntelHex(),
                's-record' => $part->asSRecords(),
                default => $part->bytes,
            };
            if (@file_put_contents((string) $name, $content) === false) {
                throw InputRejected::of('-o', "{$name} cannot be written.");
            }
            $written[] = ['file' => (string) $name, 'bytes' => $part->size(), 'crc32' => $part->crc32(), 'sha1' => $part->sha1()];
        }
        foreach ($this->option('json') ? [] : $written as $file) {
            $this->output->writeln("{$file['file']}: {$file['bytes']} bytes, CRC-32 {$file['crc32']}");
        }
        if ($this->option('json')) {
            $this->output->writeln(json_encode(['written' => $written], JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES));
        }

        return self::SUCCESS;
    }

    /**
     * @return list<string>
     */
    private function files(): array
    {
        return array_values(array_filter((array) $this->argument('files'), is_string(...)));
    }

    /**
     * @param  list<string>  $files
     * @return list<RomImage>
     *
     * @throws InputRejected with the problems of all files
     */
    private function images(array $files): array
    {
        $problems = new ProblemList;
        $images = [];
        foreach ($files as $file) {
            if (! is_file($file) || ! is_readable($file)) {
                $problems->add($file, 'There is no such file, or it cannot be read.');

                continue;
            }
            if (filesize($file) > 4 * RomImage::MAX_BYTES) {
                $problems->add($file, sprintf('The file has %d MiB; no ROM of these machines is as large.', filesize($file) >> 20));

                continue;
            }
            try {
                $images[] = RomImage::fromFile((string) file_get_contents($file), basename($file));
            } catch (InputRejected $rejected) {
                array_map(static fn (Problem $problem) => $problems->add($problem->place, $problem->sentence), $rejected->problems);
            }
        }
        $problems->throwIfAny();

        return $images;
    }

    /**
     * @return array{int, int}
     */
    private function pair(string $option): array
    {
        $parts = explode(':', $this->text($option));
        if (count($parts) !== 2) {
            throw InputRejected::of("--{$option}", 'Two hex numbers with a colon between are wanted.');
        }

        return [$this->number($option, $parts[0]), $this->number($option, $parts[1])];
    }

    private function number(string $option, string $text): int
    {
        try {
            return Notation::parse($text, Radix::from(16));
        } catch (UnreadableNumber $reason) {
            throw InputRejected::of("--{$option}", $reason->getMessage());
        }
    }

    private function size(string $option, PartLibrary $parts): int
    {
        $text = $this->text($option);
        if (preg_match('/^(\d+)([KM]?)$/i', $text, $match) === 1) {
            $size = (int) $match[1] << ['' => 0, 'K' => 10, 'M' => 20][strtoupper($match[2])];
            // 2764 is a chip, not 2764 bytes.
            $words = $match[2] === '' ? $parts->find($text)?->memory?->words : null;

            return $words ?? $size;
        }

        return $parts->find($text)->memory->words ?? throw InputRejected::of("--{$option}", "\"{$text}\" is no size: give bytes, 8K, or a type such as 2764.");
    }

    private function text(string $option): string
    {
        $value = $this->option($option);

        return is_string($value) ? $value : '';
    }
}
