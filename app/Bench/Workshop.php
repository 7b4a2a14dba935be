<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\Job;
use App\Models\WorkshopSetting;
use Illuminate\Support\Facades\DB;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Formats\SchemaValidator;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Workbench;

/**
 * What the workshop owns and prefers, and where a job has it otherwise.
 *
 * @phpstan-type Settings array{school: string, equipment: list<string>, spares: list<string>|null}
 */
final readonly class Workshop
{
    public function __construct(private Schemas $schemas)
    {
    }

    /**
     * @return Settings
     */
    public function settings(): array
    {
        $usual = Workbench::usual();
        $settings = (object) ['school' => $usual->school->value, 'equipment' => array_map(static fn (Equipment $equipment): string => $equipment->value, $usual->equipment), 'spares' => null];
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

        return new Workbench(School::from($settings['school']), array_map(Equipment::from(...), $settings['equipment']), $settings['spares']);
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

        return ['school' => $node->string('school'), 'equipment' => $node->strings('equipment'), 'spares' => $node->at('spares')->raw() === null ? null : $node->strings('spares')];
    }
}
