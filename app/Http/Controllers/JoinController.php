<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Middleware\OnlyTheBench;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Symfony\Component\HttpFoundation\Cookie;

/**
 * Lets a device of the workshop's network join, by the passphrase.
 */
final readonly class JoinController
{
    private const TRIES = 10;

    private const SECONDS = 600;

    public function __construct(private Repository $cache)
    {
    }

    public function show(): View
    {
        return view('join', ['wrong' => '']);
    }

    public function join(Request $request): RedirectResponse|Response
    {
        $hash = config('zap.lan');
        $key = 'join/'.$request->server->get('REMOTE_ADDR');
        $tries = $this->cache->get($key);
        $tries = is_int($tries) ? $tries : 0;
        if ($tries >= self::TRIES) {
            return response()->view('join', ['wrong' => 'Too many wrong passphrases. Wait ten minutes.'], 429);
        }
        if (! is_string($hash) || $hash === '' || ! password_verify($request->string('passphrase')->toString(), $hash)) {
            $this->cache->put($key, $tries + 1, self::SECONDS);

            return response()->view('join', ['wrong' => 'That is not the passphrase.'], 401);
        }
        $this->cache->forget($key);

        return redirect('/')->withCookie(new Cookie(OnlyTheBench::COOKIE, OnlyTheBench::token($hash), 0, '/', null, false, true, false, Cookie::SAMESITE_STRICT));
    }
}
