<?php

declare(strict_types=1);

namespace Tests\Core\Observations;

use OutOfBoundsException;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Bench\Machine;
use ZapTrace\Board\Settings;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\Attachments;
use ZapTrace\Observations\Contribution;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\Moment;
use ZapTrace\Observations\Observation;
use ZapTrace\Observations\RomRead;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\MachineState;

final class RomReadTest extends TestCase
{
    public function test_what_was_found_is_worked_out_once_and_kept(): void
    {
        $image = self::image();
        $payload = $this->completed(['reads' => [$image | str_repeat("\x04", 8192)], 'good' => $image]);
        $found = $payload['found'] ?? null;

        self::assertIsArray($found);
        self::assertSame(['constant-bits', [['bit' => 2, 'value' => 1]], 8192], [$found['verdict'], $found['bits'], $found['size']]);
        // The files are not asked for again.
        $contribution = $this->interpreted($payload, []);
        self::assertSame('U2 read in a reader: data bits that never change', $contribution->title);
        self::assertSame([Evidence::ROM_OUT, true], [$contribution->evidence[0]->kind, $contribution->evidence[0]->abnormal]);
    }

    public function test_a_reader_that_told_only_its_result_is_enough(): void
    {
        foreach (['match' => false, 'differs' => true, 'blank' => true] as $result => $abnormal) {
            $contribution = $this->interpreted(['chip' => 'u2', 'where' => 'reader', 'reads' => [], 'result' => $result], []);
            self::assertSame($abnormal, $contribution->evidence[0]->abnormal);
        }
        $this->expectException(InputRejected::class);
        $this->completed(['reads' => []]);
    }

    public function test_a_read_that_says_nothing_by_itself_is_no_evidence(): void
    {
        $noise = '';
        for ($block = 0; $block < 64; $block++) {
            $noise .= hash('sha256', "letters {$block}", true);
        }
        $payload = $this->completed(['chip' => 'U23', 'reads' => [$noise]]);

        self::assertSame([], $this->interpreted($payload, [])->evidence, 'U23 has no checksum and no vectors.');
    }

    public function test_a_start_that_leads_into_nothing_is_evidence_without_a_good_image(): void
    {
        $image = substr_replace(self::image(), "\x00\x40", 0x1FFC, 2);
        $contribution = $this->interpreted($this->completed(['reads' => [$image]]), []);

        self::assertTrue($contribution->evidence[0]->abnormal);
        self::assertStringContainsString('FFFC leads to 4000', implode(' ', $contribution->notes));
    }

    public function test_a_chip_of_another_size_is_said(): void
    {
        $contribution = $this->interpreted($this->completed(['reads' => [substr(self::image(), 0, 4096)]]), []);

        self::assertStringContainsString('U2 is a 2764 and holds 8192 bytes; this read has 4096.', implode(' ', $contribution->notes));
    }

    public function test_bits_that_differ_both_ways_may_be_another_version_and_weigh_less(): void
    {
        $image = self::image();
        $lost = $both = $image;
        for ($at = 0; $at < 400; $at++) {
            $lost[$at] = chr(ord($lost[$at]) | 0x01);
            $both[$at] = chr(ord($both[$at]) ^ 0x01);
        }
        $rates = array_map(fn (string $read): float => $this->interpreted($this->completed(['reads' => [$read], 'good' => $image]), [])->evidence[0]->falseAlarm, [$lost, $both]);

        self::assertLessThan($rates[1], $rates[0]);
    }

    public function test_what_is_no_rom_is_refused(): void
    {
        foreach (['U9' => 'no ROM', 'U99' => 'no U99'] as $chip => $words) {
            try {
                $this->completed(['chip' => $chip, 'reads' => ['x']]);
                self::fail("Nothing said of {$chip}.");
            } catch (InputRejected $rejected) {
                self::assertStringContainsString($words, $rejected->getMessage());
            }
        }
    }

    public function test_a_bad_contact_does_not_show_in_a_reader_and_does_on_the_board(): void
    {
        $blank = str_repeat("\xFF", 8192);
        $shares = [];
        foreach (['reader', 'board'] as $where) {
            $log = [new Observation('1', RomRead::KIND, JsonNode::of(json_decode((string) json_encode($this->completed(['where' => $where, 'reads' => [$blank, $blank]])), false)))];
            $assessment = Assessment::of(Boards::shipped('larkspur-64'), Radix::Hexadecimal, $log, Interpreters::all(), self::files([]), Boards::modes());
            $shares[$where] = $assessment->conclusion->posterior->sites;
        }

        self::assertGreaterThan(0.9, $shares['reader']['U2'] ?? 0.0);
        self::assertGreaterThan($shares['reader']['U17'] ?? 0.0, $shares['board']['U17'] ?? 0.0, 'On the board the select chain is as good.');
        self::assertLessThan($shares['reader']['U2'], $shares['board']['U2'] ?? 0.0);
    }

    /**
     * @param  array{chip?: string, where?: string, reads: list<string>, good?: string}  $what
     * @return array<string, mixed>
     */
    private function completed(array $what): array
    {
        $files = [];
        $keep = static function (string $bytes) use (&$files): array {
            $files[sha1($bytes)] = $bytes;

            return ['sha1' => sha1($bytes), 'name' => 'a file'];
        };
        $payload = ['chip' => $what['chip'] ?? 'U2', 'where' => $what['where'] ?? 'reader', 'reads' => array_map($keep, $what['reads']), ...(isset($what['good']) ? ['good' => $keep($what['good'])] : [])];
        $whole = (new RomRead)->complete((object) json_decode((string) json_encode($payload), false), $this->moment(), self::files($files));

        return (array) json_decode((string) json_encode($whole), true);
    }

    /**
     * @param  array<string, mixed>  $payload
     * @param  array<string, string>  $files
     */
    private function interpreted(array $payload, array $files): Contribution
    {
        return (new RomRead)->interpret(new Observation('1', RomRead::KIND, JsonNode::of(json_decode((string) json_encode($payload), false))), $this->moment(), self::files($files));
    }

    private function moment(): Moment
    {
        $board = Boards::shipped('larkspur-64');

        return new Moment($board, new MachineState(Settings::of($board)), Radix::Hexadecimal, Boards::modes());
    }

    /**
     * @param  array<string, string>  $files
     */
    private static function files(array $files): Attachments
    {
        return new class($files) implements Attachments
        {
            /**
             * @param  array<string, string>  $files
             */
            public function __construct(private array $files)
            {
            }

            public function has(string $sha1): bool
            {
                return isset($this->files[$sha1]);
            }

            public function bytes(string $sha1): string
            {
                return $this->files[$sha1] ?? throw new OutOfBoundsException("There is no file {$sha1}.");
            }
        };
    }

    private static function image(): string
    {
        return (new Machine(Boards::shipped('larkspur-64'), [], 1))->image('U2');
    }
}
