<?php

declare(strict_types=1);

use App\Http\Middleware\OnlyKnownHosts;
use App\Http\Middleware\OnlyTheBench;
use App\Http\Middleware\SameOriginWrites;
use App\Http\Middleware\SecurityHeaders;
use App\Http\Problems;
use Illuminate\Foundation\Application;
use Illuminate\Foundation\Configuration\Exceptions;
use Illuminate\Foundation\Configuration\Middleware;
use Illuminate\Http\Middleware\HandleCors;
use Illuminate\Http\Request;

return Application::configure(basePath: dirname(__DIR__))
    ->withRouting(
        web: __DIR__.'/../routes/web.php',
        api: __DIR__.'/../routes/api.php',
    )
    ->withCommands([__DIR__.'/../app/Console/Commands'])
    ->withMiddleware(function (Middleware $middleware): void {
        // Same-origin only: there is nothing for CORS to do, and its package is not installed.
        $middleware->remove(HandleCors::class);
        $middleware->append([SecurityHeaders::class, OnlyKnownHosts::class, OnlyTheBench::class, SameOriginWrites::class]);
        // No cookies, no sessions: nothing in this application needs to know who asks.
        $middleware->group('web', []);
        $middleware->group('api', [Illuminate\Routing\Middleware\SubstituteBindings::class]);
    })
    ->withExceptions(function (Exceptions $exceptions): void {
        $exceptions->shouldRenderJsonWhen(static fn (Request $request): bool => $request->is('api/*') || $request->expectsJson());
        $exceptions->dontReport(ZapTrace\Problems\InputRejected::class);
        $exceptions->render(Problems::render(...));
    })
    ->create();
