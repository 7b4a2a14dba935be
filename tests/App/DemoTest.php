<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Job;
use Illuminate\Cache\Events\KeyWritten;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\Event;

/**
 * The demonstration jobs, as a new user meets them.
 */
final class DemoTest extends TestCase
{
    public function test_each_demonstration_job_opens_with_the_suspect_that_its_log_points_at(): void
    {
        Artisan::call('zap:demo');
        $leading = [];
        foreach (Job::query()->get() as $job) {
            $answer = $this->getJson("api/jobs/{$job->id}")->assertOk();
            $leading[$job->machine] = $answer->json('job.suspects.0.site');
        }

        self::assertCount(8, $leading);
        // An over-voltage weakened every chip of this one: a search that ends too early blames the diagnostic's table.
        self::assertSame('U23', $leading['Greenhouse log']);
        self::assertSame('U14', $leading['Weather mast']);
        self::assertSame('MA0', $leading['Kiln log']);
        self::assertSame('U13', $leading['Mail order desk']);
        self::assertSame('U23', $leading['Tram panel']);
    }

    public function test_the_first_page_need_not_wait_until_they_are_weighed(): void
    {
        Artisan::call('zap:demo');
        $weighed = 0;
        Event::listen(KeyWritten::class, static function (KeyWritten $written) use (&$weighed): void {
            $weighed += str_contains($written->key, 'assessment/') ? 1 : 0;
        });
        $this->getJson('api/jobs')->assertOk();

        self::assertSame(0, $weighed);
    }
}
