<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\HttpException;

/**
 * Answers only under the names it was told, so that a page from elsewhere cannot reach it by pointing a name of its
 * own at this machine.
 */
final class OnlyKnownHosts
{
    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        if (! in_array($request->getHost(), (array) config('zap.hosts'), true)) {
            throw new HttpException(403, 'Zap Trace does not answer under this name. Open it at the address that bin/start printed.');
        }

        return $next($request);
    }
}
