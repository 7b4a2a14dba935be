<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Listings;

use LogicException;
use ZapTrace\Memory\Tests\MarchElement;

/**
 * Writes memory tests as listings short enough to type.
 */
final readonly class Lister
{
    /** Failures that machine code keeps. */
    public const KEPT = 31;

    /** What a processor runs at when the board does not say. */
    private const CLOCKS = ['6502' => 1_000_000, 'z80' => 2_500_000, '6809' => 1_000_000, '8088' => 4_770_000, '68000' => 8_000_000];

    /**
     * @param  array<string, string>  $templates  machine code by the value of its language
     */
    public function __construct(private array $templates)
    {
    }

    /**
     * @param  int|null  $clockHz  of the processor; null for what is usual
     */
    public function list(ListingRequest $request, ?int $clockHz = null, float $statementsPerSecond = 300.0): Listing
    {
        return $request->language->isBasic() ? $this->basic($request, $statementsPerSecond) : $this->machineCode($request, $clockHz ?? self::CLOCKS[$request->language->value] ?? 1_000_000);
    }

    private function machineCode(ListingRequest $request, int $clock): Listing
    {
        $language = $request->language;
        $template = $this->templates[$language->value] ?? throw new LogicException("There is no template for {$language->value}.");
        $segment = ListingRequest::segmentOf($request->from);
        $base = $language === Language::I8088 ? $segment * 16 : 0;
        $options = [match ($request->test->data) {
            'address' => 'both',
            'address-low' => 'low',
            'address-high' => 'high',
            'checkerboard' => 'checker',
            default => 'const',
        }];
        if ($request->pause > 0.0) {
            $options[] = 'pause';
        }
        $pauses = $request->pause > 0.0 ? $request->test->pausesBefore() : [];
        $data = [];
        foreach ($request->test->elements as $place => $element) {
            $data[] = ['label' => $place === 0 ? 'tab' : '', 'bytes' => self::element($element, in_array($place, $pauses, true)), 'comment' => $element->words().(in_array($place, $pauses, true) ? ', after a pause' : '')];
        }
        $data[] = ['label' => '', 'bytes' => [2], 'comment' => 'end of the table'];
        $data[] = ['label' => 'bgs', 'bytes' => $request->backgrounds, 'comment' => 'data backgrounds'];
        $data[] = ['label' => 'bgsend', 'bytes' => [], 'comment' => ''];
        $symbols = [
            'zp' => ListingRequest::ZERO_PAGE, 'FROM' => $request->from - $base, 'TO' => $request->to - $base, 'SEG' => $segment,
            'BGS' => count($request->backgrounds), 'PAUSE' => max(1, min(255, (int) round($request->pause * 3.0 * $clock / (self::CLOCKS[$language->value] ?? 1_000_000)))),
        ];
        $assembler = new Assembler($language);
        if ($language === Language::M68000) {
            // The results have to lie at an even address, and their number before them.
            $end = $assembler->assemble($template, $request->at, $options, $symbols + ['n' => 0, 'res' => 0], $data)->symbols['end'];
            if ($end % 2 === 0) {
                $data[] = ['label' => '', 'bytes' => [0], 'comment' => ''];
            }
        }
        $data[] = ['label' => 'n', 'bytes' => [0], 'comment' => $language === Language::M68000 ? 'number of failures' : 'failures times four'];
        $data[] = ['label' => 'res', 'bytes' => [], 'comment' => 'results: '.($language === Language::M68000 ? 'four bytes of address' : ($language->isBigEndian() ? 'address, high byte first' : 'address, low byte first')).', what it should be, what it was', 'reserve' => (2 + $language->addressBytes()) * self::KEPT];
        $assembled = $assembler->assemble($template, $request->at, $options, $symbols, $data);
        $results = $assembled->symbols['n'];

        return new Listing(
            $request, self::text($assembled, $language), $assembled->bytes(), $results, $this->secondsOf($request, $template, $clock),
            [
                sprintf('Start it at %04X%s. It takes %d bytes.', $request->at, $language === Language::I8088 ? ' of any free segment' : '', strlen($assembled->bytes())),
                sprintf('When it comes back, read memory from %04X on: first the number of failures%s, then %d bytes for each, %d at most.', $results, $language === Language::M68000 ? '' : ' times four', 2 + $language->addressBytes(), self::KEPT),
            ],
            $assembled->symbols,
        );
    }

    /**
     * @return list<int>
     */
    private static function element(MarchElement $element, bool $pause): array
    {
        $bytes = [($element->order === 'down' ? 1 : 0) | ($pause ? 4 : 0)];
        foreach ($element->operations as $operation) {
            $bytes[] = ($operation[1] === '1' ? 1 : 0) | ($operation[0] === 'w' ? 2 : 0);
        }
        $bytes[] = 0xFF;

        return $bytes;
    }

    private static function text(Assembled $assembled, Language $language): string
    {
        $mark = in_array($language, [Language::Mos6502, Language::M6809, Language::M68000], true) ? '$' : '';
        $value = static fn (int $number): string => $mark === '$' ? sprintf('$%X', $number) : sprintf('%s%XH', preg_match('/^[A-F]/', sprintf('%X', $number)) === 1 ? '0' : '', $number);
        $text = '';
        foreach ($assembled->lines as $line) {
            if ($line->bytes === [] && $line->comment === '' && $line->text === '') {
                continue;
            }
            $shown = (string) preg_replace_callback('/\b(FROM|TO|SEG|PAUSE|count)\b/', static fn (array $match): string => $value($assembled->symbols[$match[1] === 'count' ? 'BGS' : $match[1]]), $line->text);
            $bytes = implode(' ', array_map(static fn (int $byte): string => sprintf('%02X', $byte), $line->bytes));
            $text .= rtrim(sprintf('%04X  %-23s %-8s %-20s%s', $line->address, $bytes, $line->label, $shown, $line->comment === '' ? '' : "; {$line->comment}"))."\n";
        }

        return $text;
    }

    private function secondsOf(ListingRequest $request, string $template, int $clock): float
    {
        preg_match('/^# cycles: (\d+) for an operation, (\d+)/m', $template, $match);
        $words = ($request->to - $request->from + 1) * count($request->backgrounds);
        $cycles = $words * ($request->test->length() * (int) ($match[1] ?? 100) + count($request->test->elements) * (int) ($match[2] ?? 50));

        return $cycles / $clock + $this->pauses($request);
    }

    private function pauses(ListingRequest $request): float
    {
        return $request->pause * count($request->test->pausesBefore()) * count($request->backgrounds);
    }

    private function basic(ListingRequest $request, float $statementsPerSecond): Listing
    {
        $test = $request->test;
        $peek = static fn (string $variable): string => $request->language === Language::BasicPeek ? "{$variable}=PEEK(A)" : "{$variable}=?A";
        $poke = static fn (string $value): string => $request->language === Language::BasicPeek ? "POKE A,{$value}" : "?A={$value}";
        $loops = count($request->backgrounds) > 1;
        $ofAddress = match ($test->data) {
            'address' => 'D=INT(A/256):D=D*S+(A-256*D)*(1-S)',
            'address-low' => 'D=A-256*INT(A/256)',
            'address-high' => 'D=INT(A/256):D=D-256*INT(D/256)',
            'checkerboard' => 'D=85+85*(A-2*INT(A/2))',
            default => null,
        };
        $lines = [
            10 => sprintf('REM %s, %X TO %X', strtoupper($test->name), $request->from, $request->to),
            20 => "N=0:F={$request->from}:T={$request->to}",
        ];
        if ($loops) {
            $lines[30] = 'FOR K=1 TO '.count($request->backgrounds).($ofAddress === null ? ':READ D:E=255-D' : ':READ S');
        }
        $pauses = $request->pause > 0.0 ? $test->pausesBefore() : [];
        $statements = 0;
        foreach ($test->elements as $place => $element) {
            $number = 100 * ($place + 1);
            if (in_array($place, $pauses, true)) {
                $lines[$number - 10] = 'FOR Z=1 TO '.max(1, (int) round($request->pause * $statementsPerSecond)).':NEXT Z';
            }
            $lines[$number] = $element->order === 'down' ? 'FOR A=T TO F STEP -1' : 'FOR A=F TO T';
            $statements += 2;
            if ($ofAddress !== null) {
                $lines[$number += 10] = "{$ofAddress}:E=255-D";
                $statements += 2 + substr_count($ofAddress, ':');
            }
            foreach ($element->operations as $operation) {
                $value = $operation[1] === '1' ? 'E' : 'D';
                $lines[$number += 10] = $operation[0] === 'w' ? $poke($value) : $peek('X').":IF X<>{$value} THEN W={$value}:GOSUB 950";
                $statements += $operation[0] === 'w' ? 1 : 2;
            }
            $lines[$number + 10] = 'NEXT A';
        }
        if ($loops) {
            $lines[900] = 'NEXT K';
        }
        $lines[910] = 'PRINT N;" FAILURES":END';
        $lines[950] = 'N=N+1:PRINT A;" ";W;" ";X:RETURN';
        if ($loops) {
            $lines[960] = 'DATA '.implode(',', $request->backgrounds);
        }
        ksort($lines);
        $words = ($request->to - $request->from + 1) * count($request->backgrounds);

        return new Listing(
            $request, implode('', array_map(static fn (int $number, string $line): string => "{$number} {$line}\n", array_keys($lines), $lines)), null, null,
            $words * $statements / max(1.0, $statementsPerSecond) + $this->pauses($request),
            ['Choose a range that BASIC and the program itself do not use. Type it in and RUN it. For each failure it prints the address, what it should be and what it was, in decimal; at the end, how many there were.'],
        );
    }
}
