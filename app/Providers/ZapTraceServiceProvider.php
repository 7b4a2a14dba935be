<?php

declare(strict_types=1);

namespace App\Providers;

use App\Bench\FileStore;
use App\Bench\Schemas;
use Illuminate\Support\ServiceProvider;
use ZapTrace\Bench\FaultTable;
use ZapTrace\Board\BoardReader;
use ZapTrace\Board\Sign;
use ZapTrace\Bus\Disassembler;
use ZapTrace\Memory\Listings\Lister;
use ZapTrace\Observations\Attachments;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\StepKnowledge;

/**
 * Hands the core its data files and the store of attached files.
 */
final class ZapTraceServiceProvider extends ServiceProvider
{
    public function register(): void
    {
        $this->app->singleton(Schemas::class);
        $this->app->singleton(PartLibrary::class, static fn (): PartLibrary => PartLibrary::fromJson(
            array_map(static fn (string $path): string => (string) file_get_contents($path), glob(resource_path('parts/*.json')) ?: []),
        ));
        $this->app->singleton(BoardReader::class, fn (): BoardReader => new BoardReader(
            $this->app->make(Schemas::class)->get('board'),
            $this->app->make(PartLibrary::class),
            Sign::generic((string) file_get_contents(resource_path('knowledge/signs.json'))),
        ));
        $this->app->singleton(FailureModes::class, static fn (): FailureModes => FailureModes::fromJson((string) file_get_contents(resource_path('knowledge/memory-reasoning.json'))));
        $this->app->singleton(StepKnowledge::class, static fn (): StepKnowledge => StepKnowledge::fromJson((string) file_get_contents(resource_path('knowledge/steps.json'))));
        $this->app->singleton(FaultTable::class, static fn (): FaultTable => FaultTable::fromJson((string) file_get_contents(resource_path('knowledge/bench-faults.json'))));
        $this->app->singleton(Disassembler::class, static fn (): Disassembler => Disassembler::fromJson((string) file_get_contents(resource_path('knowledge/instructions.json'))));
        $this->app->singleton(Lister::class, static function (): Lister {
            $templates = [];
            foreach (glob(resource_path('listings/*.txt')) ?: [] as $path) {
                $templates[basename($path, '.txt')] = (string) file_get_contents($path);
            }

            return new Lister($templates);
        });
        $this->app->singleton(Interpreters::class, static fn (): Interpreters => Interpreters::all());
        $this->app->bind(Attachments::class, FileStore::class);
    }
}
