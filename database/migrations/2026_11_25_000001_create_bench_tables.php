<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('boards', static function (Blueprint $table): void {
            $table->string('slug')->primary();
            $table->longText('content');
            $table->timestamps(3);
        });
        Schema::create('repair_jobs', static function (Blueprint $table): void {
            $table->ulid('id')->primary();
            $table->string('machine');
            $table->string('board_slug');
            $table->text('symptom');
            $table->string('state');
            $table->unsignedTinyInteger('radix');
            $table->timestamps(3);
        });
        Schema::create('files', static function (Blueprint $table): void {
            $table->char('sha1', 40)->primary();
            $table->unsignedInteger('size');
            $table->binary('content');
        });
        Schema::create('observations', static function (Blueprint $table): void {
            $table->ulid('id')->primary();
            $table->foreignUlid('job_id')->constrained('repair_jobs')->cascadeOnDelete();
            $table->unsignedInteger('sequence');
            $table->string('kind');
            $table->longText('payload');
            $table->dateTime('made_at', 3);
            $table->dateTime('withdrawn_at', 3)->nullable();
            $table->unique(['job_id', 'sequence']);
        });
    }

    public function down(): void
    {
        foreach (['observations', 'files', 'repair_jobs', 'boards'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};
