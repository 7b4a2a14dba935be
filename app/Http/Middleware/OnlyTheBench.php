<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\HttpException;

/**
 * Answers this machine alone, and devices on the workshop's network that gave the passphrase.
 */
final class OnlyTheBench
{
    public const COOKIE = 'zap_bench';

    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        if (self::isHere($request)) {
            return $next($request);
        }
        $hash = config('zap.lan');
        if (! is_string($hash) || $hash === '') {
            throw new HttpException(403, 'Zap Trace answers only on the machine it runs on. Start it with bin/start --lan to let others join.');
        }
        if ($request->is('join') || hash_equals(self::token($hash), (string) $request->cookies->get(self::COOKIE))) {
            return $next($request);
        }
        if ($request->is('api/*')) {
            throw new HttpException(401, 'This device has not joined the bench. Open the address that bin/start printed, and give the passphrase.');
        }

        return redirect('/join');
    }

    /** What a device that gave the passphrase shows from then on. A new passphrase makes all of them worthless. */
    public static function token(string $hash): string
    {
        $key = config('app.key');

        return hash_hmac('sha256', "bench {$hash}", is_string($key) ? $key : '');
    }

    private static function isHere(Request $request): bool
    {
        $address = (string) $request->server->get('REMOTE_ADDR');

        return $address === '::1' || str_starts_with($address, '127.') || str_starts_with($address, '::ffff:127.');
    }
}
