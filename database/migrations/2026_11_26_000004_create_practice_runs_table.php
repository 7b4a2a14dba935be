<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('practice_runs', static function (Blueprint $table): void {
            $table->ulid('id')->primary();
            $table->foreignUlid('job_id')->unique()->constrained('repair_jobs')->cascadeOnDelete();
            $table->unsignedInteger('seed');
            $table->unsignedTinyInteger('difficulty');
            $table->text('faults');
            $table->longText('acts');
            $table->double('minutes')->default(0);
            $table->unsignedInteger('steps')->default(0);
            $table->text('result')->nullable();
            $table->timestamps(3);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('practice_runs');
    }
};
