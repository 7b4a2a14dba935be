<?php

declare(strict_types=1);

namespace App\Bench;

use App\Jobs\DecodeCapture;
use App\Models\Capture;
use App\Models\Job;
use App\Models\WorkshopSetting;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\Machine;
use ZapTrace\Observations\BenchLine;
use ZapTrace\Observations\BusCaptured;
use ZapTrace\Observations\RomRead;

/**
 * Demonstration jobs, made the way a technician makes them: by bench lines, pasted readings and files.
 * Machines, owners and faults are invented.
 */
final readonly class DemoBench
{
    public function __construct(private Recorder $recorder, private Workshop $workshop, private BoardShelf $boards, private FileStore $files, private BusBench $bus)
    {
    }

    /**
     * @return int how many jobs were made
     */
    public function set(): int
    {
        DB::transaction(function (): void {
            $this->stock();
            $this->testerPassed();
            $this->threeFaults();
            $this->overVoltage();
            $this->multiplexer();
            $this->openTrace();
            $this->misSetLink();
            $this->twoBoots();
            $this->twoChips();
        });
        Carbon::setTestNow();

        return 8;
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

    /** A trace torn when chips were exchanged: right at its driver, silent behind a break. */
    private function openTrace(): void
    {
        $job = $this->job('2026-11-21T16:00:00Z', 'Kiln log', 'larkspur-64', 'All eight memory chips were exchanged by its owner; since then garbage where there was a picture.', 'Memory in sockets fitted later.');
        $this->at('2026-11-21T16:05:00Z')->line($job, 'soldered u13 u14 u15 u16');
        $this->at('2026-11-21T16:10:00Z')->line($job, 'sign garbage');
        $this->at('2026-11-21T16:14:00Z')->line($job, '+5 vr1 5.02')->line($job, '+5 u16 4.94');
        $this->at('2026-11-21T16:20:00Z')->line($job, 'count 5')->line($job, 'count 5');
        $this->at('2026-11-21T16:31:00Z')->line($job, 'u13.5 silent free')->line($job, 'u14.5 silent free')->line($job, 'u9.5 pulsing free')->line($job, 'u5.4 pulsing free')->line($job, 'u5.7 pulsing free');
        $this->at('2026-11-21T16:40:00Z')->line($job, 'open u5.4 u16.5')->line($job, 'closed u5.4 u10.5');
    }

    /** A ROM that does not touch and a bad memory chip behind it: the bus goes further after each repair. */
    private function twoBoots(): void
    {
        $job = $this->job('2026-11-24T08:00:00Z', 'Tram panel', 'larkspur-64', 'Black screen, no sound; it hung for a winter in a shed.', 'ROM in its socket.');
        $board = $this->boards->find('larkspur-64');
        $bad = new InjectedFault(FaultKind::ReadsLow, 'U14');
        $loose = new InjectedFault(FaultKind::BadContact, 'U2.20');
        $sick = new Machine($board, [$bad, $loose], 24);
        $this->at('2026-11-24T08:05:00Z')->line($job, '+5 u2 5.01')->line($job, 'sign blank');
        $image = (new Machine($board, [], 24))->image('U2');
        $file = fn (string $bytes, string $name): array => ['sha1' => $this->files->put($bytes), 'name' => $name];
        $this->at('2026-11-24T08:20:00Z');
        $this->recorder->record($job, RomRead::KIND, (object) json_decode((string) json_encode(['chip' => 'U2', 'where' => 'reader', 'reads' => [$file($image, 'u2-first.bin'), $file($image, 'u2-again.bin')], 'good' => $file($image, 'larkspur-system.bin')]), false));
        $letters = (new Machine($board, [], 24))->image('U23');
        $lost = $letters;
        for ($at = 0x180; $at < 0x5C0; $at += 7) {
            $lost[$at] = chr(ord($lost[$at]) | 0x08);
        }
        $this->recorder->record($job, RomRead::KIND, (object) json_decode((string) json_encode(['chip' => 'U23', 'where' => 'reader', 'reads' => [$file($lost, 'u23.bin'), $file($lost, 'u23-again.bin')], 'good' => $file($letters, 'larkspur-letters.bin')]), false));
        $this->capture($job, 'good machine', 'good', (new Machine($board, [], 24))->capture(700), '2026-11-24T08:40:00Z');
        $this->capture($job, 'as it came', 'sick', $sick->capture(500), '2026-11-24T08:50:00Z');
        $this->at('2026-11-24T08:58:00Z')->line($job, 'reseat u2 different');
        $this->capture($job, 'ROM reseated', 'sick', (new Machine($board, [$bad], 24))->capture(500), '2026-11-24T09:05:00Z');
    }

    private function capture(Job $job, string $name, string $role, string $content, string $time): void
    {
        $this->at($time);
        $capture = Capture::whole($job, $name, $role, $content);
        (new DecodeCapture($capture->id))->handle($this->boards);
        $capture->refresh();
        if ($role === 'good') {
            $this->bus->check($capture, 'rom');
        } else {
            $this->recorder->record($job, BusCaptured::KIND, $this->bus->payload($capture->refresh(), 'rom'));
        }
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
        $this->at('2026-11-23T11:26:00Z')->line($job, 'room 19')->line($job, 'u14 hot 52')->line($job, 'u13 cool 23')->line($job, 'u15 cool 24')->line($job, 'u16 cool 22')->line($job, 'u1 warm 43')->line($job, 'u24 warm 45')->line($job, 'u5 cool 27');
        $this->at('2026-11-23T11:31:00Z')->line($job, 'sign garbage at 1')->line($job, 'sign garbage at 2')->line($job, 'sign usual-noises at 2')->line($job, 'sign garbage at 3')->line($job, 'sign crashes at 3 after 4');
    }

    /** A chip that the tester passed, and whose fault came and went: counted over power-ons, and proved to be gone. */
    private function testerPassed(): void
    {
        $job = $this->job('2026-11-12T15:00:00Z', 'Signal box trainer', 'tamarisk-two', 'Characters change by themselves: A shows as E after some minutes.', 'Lead and tape recorder came with it; no manual.');
        $this->at('2026-11-12T15:03:00Z')->line($job, 'stored 12');
        $this->at('2026-11-12T15:06:00Z')->line($job, '-5 vr3 -5.02')->line($job, '+5 u21 4.96')->line($job, '+12 u28 11.9');
        $this->at('2026-11-12T15:10:00Z')->line($job, 'sign clean-banner at 1')->line($job, 'sign half-wrong at 1 after 6')->line($job, 'sign clean-banner at 2');
        $this->at('2026-11-12T15:14:00Z')->line($job, 'count 11 x2');
        $this->at('2026-11-12T15:20:00Z')->paste($job, "8000 00 04\n8001 FF FF\n8100 00 04\n8210 51 55\n4000 00 00\n4001 FF FF");
        $this->at('2026-11-12T15:30:00Z')->line($job, 'power-ons 5 failed 3');
        $this->at('2026-11-12T15:48:00Z')->line($job, 'test u33 pass');
        $this->at('2026-11-12T15:55:00Z')->line($job, 'reseat u33 same');
        $this->at('2026-11-12T16:30:00Z')->line($job, 'exchange u33 cured');
        $this->at('2026-11-12T16:36:00Z')->line($job, 'refit u33 same');
        $this->at('2026-11-12T16:40:00Z')->line($job, 'fit u33 tested cured');
        $this->at('2026-11-12T16:44:00Z')->line($job, 'mark u33 bad-1 in the tin for bad ones');
        $this->at('2026-11-12T16:48:00Z')->line($job, 'count pass x3');
        $this->at('2026-11-12T17:10:00Z')->paste($job, "8000 00 00\n8001 FF FF\n8100 00 00\n8210 51 51\n9000 AA AA\n9001 55 55");
        $this->at('2026-11-12T18:20:00Z')->line($job, 'power-ons 9')->line($job, 'ran 60 clean');
        foreach (['keys', 'tape', 'printer', 'picture', 'memory'] as $function) {
            $this->at('2026-11-12T18:40:00Z')->line($job, "{$function} works");
        }
        $job->update(['state' => 'repaired']);
    }

    /** Three faults in one machine: the supply, the contact of a ROM, and a memory chip; each hid the next. */
    private function threeFaults(): void
    {
        $job = $this->job('2026-11-17T09:00:00Z', 'Harbour scales', 'larkspur-64', 'Blank screen, no sound. "It must be the processor," says the owner.', '64K, no lead; lid screws missing.');
        $this->at('2026-11-17T09:05:00Z')->line($job, 'theory u1')->line($job, 'stored 15');
        $this->at('2026-11-17T09:12:00Z')->line($job, 'c1 bulged')->line($job, 'u2 unseated')->line($job, 'f1 fine')->line($job, 'w1 fine');
        $this->at('2026-11-17T09:20:00Z')->line($job, '+5 in 7.1')->line($job, '+5 vr1 4.52')->line($job, '+5 vr1 ripple 310')->line($job, '+5 u16 4.41');
        $this->at('2026-11-17T09:22:00Z')->line($job, 'sign blank at 1')->line($job, 'sign silent at 1');
        $this->at('2026-11-17T10:05:00Z')->line($job, 'fit c1 new same');
        $this->at('2026-11-17T10:10:00Z')->line($job, '+5 in 9.6')->line($job, '+5 vr1 5.02')->line($job, '+5 vr1 ripple 12')->line($job, '+5 u16 4.97');
        $this->at('2026-11-17T10:14:00Z')->line($job, 'sign blank at 1')->line($job, 'sign blank at 2');
        $this->at('2026-11-17T10:25:00Z')->line($job, 'reseat u2 better');
        $this->at('2026-11-17T10:28:00Z')->line($job, 'sign garbage at 1')->line($job, 'sign usual-noises at 1')->line($job, 'sign garbage at 2');
        $this->at('2026-11-17T10:40:00Z')->line($job, 'count 5 x2');
        $this->at('2026-11-17T10:48:00Z')->paste($job, "9000 00 10\n9001 FF FF\n9100 00 10\n9400 55 55\n9401 AA BA");
        $this->at('2026-11-17T10:55:00Z')->line($job, 'room 20')->line($job, 'u13 hot 61')->line($job, 'u12 cool 24')->line($job, 'u14 cool 25')->line($job, 'u11 cool 24')->line($job, 'u1 warm 44');
        $this->at('2026-11-17T11:40:00Z')->line($job, 'fit u13 tested cured');
        $this->at('2026-11-17T11:44:00Z')->line($job, 'mark u13 HS-1 in the tin for bad ones')->line($job, 'test u13 fails');
        $this->at('2026-11-17T11:50:00Z')->line($job, 'count pass x3');
        $this->at('2026-11-17T12:00:00Z')->line($job, 'keys works')->line($job, 'picture works');
    }

    /** A supply that failed high weakened every chip on the rail; they fail one after another. */
    private function overVoltage(): void
    {
        $job = $this->job('2026-11-19T14:00:00Z', 'Greenhouse log', 'tamarisk-two', 'A borrowed power unit was plugged in; it smelled, and since then it starts differently each time.', 'Came without its own power unit.');
        $this->at('2026-11-19T14:06:00Z')->line($job, 'over-voltage +5')->line($job, 'missing u4');
        $this->at('2026-11-19T14:12:00Z')->line($job, 'vr1 burnt')->line($job, 'c1 fine');
        $this->at('2026-11-19T14:20:00Z')->line($job, '-5 vr3 -5.05')->line($job, '+12 vr2 12.1')->line($job, '+5 vr1 6.9 unloaded');
        $this->at('2026-11-19T15:10:00Z')->line($job, 'fit vr1 tested same');
        $this->at('2026-11-19T15:15:00Z')->line($job, '-5 vr3 -5.05')->line($job, '+12 vr2 12.1')->line($job, '+5 vr1 5.01')->line($job, '+5 u38 4.95')->line($job, '+5 amps 2.1');
        $this->at('2026-11-19T15:20:00Z')->line($job, 'sign at-signs at 1')->line($job, 'sign at-signs at 2')->line($job, 'sign garbage at 3');
        $this->at('2026-11-19T15:30:00Z')->line($job, 'room 22')->line($job, 'u40 hot 71')->line($job, 'u43 warm 41')->line($job, 'u44 warm 40')->line($job, 'u17 cool 26')->line($job, 'u18 cool 27')->line($job, 'u1 warm 46');
        $this->at('2026-11-19T16:10:00Z')->line($job, 'fit u40 new different');
        $this->at('2026-11-19T16:12:00Z')->line($job, 'test u40 fails');
        $this->at('2026-11-19T16:20:00Z')->line($job, 'count 3')->line($job, 'count 3');
        $job->update(['state' => 'parked']);
    }

    /** What lies in the drawers of the workshop. */
    private function stock(): void
    {
        if (WorkshopSetting::query()->count() === 0) {
            $this->workshop->change((object) ['name' => 'Bench by the window', 'stock' => [
                (object) ['part' => '4164', 'count' => 6, 'drawer' => 'drawer 2', 'nanoseconds' => 150],
                (object) ['part' => '41256', 'count' => 9, 'drawer' => 'drawer 2', 'nanoseconds' => 120],
                (object) ['part' => '4116', 'count' => 14, 'drawer' => 'drawer 1', 'nanoseconds' => 200],
                (object) ['part' => '74LS257', 'count' => 3, 'drawer' => 'drawer 5'],
                (object) ['part' => '74LS373', 'count' => 2, 'drawer' => 'drawer 5'],
            ]]);
        }
    }

    private function job(string $opened, string $machine, string $board, string $symptom, string $fitted = ''): Job
    {
        $this->at($opened);

        return Job::query()->create(['machine' => $machine, 'board_slug' => $board, 'symptom' => $symptom, 'state' => 'open', 'radix' => 16, 'fitted' => $fitted]);
    }

    private function at(string $time): self
    {
        Carbon::setTestNow(Carbon::parse($time));

        return $this;
    }

    private function line(Job $job, string $line): self
    {
        $understanding = (new BenchLine($this->recorder->moment($job)))->understand($line);
        $this->recorder->record($job, $understanding->kind, (object) $understanding->payload);

        return $this;
    }

    private function paste(Job $job, string $text): void
    {
        $this->recorder->record($job, 'memory-readings', (object) ['text' => $text, 'radix' => $job->radix]);
    }
}
