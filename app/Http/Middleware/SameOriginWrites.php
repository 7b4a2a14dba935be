<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\HttpException;

/**
 * Takes writes only from its own pages. The header makes a browser ask first when another site tries, and nobody
 * answers that question; origin and fetch metadata are checked besides.
 */
final class SameOriginWrites
{
    public const HEADER = 'X-Zap-Trace';

    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        if ($request->isMethodSafe()) {
            return $next($request);
        }
        $origin = $request->headers->get('Origin');
        $site = $request->headers->get('Sec-Fetch-Site');
        // The page that asks for the passphrase has no script; it must come from here all the same.
        if (! ($request->headers->has(self::HEADER) || $request->is('join'))
            || ($origin !== null && $origin !== $request->getSchemeAndHttpHost())
            || ($site !== null && $site !== 'same-origin')) {
            throw new HttpException(403, 'This request did not come from a page of Zap Trace, so nothing was stored.');
        }

        return $next($request);
    }
}
