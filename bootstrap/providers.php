<?php

return [
    App\Providers\ZapTraceServiceProvider::class,
];
