<?php

declare(strict_types=1);

use App\Http\Controllers\BackupController;
use App\Http\Controllers\BenchLineController;
use App\Http\Controllers\BoardController;
use App\Http\Controllers\CaptureController;
use App\Http\Controllers\JobController;
use App\Http\Controllers\JobFileController;
use App\Http\Controllers\ListingController;
use App\Http\Controllers\ObservationController;
use App\Http\Controllers\PartController;
use App\Http\Controllers\PhotoController;
use App\Http\Controllers\PracticeController;
use App\Http\Controllers\RecordController;
use App\Http\Controllers\RomController;
use App\Http\Controllers\SearchController;
use App\Http\Controllers\SignalController;
use App\Http\Controllers\WorkshopController;
use Illuminate\Support\Facades\Route;

Route::get('boards', [BoardController::class, 'index']);
Route::post('boards', [BoardController::class, 'store']);
Route::get('boards/{slug}', [BoardController::class, 'show']);
Route::post('drawings', [BoardController::class, 'begin']);
Route::get('boards/{slug}/drawing', [BoardController::class, 'drawing']);
Route::post('boards/{slug}/drawing', [BoardController::class, 'draw']);
Route::get('boards/{slug}/file', [BoardController::class, 'file']);

Route::get('parts', [PartController::class, 'index']);

Route::get('bench-forms', [BenchLineController::class, 'forms']);

Route::get('workshop', [WorkshopController::class, 'show']);
Route::patch('workshop', [WorkshopController::class, 'update']);
Route::get('memory-tests', [ListingController::class, 'tests']);
Route::get('jobs/{job}/listing', [ListingController::class, 'show']);
Route::get('practice', [PracticeController::class, 'index']);
Route::post('practice', [PracticeController::class, 'store']);
Route::post('jobs/{job}/practice/take', [PracticeController::class, 'take']);
Route::post('jobs/{job}/practice/step', [PracticeController::class, 'step']);
Route::post('jobs/{job}/practice/finish', [PracticeController::class, 'finish']);
Route::get('search', SearchController::class);
Route::get('backup', [BackupController::class, 'show']);
Route::post('restore', [BackupController::class, 'restore']);
Route::get('photos/{sha1}', [PhotoController::class, 'show'])->where('sha1', '[0-9a-f]{40}');

Route::get('jobs', [JobController::class, 'index']);
Route::post('jobs', [JobController::class, 'store']);
Route::post('jobs/import', [JobFileController::class, 'store']);
Route::get('jobs/{job}', [JobController::class, 'show']);
Route::get('jobs/{job}/history', [JobController::class, 'history']);
Route::get('jobs/{job}/stock', [WorkshopController::class, 'stock']);
Route::get('jobs/{job}/pulse', [JobController::class, 'pulse']);
Route::get('jobs/{job}/record.json', [RecordController::class, 'json']);
Route::get('jobs/{job}/record.md', [RecordController::class, 'markdown']);
Route::get('jobs/{job}/log.csv', [RecordController::class, 'csv']);
Route::get('jobs/{job}/signals', [SignalController::class, 'show']);
Route::get('jobs/{job}/signals/select', [SignalController::class, 'select']);
Route::get('jobs/{job}/bus', [CaptureController::class, 'index']);
Route::post('jobs/{job}/practice/capture', [CaptureController::class, 'simulate']);
Route::get('captures/{capture}/file', [CaptureController::class, 'file']);
Route::post('jobs/{job}/captures', [CaptureController::class, 'store']);
Route::post('captures/{capture}/piece', [CaptureController::class, 'piece']);
Route::post('captures/{capture}/cancel', [CaptureController::class, 'cancel']);
Route::post('captures/{capture}/remove', [CaptureController::class, 'destroy']);
Route::patch('captures/{capture}', [CaptureController::class, 'update']);
Route::post('captures/{capture}/check', [CaptureController::class, 'check']);
Route::get('captures/{capture}/ladder', [CaptureController::class, 'ladder']);
Route::post('captures/{capture}/record', [CaptureController::class, 'record']);
Route::get('jobs/{job}/rom', [RomController::class, 'show']);
Route::post('jobs/{job}/rom', [RomController::class, 'store']);
Route::get('rom/{sha1}', [RomController::class, 'bytes'])->where('sha1', '[0-9a-f]{40}');
Route::post('rom/build', [RomController::class, 'build']);
Route::get('adapter', [RomController::class, 'adapter']);
Route::post('jobs/{job}/photos', [PhotoController::class, 'store']);
Route::patch('jobs/{job}', [JobController::class, 'update']);
Route::get('jobs/{job}/file', [JobFileController::class, 'show']);

Route::post('jobs/{job}/observations', [ObservationController::class, 'store']);
Route::post('jobs/{job}/observations/file', [ObservationController::class, 'storeFile']);
Route::post('jobs/{job}/observations/{observation}/withdraw', [ObservationController::class, 'withdraw'])->scopeBindings();
Route::post('jobs/{job}/observations/{observation}/restore', [ObservationController::class, 'restore'])->scopeBindings();

Route::post('jobs/{job}/bench-line/understand', [BenchLineController::class, 'understand']);
Route::post('jobs/{job}/bench-line', [BenchLineController::class, 'store']);
