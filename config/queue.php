<?php

declare(strict_types=1);

// Captures are decoded beside the server, by a worker that bin/start runs.
return [
    'default' => env('QUEUE_CONNECTION', 'database'),
    'connections' => [
        'sync' => ['driver' => 'sync'],
        'database' => ['driver' => 'database', 'connection' => null, 'table' => 'queued', 'queue' => 'default', 'retry_after' => 4000, 'after_commit' => true],
    ],
    'failed' => ['driver' => 'null'],
];
