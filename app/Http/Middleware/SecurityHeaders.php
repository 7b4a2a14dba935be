<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * Headers that keep the page to what it ships with: nothing is loaded from anywhere else, and nobody frames it.
 */
final class SecurityHeaders
{
    private const HEADERS = [
        // Styles are inline in places where a position is computed (the plan, the ruler), hence 'unsafe-inline' for them alone.
        'Content-Security-Policy' => "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data: blob:; connect-src 'self'; form-action 'none'; base-uri 'none'; frame-ancestors 'none'",
        'X-Content-Type-Options' => 'nosniff',
        'X-Frame-Options' => 'DENY',
        'Referrer-Policy' => 'no-referrer',
        'Cross-Origin-Opener-Policy' => 'same-origin',
        'Cross-Origin-Resource-Policy' => 'same-origin',
        'Permissions-Policy' => 'camera=(), microphone=(), geolocation=()',
    ];

    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        $response = $next($request);
        foreach (self::HEADERS as $name => $value) {
            $response->headers->set($name, $value);
        }

        if ($request->is('join')) {
            // The only form that is sent without script; without a referrer it would not say where it comes from.
            $response->headers->set('Content-Security-Policy', str_replace("form-action 'none'", "form-action 'self'", self::HEADERS['Content-Security-Policy']));
            $response->headers->set('Referrer-Policy', 'same-origin');
        }

        return $response;
    }
}
