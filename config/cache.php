<?php

declare(strict_types=1);

return [
    'default' => env('CACHE_STORE', 'file'),
    'stores' => [
        'array' => ['driver' => 'array', 'serialize' => false],
        'file' => ['driver' => 'file', 'path' => env('CACHE_PATH', storage_path('framework/cache/data')), 'lock_path' => env('CACHE_PATH', storage_path('framework/cache/data'))],
    ],
    'prefix' => 'zap-trace',
];
