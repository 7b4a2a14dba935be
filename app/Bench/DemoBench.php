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
    public function __construct(private Recorder $recorder)
    {
    }

    /**
     * @return int how many jobs were made
     */
    public function set(): int
    {
        DB::transaction(function (): void {
            $this->testerPassed();
            $this->multiplexer();
            $this->misSetLink();
            $this->twoChips();
        });
        Carbon::setTestNow();

        return 4;
    }

    /** A multiplexer that looks like a memory chip until an exchange turns the verdict. */
    private function multiplexer(): void
    {
        $job = $this->job('2026-11-21T13:05:00Z', 'Mail order desk', 'tamarisk-two', 'Starts, then fills the screen with rubbish. Ran well until it was moved.');
        $this->at('2026-11-21T13:20:00Z')->line($job, 'count 6');
        $this->at('2026-11-21T13:22:00Z')->line($job, 'count 6');
        $this->at('2026-11-21T13:31:00Z')->paste($job, "4100 00 20\n4101 FF FF\n4102 55 55");
        $this->at('2026-11-21T13:50:00Z')->line($job, 'test u26 pass');
        $this->at('2026-11-21T14:02:00Z')->line($job, 'exchange u26 same');
        $this->at('2026-11-21T14:15:00Z')->paste($job, "4200 82 B7\n4A00 B7 B7\n4221 0E EE\n4A21 EE EE\n4242 7F 1A\n4A42 1A 1A\n4263 50 39\n4A63 39 39\n4284 BE F0\n4A84 F0 F0\n42A5 7E C2\n4AA5 C2 C2\n42C6 34 7F\n4AC6 7F 7F\n42E7 06 6E\n4AE7 6E 6E");
        $job->update(['state' => 'waiting-for-parts']);
    }

    /** The riser does not answer: its link stands off, and the strobes look dead. */
    private function misSetLink(): void
    {
        $job = $this->job('2026-11-22T08:40:00Z', 'Drawing office 3', 'halyard-16', 'Half its memory is gone since the riser was cleaned. Passes its start-up test.');
        $this->at('2026-11-22T08:52:00Z')->line($job, 'count pass x2');
        $this->at('2026-11-22T09:05:00Z')->paste($job, "80000 0000 FFFF\n80002 5555 FFFF\n90000 1234 FFFF\nA0000 0F0F FFFF\n20000 0000 0000\n20002 FFFF FFFF");
        $this->at('2026-11-22T09:20:00Z')->line($job, 'reseat riser same');
        $this->at('2026-11-22T09:31:00Z')->line($job, 'reseat lk1 cured');
        $this->at('2026-11-22T09:40:00Z')->paste($job, "80000 0000 0000\n80002 5555 5555\n90000 1234 1234\nA0000 0F0F 0F0F");
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

    /** A chip that the tester passed, and that was the fault all the same. */
    private function testerPassed(): void
    {
        $job = $this->job('2026-11-12T15:00:00Z', 'Signal box trainer', 'tamarisk-two', 'Characters change by themselves: A shows as E after some minutes.');
        $this->at('2026-11-12T15:14:00Z')->line($job, 'count 11 x2');
        $this->at('2026-11-12T15:20:00Z')->paste($job, "8000 00 04\n8001 FF FF\n8100 00 04\n8210 51 55\n4000 00 00\n4001 FF FF");
        $this->at('2026-11-12T15:48:00Z')->line($job, 'test u33 pass');
        $this->at('2026-11-12T15:55:00Z')->line($job, 'reseat u33 same');
        $this->at('2026-11-12T16:30:00Z')->line($job, 'exchange u33 cured');
        $this->at('2026-11-12T16:36:00Z')->line($job, 'refit u33 same');
        $this->at('2026-11-12T16:40:00Z')->line($job, 'fit u33 tested cured');
        $this->at('2026-11-12T16:48:00Z')->line($job, 'count pass x3');
        $this->at('2026-11-12T17:10:00Z')->paste($job, "8000 00 00\n8001 FF FF\n8100 00 00\n8210 51 51\n9000 AA AA\n9001 55 55");
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
}
