<?php

declare(strict_types=1);

namespace App\Console\Commands;

use Illuminate\Console\Command;
use ZapTrace\Memory\Listings\Language;
use ZapTrace\Memory\Listings\Lister;
use ZapTrace\Memory\Listings\ListingRequest;
use ZapTrace\Memory\Tests\MemoryTest;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * Prints a memory test to type in.
 */
final class ListingCommand extends Command
{
    protected $signature = 'zap:listing
        {test : mats+, march-x, march-y, march-c-, march-b, checkerboard, walking-ones, address-in-address, address-low or address-high}
        {--for= : basic-peek, basic-indirect, 6502, z80, 6809, 8088 or 68000}
        {--from= : First address, hexadecimal unless marked otherwise: #8192 is decimal}
        {--to= : Last address}
        {--at= : Where a machine code program is put; beside the range when left out}
        {--pause=0 : Seconds to wait before the first read of 0 and of 1, to find cells that fade}
        {--format=text : text, or hex for Intel HEX}';

    protected $description = 'Print a memory test as a listing to type in';

    public function handle(Lister $lister): int
    {
        try {
            $listing = $lister->list($this->wanted());
            $format = $this->text('format');
            if ($format !== 'text' && $format !== 'hex') {
                throw InputRejected::of('--format', "\"{$format}\" is no format. Use text or hex.");
            }
            if ($format === 'hex' && $listing->bytes === null) {
                throw InputRejected::of('--format', 'A BASIC listing has no machine code; leave --format=hex out.');
            }
        } catch (InputRejected $rejected) {
            foreach ($rejected->problems as $problem) {
                fwrite(STDERR, "{$problem}\n");
            }

            return 2;
        }
        $this->output->write($format === 'hex' ? $listing->hex() : $listing->text, false, \Symfony\Component\Console\Output\OutputInterface::OUTPUT_RAW);
        if ($format === 'text') {
            foreach ([...$listing->notes, sprintf('It takes about %s.', $listing->duration())] as $note) {
                fwrite(STDERR, "{$note}\n");
            }
        }

        return self::SUCCESS;
    }

    /**
     * @throws InputRejected with everything that is wrong with it
     */
    private function wanted(): ListingRequest
    {
        $problems = new ProblemList;
        $test = null;
        try {
            $test = MemoryTest::named(is_string($this->argument('test')) ? $this->argument('test') : '');
        } catch (InputRejected $rejected) {
            $problems->add('test', $rejected->problems[0]->sentence);
        }
        $language = Language::tryFrom(strtolower($this->text('for')));
        if ($language === null) {
            $problems->add('--for', ($this->text('for') === '' ? 'For what? ' : "There are no listings for \"{$this->text('for')}\". ").'Give '.implode(', ', array_map(static fn (Language $each): string => $each->value, Language::cases())).'.');
        }
        $numbers = [];
        foreach (['from' => true, 'to' => true, 'at' => false] as $option => $needed) {
            if ($this->text($option) === '') {
                if ($needed) {
                    $problems->add("--{$option}", 'Give the first and the last address of the range: --from=0200 --to=BFFF.');
                }

                continue;
            }
            try {
                $numbers[$option] = Notation::parse($this->text($option), Radix::Hexadecimal);
            } catch (UnreadableNumber $reason) {
                $problems->add("--{$option}", $reason->getMessage());
            }
        }
        if (! is_numeric($this->text('pause'))) {
            $problems->add('--pause', 'A pause is a number of seconds.');
        }
        $problems->throwIfAny();
        assert($test !== null && $language !== null);

        return ListingRequest::of($test, $language, $numbers['from'] ?? 0, $numbers['to'] ?? 0, $numbers['at'] ?? null, (float) $this->text('pause'));
    }

    private function text(string $option): string
    {
        $value = $this->option($option);

        return is_string($value) ? trim($value) : '';
    }
}
