<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('workshop', static function (Blueprint $table): void {
            $table->string('name')->primary();
            $table->text('value');
        });
        Schema::table('repair_jobs', static function (Blueprint $table): void {
            $table->text('workshop')->nullable();
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('workshop');
        Schema::table('repair_jobs', static function (Blueprint $table): void {
            $table->dropColumn('workshop');
        });
    }
};
