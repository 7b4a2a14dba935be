<?php

declare(strict_types=1);

namespace Tests\Core\Formats;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use ZapTrace\Formats\HexText;
use ZapTrace\Formats\MemoryImage;
use ZapTrace\Problems\InputRejected;

final class HexTextTest extends TestCase
{
    use TestTrait;

    /**
     * @return iterable<string, array{string}>
     */
    public static function forms(): iterable
    {
        yield 'colon' => ["6C00: 41 42 43 44 45 46 47 48\n6C08: 49 4A"];
        yield 'no colon' => ["6C00 41 42 43 44 45 46 47 48\r\n6C08 49 4A\r\n"];
        yield 'marked' => ["\$6C00: 41 42 43 44 45 46 47 48\n0x6C08: 49 4A"];
        yield 'characters after the bytes' => ["6C00: 41 42 43 44 45 46 47 48  ABCDEFGH\n6C08: 49 4A"];
        yield 'characters after a bar' => ["6C00: 41 42 43 44 45 46 47 48 |ab cd 00|\n6C08: 49 4A |IJ|"];
        yield 'bytes run together' => ["6C00: 41424344 45464748\n6C08: 494A"];
        yield 'comments' => ["; dump\n6C00: 41 42 43 44 45 46 47 48 ; first\n\n6C08: 49 4A"];
    }

    #[DataProvider('forms')]
    public function test_the_usual_forms_are_read(string $text): void
    {
        self::assertSame([0x6C00 => 'ABCDEFGHIJ'], HexText::read($text)->segments);
    }

    public function test_broken_lines_are_told_by_number(): void
    {
        try {
            HexText::read("6C00: 41 4\nno address here\n6C10: 41 42\n6C10: 43\n6C20:");
            self::fail('It was taken');
        } catch (InputRejected $rejected) {
            self::assertSame(['line 1', 'line 2', 'line 4', 'line 5'], array_map(static fn ($problem): string => $problem->place, $rejected->problems));
            self::assertStringContainsString('given on line 3', $rejected->problems[2]->sentence);
        }
    }

    public function test_what_is_written_is_read_back(): void
    {
        $this->limitTo(60)->forAll(Generators::choose(0, 0x20000), Generators::string(), Generators::elements([8, 16]))->disableShrinking()
            ->then(function (int $from, string $bytes, int $perLine): void {
                $image = MemoryImage::contiguous($from, $bytes.'x');
                self::assertEquals($image, HexText::read(HexText::write($image, $perLine)));
            });
    }
}
