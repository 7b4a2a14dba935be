<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\Remote\LocalFileDetector;

final class BoardsTest extends BrowserTestCase
{
    public function test_boards_are_shown_with_plan_chips_and_memory_map_in_both_themes(): void
    {
        $this->open('/boards');
        $this->waitForText('main', 'Halyard 16');
        $this->assertAccessible('the list of boards');
        $this->clickButton('Tamarisk Two');
        $this->waitForText('[aria-label="Memory map"]', 'LK1 at swapped');
        $this->click('[data-chip="U10"]');
        $this->waitForText('[role="status"]', 'select for bank 0');
        $this->clickButton('Turn over');
        $this->find('[aria-label*="underside"]');
        $this->assertAccessible('a board by day');
        $this->clickButton('Lights out');
        self::assertSame('lights-out', $this->find('html')->getAttribute('data-theme'));
        $this->assertAccessible('a board with the lights out');
        $this->open('/');
        $this->find('//h1');
        $this->assertAccessible('the bench with the lights out');
        $this->assertQuietConsole();
    }

    public function test_a_bad_board_file_is_refused_with_every_problem_and_a_good_one_is_taken(): void
    {
        $this->open('/boards');
        $this->find('//h1');
        $good = (string) file_get_contents(dirname(__DIR__, 2).'/resources/boards/larkspur-64.board.json');
        $board = json_decode($good, true);
        $board['slug'] = 'larkspur-mine';
        $board['chips'][3]['part'] = '9999';
        $board['banks'][0]['chips'] = array_slice($board['banks'][0]['chips'], 1);
        $board['map'][0]['when'] = ['LK7' => ['on']];
        $this->choose(self::file('bad.board.json', (string) json_encode($board)));
        $this->waitForText('[data-testid="problems"]', '/chips/3/part');
        $this->waitForText('[data-testid="problems"]', 'no chip holds D0');
        $this->waitForText('[data-testid="problems"]', 'no link or latch called LK7');
        $this->assertAccessible('a refused board file');

        $this->choose(self::file('good.board.json', str_replace('"slug": "larkspur-64"', '"slug": "larkspur-mine"', $good)));
        $this->waitForText('main', 'imported');
        $this->waitForText('h1', 'Larkspur 64');
        $this->open('/boards');
        $this->waitForText('main', 'imported');
    }

    public function test_a_job_file_is_opened_on_the_bench(): void
    {
        $board = json_decode((string) file_get_contents(dirname(__DIR__, 2).'/resources/boards/larkspur-64.board.json'));
        $job = [
            'format' => 'zap-trace-job/1', 'machine' => 'Weather mast', 'symptom' => 'Silent', 'state' => 'open', 'radix' => 16, 'openedAt' => '2026-10-01T08:00:00.000Z', 'board' => $board,
            'observations' => [['id' => '01k6f0000000000000000000aa', 'kind' => 'memory-readings', 'madeAt' => '2026-10-01T08:05:00.000Z', 'withdrawnAt' => null, 'payload' => ['text' => '6C00 00 20', 'radix' => 16]]],
            'files' => (object) [],
        ];
        $this->open('/');
        $this->find('//h1');
        $this->find('input[type=file]')->setFileDetector(new LocalFileDetector)->sendKeys(self::file('bad.job.json', '{"format":"zap-trace-job/1"}'));
        $this->waitForText('[data-testid="problems"]', 'Missing');
        $this->find('input[type=file]')->setFileDetector(new LocalFileDetector)->sendKeys(self::file('good.job.json', (string) json_encode($job)));
        $this->waitForText('h1', 'Weather mast');
        $this->waitForText('[data-testid="leading"]', 'U14');
        $this->open('/');
        $this->waitForText('main', 'Weather mast');
        $this->waitForText('main', 'U14');
        $this->assertAccessible('the bench');
    }

    private function choose(string $path): void
    {
        $this->find('input[type=file]')->setFileDetector(new LocalFileDetector)->sendKeys($path);
    }

    public function test_a_part_is_found_by_the_name_of_a_pin_and_seen_from_below(): void
    {
        $this->open('/parts');
        $this->field('Number, function')->sendKeys('multiplexers three-state inverting');
        $this->waitForText('[data-testid="parts"]', '74LS258');
        $this->click('//*[@data-testid="parts"]//button[contains(., "74LS258")]');
        $this->waitForText('[data-testid="part"]', 'takes up to 0.8 V for low');
        $this->find('//*[@role="img"][contains(@aria-label, "from above: 1 A/B input") and contains(@aria-label, "4 1Y active low output")]');
        $this->assertAccessible('the part library');
        $this->clickButton('from below');
        $this->find('//*[@role="img"][contains(@aria-label, "Pinout of 74LS258, from below")]');
        $this->clickButton('74HC258');
        $this->waitForText('[data-testid="part"]', 'takes up to 1.35 V for low');
        $this->assertQuietConsole();
    }
}
