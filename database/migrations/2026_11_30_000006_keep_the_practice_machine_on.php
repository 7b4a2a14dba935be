<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::table('practice_runs', static function (Blueprint $table): void {
            $table->unsignedInteger('powered')->default(0);
            $table->string('failing_in', 16)->nullable();
        });
        // Runs that are on the bench go on with power-ons they have not had.
        DB::table('practice_runs')->update(['powered' => DB::raw('steps * 100')]);
    }

    public function down(): void
    {
        Schema::table('practice_runs', static function (Blueprint $table): void {
            $table->dropColumn(['powered', 'failing_in']);
        });
    }
};
