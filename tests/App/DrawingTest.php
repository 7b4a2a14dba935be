<?php

declare(strict_types=1);

namespace Tests\App;

final class DrawingTest extends TestCase
{
    public function test_a_board_of_ones_own_is_drawn_line_by_line_and_undone(): void
    {
        $begun = $this->postJson('api/drawings', ['name' => 'Copper kettle'])->assertCreated();
        $this->assertAnswers('DrawingResponse', $begun);
        $slug = $begun->json('board.slug');
        self::assertSame('copper-kettle', $slug);
        foreach (['chip u1 6502 at 60,30 socket', 'chip u2 2764 at 120,30', 'u1.9 u2.10 = A0'] as $line) {
            $drawn = $this->postJson("api/boards/{$slug}/drawing", ['line' => $line])->assertOk();
        }
        self::assertSame([['name' => 'A0', 'kind' => 'address', 'pins' => ['U1.9', 'U2.10']]], $drawn->json('nets'));
        self::assertNotEmpty($drawn->json('notices'));
        $undone = $this->postJson("api/boards/{$slug}/drawing", ['content' => $drawn->json('before')])->assertOk();
        self::assertSame([], $undone->json('nets'));
        self::assertCount(2, $undone->json('board.parts'));
        $this->postJson('api/jobs', ['machine' => 'Mine', 'board' => $slug])->assertCreated();
    }

    public function test_a_pin_that_goes_from_one_net_to_another_is_told(): void
    {
        $slug = $this->postJson('api/drawings', ['name' => 'Slip', 'from' => 'larkspur-64'])->json('board.slug');
        $this->postJson("api/boards/{$slug}/drawing", ['line' => 'chip u90 74LS00 at 60,60'])->assertOk();
        $slip = $this->postJson("api/boards/{$slug}/drawing", ['line' => 'u90.1 u90.2 u1.39 = NEWNET'])->assertOk();
        $this->assertAnswers('DrawingResponse', $slip);
        self::assertSame(['U1.39 was on PHI2; it is on NEWNET now.'], $slip->json('said'));
        self::assertSame([], $this->postJson("api/boards/{$slug}/drawing", ['content' => $slip->json('before')])->assertOk()->json('said'));
        self::assertSame(['U90.1 was on PHI2; it is on A0 now.'], [...$this->postJson("api/boards/{$slug}/drawing", ['line' => 'u90.1 = PHI2'])->json('said'), ...$this->postJson("api/boards/{$slug}/drawing", ['text' => 'A0: U1.9 U24.24 U30.3 U2.10 J3.1 U26.38 U27.11 U90.1'])->json('said')]);
    }

    public function test_a_netlist_is_taken_in_whole_or_not_at_all(): void
    {
        $slug = $this->postJson('api/drawings', ['name' => 'List'])->json('board.slug');
        $this->postJson("api/boards/{$slug}/drawing", ['line' => 'chip u1 6502'])->assertOk();
        self::assertCount(2, $this->postJson("api/boards/{$slug}/drawing", ['text' => "A0,U1,9\nA1,U1,99\nA2,U9,1"])->assertUnprocessable()->json('problems'));
        self::assertSame([], $this->getJson("api/boards/{$slug}/drawing")->json('nets'));
        self::assertCount(2, $this->postJson("api/boards/{$slug}/drawing", ['text' => "A0: U1.9\nA1: U1.10"])->assertOk()->json('nets'));
    }

    public function test_a_board_that_comes_with_the_application_is_copied_first(): void
    {
        self::assertStringContainsString('Make a copy', $this->postJson('api/boards/larkspur-64/drawing', ['line' => 'remove u9'])->assertUnprocessable()->json('problems.0.sentence'));
        $copy = $this->postJson('api/drawings', ['name' => 'Larkspur mine', 'from' => 'larkspur-64'])->assertCreated();
        self::assertSame([49, []], [count($copy->json('board.parts')), $copy->json('notices')]);
        self::assertStringContainsString('servedBy', implode(' ', array_column($this->postJson('api/boards/larkspur-mine/drawing', ['line' => 'remove u29'])->assertUnprocessable()->json('problems'), 'place')), 'What a bank leans on cannot simply go.');
    }
}
