<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\Chrome\ChromeOptions;
use Facebook\WebDriver\Exception\ElementClickInterceptedException;
use Facebook\WebDriver\Exception\StaleElementReferenceException;
use Facebook\WebDriver\Remote\DesiredCapabilities;
use Facebook\WebDriver\Remote\RemoteWebDriver;
use Facebook\WebDriver\Remote\RemoteWebElement;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use PHPUnit\Framework\TestCase;
use RuntimeException;
use Symfony\Component\Process\Process;
use Throwable;

/**
 * A technician at the keyboard: a real server with a database of its own, and a real browser.
 */
abstract class BrowserTestCase extends TestCase
{
    protected RemoteWebDriver $browser;

    private static string $folder;

    private static int $port;

    /** @var resource|null */
    private static $worker = null;

    /** @var resource|null */
    private static $server = null;

    /** @var resource|null */
    private static $chromeDriver = null;

    private static int $driverPort;

    /** @var array<string, string> */
    private static array $serverEnvironment = [];

    private static string $bind = '127.0.0.1';

    public static function setUpBeforeClass(): void
    {
        self::$folder = sys_get_temp_dir().'/zap-browser-'.bin2hex(random_bytes(6));
        mkdir(self::$folder);
        touch(self::$folder.'/test.sqlite');
        self::artisan('migrate', '--force');
        self::$port = self::freePort();
        self::startServer();
        self::$driverPort = self::freePort();
        self::$chromeDriver = self::background(['chromedriver', '--port='.self::$driverPort], []) ?: null;
        self::waitForPort(self::$driverPort);
    }

    public static function tearDownAfterClass(): void
    {
        self::killServer();
        if (self::$worker !== null) {
            proc_terminate(self::$worker, 9);
            proc_close(self::$worker);
            self::$worker = null;
        }
        if (self::$chromeDriver !== null) {
            proc_terminate(self::$chromeDriver, 9);
            proc_close(self::$chromeDriver);
        }
        (new \Illuminate\Filesystem\Filesystem)->deleteDirectory(self::$folder);
    }

    protected function setUp(): void
    {
        $options = new ChromeOptions;
        $options->addArguments([
            '--headless=new', '--no-sandbox', '--disable-dev-shm-usage', '--disable-gpu', '--window-size=1280,800', '--no-first-run',
            '--disable-background-networking', '--disable-component-update', '--disable-sync', '--disable-quic', '--lang=en-GB',
        ]);
        $capabilities = DesiredCapabilities::chrome();
        $capabilities->setCapability(ChromeOptions::CAPABILITY, $options);
        $capabilities->setCapability('goog:loggingPrefs', ['browser' => 'ALL']);
        $this->browser = RemoteWebDriver::create('http://127.0.0.1:'.self::$driverPort, $capabilities, 30000, 60000);
    }

    protected function tearDown(): void
    {
        $this->browser->quit();
    }

    protected static function artisan(string ...$arguments): void
    {
        // Not proc_open() with STDERR: that winds a log file back to where it was when this process began.
        (new Process([PHP_BINARY, self::root().'/artisan', ...$arguments], self::root(), self::environment()))->mustRun();
    }

    protected static function startServer(): void
    {
        self::$server = self::background(
            [PHP_BINARY, '-d', 'opcache.enable_cli=1', '-d', 'max_execution_time=120', '-d', 'upload_max_filesize=33M', '-d', 'post_max_size=68M', '-S', self::$bind.':'.self::$port, '-t', self::root().'/public', self::root().'/server.php'],
            [...self::environment(), ...self::$serverEnvironment],
        );
        self::waitForPort(self::$port);
    }

    /** The worker that bin/start runs beside the server. */
    protected static function startWorker(): void
    {
        self::$worker = self::background([PHP_BINARY, self::root().'/artisan', 'queue:work', '--quiet', '--sleep=1'], self::environment());
    }

    /** As a pulled plug would: no chance to tidy up. */
    protected static function killServer(): void
    {
        if (self::$server !== null) {
            proc_terminate(self::$server, 9);
            proc_close(self::$server);
            self::$server = null;
        }
    }

    /**
     * Starts the server anew, on all addresses of this machine.
     *
     * @param  array<string, string>  $environment
     */
    protected static function serveTheNetwork(array $environment): void
    {
        self::killServer();
        self::$bind = '0.0.0.0';
        self::$serverEnvironment = $environment;
        self::startServer();
    }

    /** An address of this machine that is not the loopback. */
    protected static function networkAddress(): string
    {
        foreach (explode(' ', (string) shell_exec('hostname -I')) as $address) {
            if (preg_match('/^\d+\.\d+\.\d+\.\d+$/', $address) === 1) {
                return $address;
            }
        }
        self::fail('This machine has no address on a network.');
    }

    protected function openAt(string $address, string $path): void
    {
        $this->browser->get("http://{$address}:".self::$port.$path);
    }

    protected function stage(string $name): void
    {
        $this->click("//nav[@aria-label='The round']//a[contains(., '{$name}')]");
    }

    protected function note(string ...$notes): void
    {
        foreach ($notes as $note) {
            $this->benchLine($note);
            $this->waitForText('[data-testid="bench-line-words"]', 'Kept');
        }
    }

    protected function resize(int $width, int $height): void
    {
        (new \Facebook\WebDriver\Chrome\ChromeDevToolsDriver($this->browser))->execute('Emulation.setDeviceMetricsOverride', ['width' => $width, 'height' => $height, 'deviceScaleFactor' => 1, 'mobile' => false]);
    }

    protected function open(string $path): void
    {
        $this->browser->get('http://127.0.0.1:'.self::$port.$path);
    }

    protected function press(string ...$keys): void
    {
        foreach ($keys as $key) {
            $this->browser->switchTo()->activeElement()->sendKeys($key);
        }
    }

    /** Clicks what is there; once more when it was drawn anew between looking and clicking. */
    protected function click(string $path): void
    {
        $this->until(function () use ($path): ?bool {
            try {
                $this->find($path)->click();

                return true;
            } catch (StaleElementReferenceException|ElementClickInterceptedException) {
                return null;
            }
        }, "{$path} could not be clicked.");
    }

    protected function clickButton(string $text): void
    {
        $this->click("//*[self::button or self::a][contains(normalize-space(.), '{$text}')]");
    }

    protected function button(string $text): RemoteWebElement
    {
        return $this->find("//*[self::button or self::a][contains(normalize-space(.), '{$text}')]");
    }

    /** Waits for the element behind an XPath, or behind a CSS selector when it does not start with "/". */
    protected function find(string $path): RemoteWebElement
    {
        $by = str_starts_with($path, '/') ? WebDriverBy::xpath($path) : WebDriverBy::cssSelector($path);

        return $this->until(fn (): ?RemoteWebElement => $this->browser->findElements($by)[0] ?? null, "There is no {$path} on the page.");
    }

    protected function field(string $label): RemoteWebElement
    {
        $id = $this->find("//label[contains(normalize-space(.), '{$label}')]")->getAttribute('for');

        return $this->find("//*[@id='{$id}']");
    }

    protected function waitForText(string $path, string $text): void
    {
        $by = str_starts_with($path, '/') ? WebDriverBy::xpath($path) : WebDriverBy::cssSelector($path);
        $seen = '';
        $this->until(function () use ($by, $text, &$seen): ?bool {
            try {
                $seen = implode(' | ', array_map(static fn (RemoteWebElement $element): string => $element->getText(), $this->browser->findElements($by)));
            } catch (Throwable) {
                return null; // It was drawn anew while we looked.
            }

            return str_contains($seen, $text) ? true : null;
        }, "\"{$text}\" did not come at {$path}.", $seen);
        $this->addToAssertionCount(1);
    }

    protected function startJob(string $machine, string $board): void
    {
        $this->open('/');
        $this->clickButton('New job');
        $this->waitForText('[role="dialog"] select', 'Larkspur 64');
        $this->field('Machine')->sendKeys($machine);
        self::assertSame($machine, $this->field('Machine')->getAttribute('value'));
        $this->browser->executeScript(
            'const select = document.getElementById(arguments[0]); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(select, arguments[1]); select.dispatchEvent(new Event("change", { bubbles: true }));',
            [$this->field('Board profile')->getAttribute('id'), $board],
        );
        $this->clickButton('Begin job');
        $this->waitForText('h1', $machine);
        $this->find('[data-testid="counts"]');
    }

    protected function benchLine(string $note): void
    {
        $line = $this->find('#bench-line');
        $line->click();
        $line->sendKeys($note.WebDriverKeys::ENTER);
    }

    /** No violation that axe-core knows of, and nothing in the console. */
    protected function assertAccessible(string $screen): void
    {
        usleep(400_000); // What moves in has arrived.
        $this->browser->executeScript((string) file_get_contents(self::root().'/node_modules/axe-core/axe.min.js'));
        $violations = $this->browser->executeAsyncScript('const done = arguments[0]; axe.run(document, { runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"] }).then((result) => done(result.violations.map((v) => v.id + ": " + v.help + " " + v.nodes.map((n) => n.html.slice(0, 160)).join(" ; "))), (reason) => done([String(reason)]));');
        self::assertSame([], $violations, "axe-core on {$screen}");
    }

    protected function assertQuietConsole(): void
    {
        $messages = array_filter(
            array_map(static fn (array $entry): string => $entry['message'], $this->browser->manage()->getLog('browser')),
            static fn (string $message): bool => ! str_contains($message, 'status of 422'),
        );
        self::assertSame([], array_values($messages));
    }

    protected static function file(string $name, string $content): string
    {
        file_put_contents(self::$folder."/{$name}", $content);

        return self::$folder."/{$name}";
    }

    /**
     * @template T
     *
     * @param  callable(): (T|null)  $look
     * @return T
     */
    private function until(callable $look, string $otherwise, string &$seen = ''): mixed
    {
        for ($i = 0; $i < 300; $i++) { // Half a minute: a long job is weighed in seconds on a busy machine.
            $found = $look();
            if ($found !== null) {
                return $found;
            }
            usleep(100_000);
        }
        self::fail($otherwise.($seen === '' ? '' : " Seen: {$seen}"));
    }

    /**
     * @param  list<string>  $command
     * @param  array<string, string>  $environment
     * @return resource
     */
    private static function background(array $command, array $environment)
    {
        $process = proc_open($command, [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']], $pipes, self::root(), $environment === [] ? null : $environment);

        return $process === false ? throw new RuntimeException("{$command[0]} did not start.") : $process;
    }

    /**
     * @return array<string, string>
     */
    private static function environment(): array
    {
        return [...getenv(), 'APP_ENV' => 'production', 'APP_KEY' => 'base64:AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA=', 'DB_DATABASE' => self::$folder.'/test.sqlite', 'CACHE_STORE' => 'file', 'CACHE_PATH' => self::$folder.'/cache', 'QUEUE_CONNECTION' => 'database'];
    }

    private static function freePort(): int
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0');
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($socket, false), ':'), 1);
        fclose($socket);

        return $port;
    }

    private static function waitForPort(int $port): void
    {
        for ($i = 0; $i < 300; $i++) { // Half a minute: a long job is weighed in seconds on a busy machine.
            $socket = @stream_socket_client("tcp://127.0.0.1:{$port}", timeout: 1);
            if ($socket !== false) {
                fclose($socket);

                return;
            }
            usleep(100_000);
        }
        throw new RuntimeException("Nothing answers on port {$port}.");
    }

    private static function root(): string
    {
        return dirname(__DIR__, 2);
    }
}
