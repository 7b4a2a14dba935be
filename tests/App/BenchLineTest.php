<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Observation;
use PHPUnit\Framework\Attributes\DataProvider;

final class BenchLineTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function notes(): iterable
    {
        yield 'a failing reading' => ['larkspur-64', '9a00 00>20', 'memory: wrote 00, read 20 at 9A00: bit 5 high, U14'];
        yield 'with blanks' => ['larkspur-64', ' 9a00  00 > 20 ', 'memory: wrote 00, read 20 at 9A00: bit 5 high, U14'];
        yield 'without an arrow' => ['larkspur-64', '9a00 20 00', 'memory: wrote 20, read 00 at 9A00: bit 5 low, U14'];
        yield 'a good reading' => ['larkspur-64', '9a00 55>55', 'memory: wrote 55, read 55 at 9A00: as it should be'];
        yield 'after a pause' => ['larkspur-64', '9a00 ff>df after 30', 'memory: wrote FF, read DF at 9A00 after 30 s: bit 5 low, U14'];
        yield 'many bits' => ['larkspur-64', '9a00 00>ff', 'memory: wrote 00, read FF at 9A00: bit 0 high, U9; bit 1 high, U10; bit 2 high, U11; bit 3 high, U12 and 4 more'];
        yield 'a word' => ['halyard-16', '1000 0000>0100', 'memory: wrote 0000, read 0100 at 001000: bit 8 high, U48'];
        yield 'a link' => ['tamarisk-two', 'lk1 16k', 'LK1 (memory layout) moved to 16K now'];
        yield 'a link as it stood' => ['tamarisk-two', 'lk1 was 16k', 'LK1 (memory layout) stood at 16K all along'];
        yield 'free memory' => ['tamarisk-two', 'free 15700 15700', "15700 at 2 power-ons alike: the machine's own test first failed at 8000, in bank 1."];
        yield 'a character' => ['larkspur-64', 'screen a for A at 0,0', 'Screen: "a" instead of "A" at column 0, row 0, which is 0400: bit 5, U14'];
        yield 'a character for a blank' => ['larkspur-64', 'screen $ at 3,2', 'Screen: "$" instead of a blank at column 3, row 2, which is 0453: bit 2, U11'];
        yield 'a count' => ['larkspur-64', 'count 3 x2', 'Test ROM: 3 flashes, 2 times alike, bit 2 of bank 0, U11, by its table'];
        yield 'a chip tester' => ['larkspur-64', 'test u14 fails', 'The chip tester fails U14'];
        yield 'a pass' => ['tamarisk-two', 'count pass', 'Plug-in tester: passed'];
        yield 'an exchange' => ['larkspur-64', 'exchange u14 cured', 'U14 exchanged for a known good one: cured'];
        yield 'a new part' => ['larkspur-64', 'fit u14 new', 'U14 replaced, not tried yet'];
        yield 'a stripe' => ['halyard-16', 'stripe 0 at 0,0', 'Screen: stripe at pixel 0 of cell 0, row 0, which is 078000: bit 15, U55'];
    }

    #[DataProvider('notes')]
    public function test_a_note_is_understood_in_words_before_it_is_kept(string $board, string $line, string $words): void
    {
        $job = $this->newJob($board);
        $understood = $this->postJson("api/jobs/{$job->id}/bench-line/understand", ['line' => $line])->assertOk();

        $this->assertAnswers('UnderstandResponse', $understood);
        self::assertSame([true, $words], [$understood->json('understood'), $understood->json('words')]);
        self::assertSame(0, Observation::query()->count(), 'Nothing is kept before Enter.');

        $kept = $this->postJson("api/jobs/{$job->id}/bench-line", ['line' => $line])->assertCreated();
        $this->assertAnswers('BenchLineResponse', $kept);
        self::assertSame(1, Observation::query()->count());
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function errors(): iterable
    {
        yield 'nothing' => ['', 'Type a short note'];
        yield 'half a reading' => ['6c00', 'not a note the bench line knows'];
        yield 'a bad number' => ['6c00 00>2g', '"2g" is not a hexadecimal number'];
        yield 'a ROM address' => ['e000 00>20', 'outside memory'];
        yield 'a link without a position' => ['lk1', 'which position? straight and crossed'];
        yield 'an unknown position' => ['lk1 sideways', 'no position "sideways"'];
        yield 'a count that the table lacks' => ['count 99', 'has no code "99". It has 1 to 8'];
        yield 'a chip that is not there' => ['reseat u99 same', 'has no chip "u99"'];
        yield 'a result that says nothing' => ['reseat u14 maybe', 'Say same, better, cured'];
        yield 'prose' => ['the screen is blank', 'not a note the bench line knows'];
        yield 'a place off the screen' => ['screen $ at 99,2', 'off the screen'];
    }

    #[DataProvider('errors')]
    public function test_what_is_not_understood_is_said_in_words(string $line, string $says): void
    {
        $job = $this->newJob();
        $understood = $this->postJson("api/jobs/{$job->id}/bench-line/understand", ['line' => $line])->assertOk();

        self::assertFalse($understood->json('understood'));
        self::assertStringContainsString($says, $understood->json('words'));
        $this->postJson("api/jobs/{$job->id}/bench-line", ['line' => $line])->assertUnprocessable();
        self::assertSame(0, Observation::query()->count());
    }

    public function test_every_form_on_the_card_is_understood(): void
    {
        $forms = $this->getJson('api/bench-forms')->assertOk();
        $this->assertAnswers('BenchFormsResponse', $forms);
        $jobs = [$this->newJob('tamarisk-two'), $this->newJob(), $this->newJob('halyard-16')];
        foreach ($forms->json('forms') as $form) {
            $understood = array_filter($jobs, fn ($job): bool => $this->postJson("api/jobs/{$job->id}/bench-line/understand", ['line' => $form['form']])->json('understood'));
            self::assertNotSame([], $understood, $form['form']);
        }
    }
}
