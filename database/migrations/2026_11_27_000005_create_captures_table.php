<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('captures', static function (Blueprint $table): void {
            $table->ulid('id')->primary();
            $table->foreignUlid('job_id')->constrained('repair_jobs')->cascadeOnDelete();
            $table->string('board_slug', 80)->index();
            $table->string('name', 200);
            $table->string('role', 8)->default('sick');
            $table->string('state', 12)->default('uploading');
            $table->unsignedBigInteger('size');
            $table->unsignedBigInteger('received')->default(0);
            $table->double('progress')->default(0);
            $table->text('channels')->nullable();
            $table->text('map')->nullable();
            $table->text('lines')->nullable();
            $table->text('problems')->nullable();
            $table->text('setup')->nullable();
            $table->unsignedInteger('cycles')->nullable();
            $table->timestamps(3);
        });
        // Laravel's own tables for a queue in the database; its usual name for the first means something else here.
        Schema::create('queued', static function (Blueprint $table): void {
            $table->id();
            $table->string('queue')->index();
            $table->longText('payload');
            $table->unsignedTinyInteger('attempts');
            $table->unsignedInteger('reserved_at')->nullable();
            $table->unsignedInteger('available_at');
            $table->unsignedInteger('created_at');
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('queued');
        Schema::dropIfExists('captures');
    }
};
