<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;

/**
 * From the counter to the owner's hand, and what surrounds it.
 */
final class WholeRoundTest extends BrowserTestCase
{
    public function test_a_machine_with_three_faults_goes_from_the_counter_to_the_owner_s_hand(): void
    {
        $this->startJob('Flood gate', 'larkspur-64');

        $this->stage('Check-in');
        $this->field('Symptom, in the owner')->sendKeys('Dark since the winter.');
        $this->click('//main//button[contains(., "Keep it")]');
        $this->waitForText('header', 'Dark since the winter.');
        $this->click('//button[contains(., "theory")]');
        $this->field('Which part does the owner suspect')->sendKeys('u1');
        $this->click('//main//button[normalize-space(.)="Record"]');
        $this->waitForText('main', 'A theory is weak evidence');
        $this->find('input[type="file"]')->sendKeys(self::file('legs.png', self::png()));
        $this->waitForText('main', 'without words');
        $this->click('//button[contains(., "without words")]');
        $this->click('[aria-label="Place a mark on the photograph"]');
        $this->field('Chip')->sendKeys('u14');
        $this->clickButton('Mark it');
        $this->waitForText('[role="dialog"]', 'U14');
        $this->assertAccessible('a photograph with a mark');
        $this->clickButton('Close');
        $this->assertAccessible('check-in');

        $this->stage('Look');
        $this->click('//main//*[@data-chip="C1"]');
        $this->find('//*[@data-chip="C1" and @aria-pressed="true"]');
        $this->clickButton('bulged');
        $this->waitForText('main', 'C1: bulged');
        $this->click('[aria-label="F1 is fine"]');
        $this->waitForText('[data-testid="checklist"]', '✓');
        $this->assertAccessible('look');

        $this->stage('Rails');
        $this->field('Reading, V')->sendKeys('4.41');
        $this->click('//main//form//button[contains(., "Record")]');
        $this->waitForText('[data-testid="rail-+5"]', 'out of limits');
        $this->waitForText('[data-testid="held"]', 'nothing measured later means much');
        $this->waitForText('[data-testid="next-step"]', 'Put the supply right first');
        $this->assertAccessible('a rail out of limits');
        $this->note('fit c1 new same', '+5 vr1 5.02', '+5 u16 4.96');
        $this->waitForText('[data-testid="rail-+5"]', 'within limits where measured');
        self::assertSame([], $this->browser->findElements(WebDriverBy::cssSelector('[data-testid="held"]')));

        $this->stage('Signs');
        $this->click('//button[contains(., "the screen stays blank")]');
        $this->waitForText('[data-testid="power-ons"]', 'the screen stays blank');
        $this->clickButton('Switched off and on again');
        $this->click('//button[contains(., "the screen stays blank")]');
        $this->waitForText('main', 'The same at 2 of 2 power-ons.');
        $this->assertAccessible('signs');

        $this->note('u2 unseated', 'reseat u2 better', 'sign garbage', 'count 5 x2', '9000 00>10', '9001 ff>ff', '9100 00>10');
        $this->waitForText('[data-testid="leading"]', 'U13');

        $this->stage('Heat');
        $this->click('//main//*[@data-chip="U13"]');
        $this->find('//*[@data-chip="U13" and @aria-pressed="true"]');
        $this->click('//main//button[normalize-space(.)="hot"]');
        $this->waitForText('main', 'U13 is hot');
        $this->waitForText('main [data-chip="U13"]', '°C');
        $this->assertAccessible('heat');

        $this->note('fit u13 tested cured');
        $this->waitForText('[data-testid="next-step"]', 'measure each leg of U13');

        $this->stage('Prove');
        $this->waitForText('main', 'Pins to measure where a part was unsoldered');
        $this->assertAccessible('prove');
        $this->click('//main//a[contains(., "pin by pin, under Traces")]');
        $this->click('//main//section[@aria-label="Pins to check"]//li[1]//button[normalize-space(.)="connected"]');
        $this->waitForText('main', '1 of 15 pins done.');
        $this->clickButton('The others are connected');
        $this->waitForText('main', '15 of 15 pins done.');
        $this->assertAccessible('the pins of a place');
        $this->waitForText('[data-testid="next-step"]', 'Prove it');
        $this->stage('Prove');
        $this->field('Several clean ones')->sendKeys('12');
        $this->click('//main//form//button[contains(., "Record")]');
        $this->waitForText('main', 'Clean power-ons: 12');
        $this->clickButton('It runs now');
        $this->waitForText('[data-testid="timer"]', 'left');
        $this->open((string) parse_url($this->browser->getCurrentURL(), PHP_URL_PATH));
        $this->waitForText('[data-testid="timer"]', 'Running: the full memory test in a loop');
        $this->clickButton('Do not count it');
        $this->find('//main[not(.//*[@data-testid="timer"])]'); // What stands below it has moved up.
        foreach (['every key', 'save to tape and load back', 'printer port', 'picture, all characters', 'a program that fills memory'] as $function) {
            $this->click("[aria-label=\"{$function} works\"]");
            $this->find("//*[@data-testid='functions']/li[.//*[@aria-label='{$function} works']]//*[@role='img' and @aria-label='works']");
            $this->find("//main//button[@aria-label='{$function} works' and not(@disabled)]");
        }
        $this->waitForText('[data-testid="proved"]', 'Proved.');
        $this->waitForText('[data-testid="next-step"]', 'To the record for the owner');
        $this->clickButton('The job is repaired');
        $this->click('//main//a[contains(., "To the record for the owner")]');

        $this->waitForText('[data-testid="record"]', 'C1 (ELCAP, reservoir capacitor): bulged.');
        $this->waitForText('[data-testid="record"]', 'U13 (4164) replaced, because');
        $this->waitForText('[data-testid="record"]', '12 clean in a row');
        $this->waitForText('[data-testid="record"]', 'Nothing is borrowed.');
        $this->assertAccessible('the record for the owner');
        $this->stage('Log');
        $this->waitForText('[data-testid="log"]', 'photograph');
        $this->assertQuietConsole();
    }

    public function test_after_four_swaps_between_two_machines_the_ledger_knows_where_everything_is(): void
    {
        $this->startJob('Grain dryer', 'tamarisk-two');
        $this->note('second works', 'exchange u33 second same works', 'exchange u34 second same works', 'swap u35 u36 same', 'exchange u31 second same works');
        $this->click('//nav//a[contains(., "Chip ledger")]');
        $this->waitForText('[data-testid="ledger"]', 'U33 of the second machine');
        $this->assertAccessible('the chip ledger');
        $this->clickButton('borrowed, 6');
        $this->waitForText('[data-testid="ledger"]', 'borrowed: it has to go back');
        self::assertCount(6, $this->browser->findElements(WebDriverBy::cssSelector('[data-testid="ledger"] > li')));
        $this->clickButton('not where they started, 8');
        $this->waitForText('[data-testid="ledger"]', 'now: U36');

        $this->click('//li[.//b[text()="U33"]]//button[contains(., "mark it")]');
        $this->field('Written on it')->sendKeys('GD-7');
        $this->click('//main//form//button[contains(., "Record")]');
        $this->waitForText('[data-testid="ledger"]', 'GD-7');

        $this->note('exchange u33 second same', 'exchange u34 second same', 'exchange u31 second same', 'swap u35 u36 same');
        $this->waitForText('main', 'Every chip is where it started.');
        $this->browser->executeScript('document.activeElement.blur()');
        $this->press('z');
        $this->waitForText('[data-testid="ledger"]', 'now: U36');
        $this->assertQuietConsole();
    }

    public function test_a_second_window_sees_what_the_first_did_and_overwrites_nothing(): void
    {
        $this->startJob('Lock house', 'larkspur-64');
        $this->stage('Check-in');
        $first = $this->browser->getWindowHandle();
        $address = $this->browser->getCurrentURL();
        $this->browser->switchTo()->newWindow('tab');
        $this->browser->get($address);
        $this->waitForText('main', 'What came over the counter');

        $this->browser->switchTo()->window($first);
        $this->note('leak u14 u15');
        $second = array_values(array_diff($this->browser->getWindowHandles(), [$first]))[0];
        $this->browser->switchTo()->window($second);
        $start = microtime(true);
        $this->waitForText('main', 'A cell or capacitor leaked near U14, U15');
        self::assertLessThan(2.5, microtime(true) - $start, 'Within two seconds, and the time to look.');

        // A symptom typed here while the other window keeps another one.
        $this->field('Symptom, in the owner')->sendKeys('Typed in the second.');
        $this->browser->executeAsyncScript('const done = arguments[1]; fetch(arguments[0], { method: "PATCH", headers: { "Content-Type": "application/json", "X-Zap-Trace": "1" }, body: JSON.stringify({ symptom: "Kept by the first." }) }).then(() => done());', [(string) preg_replace('#^.*/jobs/([^/]+)/.*$#', '/api/jobs/$1', (string) parse_url($address, PHP_URL_PATH))]);
        $this->click('//main//button[contains(., "Keep it")]');
        $this->waitForText('body', 'Kept by the first.');
        $this->assertAccessible('two windows');
    }

    public function test_a_memory_test_is_chosen_typed_in_and_its_answer_recorded(): void
    {
        $this->startJob('Tide table', 'larkspur-64');
        $this->click('//*[@role="tab"][contains(., "A test to type in")]');
        $this->waitForText('main', 'Finds stuck cells');
        self::assertStringContainsString('10 REM MARCH C-', (string) $this->find('[data-testid="listing"]')->getAttribute('value'));
        $this->assertAccessible('a test to type in');
        $this->field('What it printed')->sendKeys("1536 0 32\n1537 0 32\n2 FAILURES");
        $this->clickButton('Record what it found');
        $this->waitForText('[data-testid="leading"]', 'U14');
        $this->waitForText('[data-testid="counts"]', '2 failed');
        $this->assertQuietConsole();
    }

    public function test_a_backup_is_written_and_restored_from_the_page(): void
    {
        $this->startJob('Kept machine', 'larkspur-64');
        $this->open('/workshop');
        $this->waitForText('main', 'Write a back-up');
        $this->assertAccessible('the workshop');
        $bytes = (string) $this->browser->executeAsyncScript('const done = arguments[0]; fetch("/api/backup").then((r) => r.arrayBuffer()).then((b) => done(btoa(String.fromCharCode(...new Uint8Array(b)))));');
        $backup = self::file('bench.zapbackup', (string) base64_decode($bytes, true));

        $this->startJob('Made after the back-up', 'larkspur-64');
        $this->open('/workshop');
        $this->find('[aria-label="Back-up to restore"], input[type="file"]')->sendKeys(self::file('broken.zapbackup', 'no back-up'));
        $this->clickButton('Replace everything by it');
        $this->waitForText('[role="alert"]', 'not a back-up of Zap Trace');
        $this->find('input[type="file"]')->sendKeys($backup);
        $this->waitForText('[role="dialog"]', 'bench.zapbackup');
        $this->clickButton('Replace everything by it');
        $this->waitForText('[role="status"]', 'Restored:');
        $this->open('/');
        $this->waitForText('main', 'Kept machine');
        self::assertStringNotContainsString('Made after the back-up', $this->find('main')->getText());

        $this->field('Search every job')->sendKeys('kept larkspur');
        $this->waitForText('[data-testid="found"]', 'found by machine, board');
        $this->assertAccessible('the bench with a search');
    }

    public function test_a_device_on_the_network_is_refused_without_the_passphrase(): void
    {
        $address = self::networkAddress();
        self::serveTheNetwork(['ZAP_HOSTS' => "127.0.0.1,localhost,{$address}", 'ZAP_LAN_HASH' => password_hash('horse battery', PASSWORD_BCRYPT)]);
        $this->openAt($address, '/');
        $this->waitForText('h1', 'Join the bench');
        $this->assertAccessible('the page to join');
        $this->field('Passphrase')->sendKeys('horse'.WebDriverKeys::ENTER);
        $this->waitForText('[role="alert"]', 'That is not the passphrase');
        $this->openAt($address, '/api/jobs');
        $this->waitForText('body', 'has not joined the bench');
        $this->openAt($address, '/join');
        $this->field('Passphrase')->sendKeys('horse battery'.WebDriverKeys::ENTER);
        $this->waitForText('h1', 'On the bench');

        self::serveTheNetwork(['ZAP_HOSTS' => "127.0.0.1,localhost,{$address}", 'ZAP_LAN_HASH' => '']);
        $this->openAt($address, '/');
        $this->waitForText('body', 'answers only on the machine it runs on');
    }

    public function test_every_screen_of_the_round_is_accessible_and_fits_tablet_and_phone(): void
    {
        self::artisan('zap:demo');
        $this->open('/');
        $this->waitForText('main', 'Harbour scales');
        $this->click('//a[.//*[contains(text(), "Harbour scales")]]');
        $this->find('[data-testid="counts"]');
        $job = (string) preg_replace('#^(/jobs/[^/]+).*$#', '$1', (string) parse_url($this->browser->getCurrentURL(), PHP_URL_PATH));
        foreach (['check-in', 'look', 'rails', 'heat', 'signs', 'diagnostics', 'memory', 'confirm', 'repair', 'prove', 'log', 'ledger', 'record'] as $stage) {
            $this->resize(1280, 800);
            $this->click("//nav//a[@href='{$job}/{$stage}']");
            $this->find("//nav//a[@href='{$job}/{$stage}'][@aria-current]");
            $this->find('main h2, main article');
            // The same page at every width, as where a window is made smaller or a tablet is turned.
            foreach ([[1280, 800], [820, 1100], [390, 844]] as [$width, $height]) {
                $this->resize($width, $height);
                usleep(250_000);
                $overflow = $this->browser->executeScript('return document.documentElement.scrollWidth - innerWidth');
                self::assertLessThanOrEqual(0, $overflow, "{$stage} at {$width} is wider than the screen.");
                if ($width === 1280 || ($width === 390 && in_array($stage, ['check-in', 'memory', 'ledger'], true))) {
                    $this->assertAccessible("{$stage} at {$width}");
                }
            }
        }
        $this->resize(1280, 800);
        $this->browser->executeScript("localStorage.setItem('zap-trace.theme', 'lights-out')");
        $this->open("{$job}/check-in");
        foreach (['check-in', 'look', 'rails', 'heat', 'signs', 'prove', 'ledger', 'record'] as $stage) {
            $this->click("//nav//a[@href='{$job}/{$stage}']");
            $this->find("//nav//a[@href='{$job}/{$stage}'][@aria-current]");
            $this->find('main h2, main article');
            self::assertSame('lights-out', $this->browser->executeScript('return document.documentElement.dataset.theme'));
            $this->assertAccessible("{$stage} with the lights out");
        }
        $this->assertQuietConsole();
    }

    private static function png(): string
    {
        $image = imagecreatetruecolor(320, 200);
        imagefill($image, 0, 0, (int) imagecolorallocate($image, 210, 222, 240));
        ob_start();
        imagepng($image);

        return (string) ob_get_clean();
    }
}
