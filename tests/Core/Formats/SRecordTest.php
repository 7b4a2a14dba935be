<?php

declare(strict_types=1);

namespace Tests\Core\Formats;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\TestCase;
use ZapTrace\Formats\MemoryImage;
use ZapTrace\Formats\SRecord;
use ZapTrace\Problems\InputRejected;

/**
 * Source: Motorola M68000 family reference, appendix on S-records (lines from memory, checksums recomputed).
 */
final class SRecordTest extends TestCase
{
    use TestTrait;

    private const HEADING = 'S00F000068656C6C6F202020202000003C';

    private const DATA = 'S11F00007C0802A6900100049421FFF07C6C1B787C8C23783C6000003863000026';

    private const COUNT = 'S5030003F9';

    private const END = 'S9030000FC';

    public function test_published_records_are_read(): void
    {
        $image = SRecord::read(self::HEADING."\n".self::DATA."\nS5030001FB\n".self::END);

        self::assertSame([0 => hex2bin('7C0802A6900100049421FFF07C6C1B787C8C23783C60000038630000')], $image->segments);
    }

    public function test_the_count_record_counts_the_data_records(): void
    {
        // S5030003F9 says three.
        self::assertSame(28, SRecord::read(implode("\n", [self::DATA, self::DATA, self::DATA, self::COUNT, self::END]))->size());
        $this->expectExceptionMessage('3 data records, but 1');
        SRecord::read(implode("\n", [self::DATA, self::COUNT, self::END]));
    }

    public function test_changing_any_digit_makes_a_record_invalid(): void
    {
        foreach ([self::HEADING, self::DATA] as $record) {
            for ($place = 2; $place < strlen($record); $place++) {
                $changed = $record;
                $changed[$place] = dechex((hexdec($record[$place]) + 1) % 16);
                try {
                    SRecord::read("{$changed}\n".self::DATA."\n".self::END);
                    self::fail("{$changed} was taken");
                } catch (InputRejected $rejected) {
                    self::assertSame('line 1', $rejected->problems[0]->place);
                }
            }
        }
    }

    public function test_what_is_written_is_read_back(): void
    {
        $this->limitTo(60)->forAll(Generators::choose(0, 0x2000000), Generators::string(), Generators::choose(1, 250))->disableShrinking()
            ->then(function (int $from, string $bytes, int $perRecord): void {
                $image = MemoryImage::contiguous($from, $bytes.'x');
                self::assertEquals($image, SRecord::read(SRecord::write($image, $perRecord)));
            });
    }
}
