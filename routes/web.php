<?php

declare(strict_types=1);

use App\Http\Controllers\HealthController;
use App\Http\Controllers\JoinController;
use Illuminate\Support\Facades\Route;

Route::get('/up', HealthController::class);
Route::get('/join', [JoinController::class, 'show']);
Route::post('/join', [JoinController::class, 'join']);
Route::view('/{any?}', 'page')->where('any', '^(?!api/|build/).*$');
