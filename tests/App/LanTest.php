<?php

declare(strict_types=1);

namespace Tests\App;

use App\Http\Middleware\OnlyTheBench;
use Symfony\Component\HttpFoundation\Cookie;

/**
 * Who is answered: this machine, and devices on the workshop's network that gave the passphrase.
 */
final class LanTest extends TestCase
{
    public function test_without_leave_nothing_but_this_machine_is_answered(): void
    {
        foreach (['/', '/api/jobs', '/join'] as $path) {
            $this->from('192.0.2.7')->get($path)->assertForbidden();
        }
        $this->from('127.0.0.1')->getJson('/api/jobs')->assertOk();
        $this->from('::1')->getJson('/api/jobs')->assertOk();
    }

    public function test_a_device_joins_with_the_passphrase_and_not_without(): void
    {
        $this->allow('horse battery');
        $this->from('192.0.2.7')->getJson('/api/jobs')->assertUnauthorized();
        $this->from('192.0.2.7')->get('/')->assertRedirect('/join');
        $this->from('192.0.2.7')->get('/join')->assertOk()->assertSee('Join the bench');
        $this->from('192.0.2.7')->post('/join', ['passphrase' => 'horse'])->assertUnauthorized()->assertSee('not the passphrase');

        $joined = $this->from('192.0.2.7')->post('/join', ['passphrase' => 'horse battery'])->assertRedirect('/');
        $cookie = collect($joined->headers->getCookies())->first(static fn (Cookie $cookie): bool => $cookie->getName() === OnlyTheBench::COOKIE);
        self::assertNotNull($cookie);
        self::assertTrue($cookie->isHttpOnly());
        self::assertSame('strict', $cookie->getSameSite());
        $this->from('192.0.2.7')->call('GET', '/api/jobs', [], [OnlyTheBench::COOKIE => (string) $cookie->getValue()])->assertOk();
    }

    public function test_another_passphrase_makes_the_old_leave_worthless(): void
    {
        $this->allow('horse battery');
        $old = OnlyTheBench::token((string) config('zap.lan'));
        $this->allow('staple correct');

        $this->from('192.0.2.7')->call('GET', '/api/jobs', [], [OnlyTheBench::COOKIE => $old], [], ['HTTP_ACCEPT' => 'application/json'])->assertUnauthorized();
    }

    public function test_guessing_is_stopped(): void
    {
        $this->allow('horse battery');
        for ($try = 0; $try < 10; $try++) {
            $this->from('192.0.2.9')->post('/join', ['passphrase' => "guess {$try}"])->assertUnauthorized();
        }
        $this->from('192.0.2.9')->post('/join', ['passphrase' => 'horse battery'])->assertStatus(429);
        $this->from('192.0.2.7')->post('/join', ['passphrase' => 'horse battery'])->assertRedirect('/');
    }

    public function test_a_page_from_elsewhere_cannot_join_in_somebody_s_name(): void
    {
        $this->allow('horse battery');
        $this->from('192.0.2.7')->withHeaders(['Origin' => 'http://elsewhere.example', 'Sec-Fetch-Site' => 'cross-site'])->post('/join', ['passphrase' => 'horse battery'])->assertForbidden();
    }

    private function allow(string $passphrase): void
    {
        config(['zap.lan' => password_hash($passphrase, PASSWORD_BCRYPT, ['cost' => 4])]);
    }

    /** @return $this */
    public function from($url): static
    {
        $this->withServerVariables(['HTTP_HOST' => '127.0.0.1', 'REMOTE_ADDR' => $url]);

        return $this;
    }
}
