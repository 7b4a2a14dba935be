<?php

declare(strict_types=1);

use App\Http\Controllers\HealthController;
use Illuminate\Support\Facades\Route;

Route::get('/up', HealthController::class);
Route::view('/{any?}', 'page')->where('any', '^(?!api/|build/).*$');
