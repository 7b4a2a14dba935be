<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\Job;
use App\Models\WorkshopSetting;
use Illuminate\Support\Facades\DB;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Formats\SchemaValidator;
use ZapTrace\Ledger\Spare;
use ZapTrace\Ledger\Stock;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Workbench;

/**
 * What the workshop owns and prefers, and where a job has it otherwise.
 *
 * @phpstan-type StockEntry array{part: string, count: int, drawer: string, nanoseconds: int|null}
 * @phpstan-type Settings array{school: string, equipment: list<string>, spares: list<string>|null, stock: list<StockEntry>, confidence: float, hourlyCost: array{amount: float, currency: string}|null, radix: int|null, theme: string, learns: bool, name: string}
 */
final readonly class Workshop
{
    public function __construct(private Schemas $schemas, private PartLibrary $parts)
    {
    }

    /**
     * @return Settings
     */
    public function settings(): array
    {
        $usual = Workbench::usual();
        $settings = (object) ['school' => $usual->school->value, 'equipment' => array_map(static fn (Equipment $equipment): string => $equipment->value, $usual->equipment), 'spares' => null, 'stock' => [], 'confidence' => $usual->confidence, 'hourlyCost' => null, 'radix' => null, 'theme' => 'system', 'learns' => true, 'name' => ''];
        foreach (WorkshopSetting::query()->get() as $setting) {
            $settings->{$setting->name} = json_decode($setting->value, false, 16, JSON_THROW_ON_ERROR);
        }

        return self::of($settings);
    }

    /**
     * @param  object  $changes  decoded JSON; what it leaves out stays as it is
     *
     * @throws InputRejected with everything that is wrong with it
     */
    public function change(object $changes): void
    {
        $this->check($changes);
        DB::transaction(static function () use ($changes): void {
            foreach (get_object_vars($changes) as $name => $value) {
                WorkshopSetting::query()->updateOrCreate(['name' => $name], ['value' => json_encode($value, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE)]);
            }
        });
    }

    /**
     * Holds some settings otherwise for one job; nothing to hold it as the workshop does.
     *
     * @throws InputRejected
     */
    public function override(Job $job, ?object $changes): void
    {
        if ($changes !== null) {
            $this->check($changes);
        }
        $job->workshop = $changes === null || get_object_vars($changes) === [] ? null : json_encode($changes, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE);
    }

    public function benchOf(Job $job): Workbench
    {
        $settings = $this->settings();
        if ($job->workshop !== null) {
            $settings = self::of((object) [...$settings, ...(array) json_decode($job->workshop, false, 16, JSON_THROW_ON_ERROR)]);
        }

        return new Workbench(School::from($settings['school']), array_map(Equipment::from(...), $settings['equipment']), $settings['spares'] === null ? null : [...$settings['spares'], ...self::stock($settings, $this->parts)->fits()], $settings['confidence']);
    }

    /**
     * @param  Settings  $settings
     */
    public static function stock(array $settings, PartLibrary $parts): Stock
    {
        return new Stock(array_map(static fn (array $entry): Spare => new Spare($entry['part'], $entry['count'], $entry['drawer'], $entry['nanoseconds']), $settings['stock']), $parts);
    }

    /**
     * @throws InputRejected
     */
    private function check(object $changes): void
    {
        $problems = new ProblemList;
        (new SchemaValidator)->validate($changes, $this->schemas->get('workshop'), $problems);
        $problems->throwIfAny();
    }

    /**
     * @return Settings
     */
    private static function of(object $settings): array
    {
        $node = JsonNode::of($settings);

        $cost = $node->at('hourlyCost');

        return [
            'school' => $node->string('school'), 'equipment' => $node->strings('equipment'), 'spares' => $node->at('spares')->raw() === null ? null : $node->strings('spares'),
            'stock' => array_map(static fn (JsonNode $entry): array => [
                'part' => $entry->string('part'), 'count' => $entry->integer('count'), 'drawer' => $entry->string('drawer', ''),
                'nanoseconds' => $entry->has('nanoseconds') && $entry->at('nanoseconds')->raw() !== null ? $entry->integer('nanoseconds') : null,
            ], $node->each('stock')),
            'confidence' => $node->number('confidence'),
            'hourlyCost' => $cost->raw() === null ? null : ['amount' => $cost->number('amount'), 'currency' => $cost->string('currency')],
            'radix' => $node->at('radix')->raw() === null ? null : $node->integer('radix'),
            'theme' => $node->string('theme'), 'learns' => $node->boolean('learns', true), 'name' => $node->string('name', ''),
        ];
    }
}
