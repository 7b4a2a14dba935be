<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::table('repair_jobs', static function (Blueprint $table): void {
            $table->text('fitted')->default('');
            $table->text('acknowledged')->default('[]');
            $table->text('timer')->nullable();
        });
    }

    public function down(): void
    {
        Schema::table('repair_jobs', static function (Blueprint $table): void {
            $table->dropColumn(['fitted', 'acknowledged', 'timer']);
        });
    }
};
