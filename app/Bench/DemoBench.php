<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\Job;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use ZapTrace\Observations\BenchLine;

/**
 * Demonstration jobs, made the way a technician makes them: by bench lines, pasted readings and files.
 * Machines, owners and faults are invented.
 */
final readonly class DemoBench
{
    public function __construct(private Recorder $recorder, private FileStore $files)
    {
    }

    /**
     * @return int how many jobs were made
     */
    public function set(): int
    {
        DB::transaction(function (): void {
            $this->tideGauge();
            $this->mailOrder();
            $this->drawingOffice();
            $this->repaired();
            $this->twoChips();
            Job::query()->where('machine', 'Drawing office 3')->update(['state' => 'waiting-for-parts']);
        });
        Carbon::setTestNow();

        return 5;
    }

    /** Bit 5 of the only bank reads 1: one chip. */
    private function tideGauge(): void
    {
        $job = $this->job('2026-11-20T09:12:00Z', 'Tide gauge', 'larkspur-64', 'Prints small letters where capitals should be; stops after some minutes.');
        $this->at('2026-11-20T09:22:00Z')->line($job, 'count 6 x2');
        $this->at('2026-11-20T09:31:00Z')->line($job, 'screen a for A at 0,0');
        $this->at('2026-11-20T09:40:00Z')->line($job, '6c00 00>20');
        $this->at('2026-11-20T09:41:00Z')->line($job, '6c01 0f>2f');
        $this->at('2026-11-20T09:43:00Z')->paste($job, "6E40 CC EC\n7100 33 33\n9A00 00 20\nA5F0 11 31\nB123 0A 2A\nBFFF 00 20\n2000 55 75\n2001 AA AA\n3000 00 20\n3001 FF FF");
        $expected = str_repeat("\x00", 0x400);
        $this->at('2026-11-20T10:02:00Z')->dump($job, 'fill-00.bin', 0x8000, 'fill:00', $expected | str_repeat("\x20", 0x400));
    }

    /** Bank 1 does not answer: its select, or its link. */
    private function mailOrder(): void
    {
        $job = $this->job('2026-11-21T13:05:00Z', 'Mail order desk', 'tamarisk-two', 'Starts with 15700 bytes free instead of 32084. Ran well until it was moved.');
        $this->at('2026-11-21T13:20:00Z')->line($job, 'free 15700 15700 15700');
        $this->at('2026-11-21T13:26:00Z')->paste($job, "8000 00 FF\n8001 55 FF\n8002 AA FF\n9000 00 FF\n4000 00 00\n4001 55 55\n4002 AA AA\n7FFF 5A 5A");
    }

    /** A lost address line on the main board, seen by address patterns. */
    private function drawingOffice(): void
    {
        $job = $this->job('2026-11-22T08:40:00Z', 'Drawing office 3', 'halyard-16', 'Loads drawings and then shows pieces of one in another. Passes its start-up test.');
        $expected = $this->noise(0x8000);
        $read = '';
        for ($address = 0; $address < 0x8000; $address++) {
            $read .= $expected[($address & ~0x0804) | 0x0804];
        }
        $this->at('2026-11-22T09:15:00Z')->dump($job, 'read-back.bin', 0x20000, null, $read, $expected);
    }

    /** Two bad chips, of which the diagnostic names one at a time. */
    private function twoChips(): void
    {
        $job = $this->job('2026-11-23T10:00:00Z', 'Weather mast', 'larkspur-64', 'Dead since the storm: blank screen, the test ROM flashes.');
        $this->at('2026-11-23T10:12:00Z')->line($job, 'count 3');
        $this->at('2026-11-23T10:14:00Z')->line($job, 'count 3');
        $this->at('2026-11-23T10:50:00Z')->line($job, 'replace u11 different');
        $this->at('2026-11-23T10:55:00Z')->line($job, 'test u11 fails');
        $this->at('2026-11-23T10:58:00Z')->line($job, 'count 6 x2');
        $this->at('2026-11-23T11:20:00Z')->paste($job, "0200 00 20\n0201 FF FF\n0400 55 75\n0401 AA AA\n3000 00 20");
    }

    private function repaired(): void
    {
        $job = $this->job('2026-11-12T15:00:00Z', 'Signal box trainer', 'tamarisk-two', 'Characters double: A shows as C.');
        $this->at('2026-11-12T15:14:00Z')->line($job, 'count 2 x2');
        $this->at('2026-11-12T15:20:00Z')->paste($job, "4000 00 02\n4001 01 03\n8000 00 02\n8001 FD FF\n4100 55 57");
        $this->at('2026-11-12T15:48:00Z')->line($job, 'piggyback u22 same');
        $this->at('2026-11-12T15:55:00Z')->line($job, 'test u22 pass');
        $this->at('2026-11-12T16:30:00Z')->line($job, 'replace u14 cured');
        $this->at('2026-11-12T16:41:00Z')->paste($job, "4000 00 00\n4001 01 01\n8000 00 00\n8001 FD FD\n4100 55 55\n9000 FF FF");
        $this->at('2026-11-12T16:42:00Z')->line($job, 'count pass x3');
        $job->update(['state' => 'repaired']);
    }

    private function job(string $opened, string $machine, string $board, string $symptom): Job
    {
        $this->at($opened);

        return Job::query()->create(['machine' => $machine, 'board_slug' => $board, 'symptom' => $symptom, 'state' => 'open', 'radix' => 16]);
    }

    private function at(string $time): self
    {
        Carbon::setTestNow(Carbon::parse($time));

        return $this;
    }

    private function line(Job $job, string $line): void
    {
        $understanding = (new BenchLine($this->recorder->moment($job)))->understand($line);
        $this->recorder->record($job, $understanding->kind, (object) $understanding->payload);
    }

    private function paste(Job $job, string $text): void
    {
        $this->recorder->record($job, 'memory-readings', (object) ['text' => $text, 'radix' => $job->radix]);
    }

    private function dump(Job $job, string $name, int $base, ?string $expect, string $content, ?string $second = null): void
    {
        $payload = ['sha1' => $this->files->put($content), 'name' => $name, 'radix' => $job->radix, 'base' => $base];
        if ($expect !== null) {
            $payload['expect'] = $expect;
        }
        if ($second !== null) {
            $payload['second'] = (object) ['sha1' => $this->files->put($second), 'name' => 'written.bin'];
        }
        $this->recorder->record($job, 'memory-file', (object) $payload);
    }

    /** Bytes without a pattern, the same every time. */
    private function noise(int $bytes): string
    {
        $noise = '';
        for ($i = 0; strlen($noise) < $bytes; $i++) {
            $noise .= sha1("demonstration {$i}", true);
        }

        return substr($noise, 0, $bytes);
    }
}
