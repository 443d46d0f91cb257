<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\Group;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\Routing\Route;
use Symfony\Component\Routing\RouterInterface;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Picture;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Exchange\Photos;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Tests\Support\ApplicationTestCase;
use Vorhut\Web\Frame\SecurityHeaders;

#[Group('wide')]
final class PagesTest extends ApplicationTestCase
{
    /** Who may go where: the least role, for every route there is. */
    private const ROLES = [
        'login' => null, 'logout' => null, 'phone_file' => null, 'phone_file_short' => null, 'authority' => null,
        'along_worker' => null, 'along' => 'technician', 'along_marks' => 'technician',
        'write' => 'technician', 'write_many' => 'technician', 'looked' => 'technician',
        'photo' => 'viewer', 'photo_take' => 'technician', 'photo_drop' => 'technician',
        'kinds' => 'viewer', 'kind' => 'viewer', 'kind_new' => 'lead', 'kind_write' => 'lead',
        'jobs' => 'viewer', 'brief' => 'viewer', 'networks' => 'viewer', 'devices' => 'viewer', 'bench' => 'viewer',
        'services' => 'viewer', 'proof' => 'viewer', 'proof_lab' => 'viewer', 'handover' => 'viewer', 'handover_csv' => 'viewer',
        'handover_json' => 'viewer',
        'find' => 'viewer', 'cure_preview' => 'viewer', 'handover_directory' => 'viewer', 'labels' => 'viewer',
        'edit' => 'technician', 'undo' => 'technician', 'mark' => 'technician', 'secret' => 'technician',
        'label_secret' => 'technician', 'cure' => 'technician', 'prove' => 'technician', 'rehearse' => 'technician',
        'answer' => 'technician', 'wait' => 'technician', 'login_note' => 'technician',
        'people' => 'lead', 'people_new' => 'lead', 'people_change' => 'lead', 'me' => 'viewer', 'me_password' => 'viewer',
        'me_factor' => 'viewer',
        'fault' => 'technician', 'file_preview' => 'technician',
        'job_new' => 'lead', 'prepare' => 'lead', 'device_add' => 'lead', 'job_import' => 'lead', 'job_copy' => 'lead',
        'job_delete' => 'lead', 'job_card' => 'viewer',
        'add' => 'lead', 'table' => 'lead', 'remove' => 'lead', 'paste' => 'lead', 'allocate' => 'lead',
        'reach' => 'viewer', 'rules' => 'viewer', 'rules_file' => 'viewer', 'rules_take' => 'lead', 'ranges' => 'viewer',
        'ranges_ask' => 'technician', 'ranges_clean' => 'lead', 'ranges_csv' => 'viewer', 'groups' => 'viewer',
        'ipv6' => 'viewer', 'ask' => 'viewer',
        'ask_csv' => 'viewer', 'ask_dhcp' => 'viewer',
        'ask_link' => 'lead', 'ask_paste' => 'lead', 'ask_take' => 'lead', 'administrator' => null,
        'administrator_answers' => null, 'outposts' => 'viewer', 'outposts_code' => 'lead', 'outpost_pair' => null, 'outpost_work' => null,
        'outpost_evidence' => null,
        'calls' => 'viewer', 'streams' => 'viewer',
        'links' => 'viewer', 'power' => 'viewer', 'light' => 'viewer', 'sound' => 'viewer', 'numbers_paste' => 'lead',
        'bulk' => 'lead', 'adopt' => 'lead', 'refetch' => 'technician', 'pbx_table' => 'technician', 'certificate' => 'lead',
        'terminal' => 'lead', 'block' => 'lead', 'many' => 'lead',
        'handover_sealed' => 'lead', 'glossary' => 'viewer', 'about' => 'viewer',
    ];

    public function testEveryRouteHasARoleRuleAndKeepsIt(): void
    {
        $job = $this->jobOf('museum');
        $photos = self::service(Photos::class);
        $picture = Picture::fromBytes(PhotosTest::JPEG);
        $photos->keep($this->fresh($job), 'cam-1', 'unpack', $picture, new User('jo', 'Jo', 'lead'), '2026-03-01T09:00:00Z');
        $this->photo = $photos->of($this->fresh($job))[0]['id'];
        self::service(ChangeWriter::class)->write($this->fresh($job), new Change(new Message('a list'), [
            Edit::add('rangeLists', ['key' => 'cameras', 'name' => 'Cameras', 'ranges' => ['10.71.5.0/28'], 'from' => 'house']),
        ]), new User('jo', 'Jo', 'lead'));
        $ranks = ['viewer' => 1, 'technician' => 2, 'lead' => 3];
        $routes = self::service(RouterInterface::class)->getRouteCollection();
        $users = array_map($this->user(...), array_combine(array_keys($ranks), array_keys($ranks)));
        foreach ($routes as $name => $route) {
            self::assertArrayHasKey($name, self::ROLES, 'a new route needs its line in this matrix');
            $least = self::ROLES[$name];
            if (null !== $least) {
                foreach (['', ...array_keys($ranks)] as $role) {
                    $this->browser->restart();
                    if ('' !== $role) {
                        $this->browser->loginUser($users[$role]);
                    }
                    if ('' === $role) {
                        $this->browser->request(self::method($route), $this->path($route, $job->slug));
                        self::assertSame(
                            [302, 'http://localhost/login'],
                            [$this->browser->getResponse()->getStatusCode(), $this->browser->getResponse()->headers->get('Location')],
                            "$name without login",
                        );
                        continue;
                    }
                    $message = $this->refusal(self::method($route), $this->path($route, $job->slug));
                    if ($ranks[$role] < $ranks[$least]) {
                        self::assertStringContainsString('Access Denied', $message, "$name as $role");
                    } elseif ('POST' === self::method($route)) {
                        self::assertStringContainsString(
                            'too old to write',
                            $message,
                            "$name as $role: the role is enough, the missing form token is not",
                        );
                    } else {
                        self::assertSame('', $message, "$name as $role");
                        self::assertContains($this->browser->getResponse()->getStatusCode(), [200, 303], "$name as $role");
                    }
                }
            }
        }
    }

    public function testReadingAPageWritesNothing(): void
    {
        $job = $this->jobOf();
        $this->browser->loginUser($this->user('lead'));
        $connection = self::service(EntityManagerInterface::class)->getConnection();
        $writes = static function () use ($connection): array {
            $status = $connection->fetchAllKeyValue(
                "SHOW SESSION STATUS WHERE Variable_name IN ('Com_insert', 'Com_update', 'Com_delete')",
            );

            return array_map(static fn (mixed $count): int => is_numeric($count) ? (int) $count : 0, $status);
        };
        foreach (self::service(RouterInterface::class)->getRouteCollection() as $name => $route) {
            // A search without a hit leaves a note for the page that it returns to.
            if ('GET' === self::method($route) && str_starts_with($route->getPath(), '/j/') && 'find' !== $name) {
                $before = $writes();
                $this->browser->request('GET', $this->path($route, $job->slug));
                self::assertSame($before, $writes(), $name);
            }
        }
    }

    public function testNothingOfAPageComesFromElsewhereOrRunsInline(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $job = $this->jobOf();
        foreach ([
            'brief',
            'networks?from=outposts/tech&to=ra-01&port=80',
            'devices?sel=devices/cam-01',
            'bench?sel=devices/ph-07',
            'services?from=2101&digits=2102',
            'services/calls?from=2101&digits=021234567',
            'services/links?more=lesson&times=2',
            'services/streams?sel=streams/film',
            'services/power?celsius=40',
            'services/sound?samples=64+128',
            'services/light?store=sc-01&events=10+contact+1+closes',
            'proof?sel=tests/reach:tech>ra-01:80/tcp',
            'handover',
        ] as $page) {
            $crawler = $this->browser->request('GET', '/j/'.$job->slug.'/'.$page);
            self::assertSame(200, $this->browser->getResponse()->getStatusCode(), $page);
            self::assertSame(SecurityHeaders::POLICY, $this->browser->getResponse()->headers->get('Content-Security-Policy'));
            self::assertStringContainsString('no-store', (string) $this->browser->getResponse()->headers->get('Cache-Control'));
            $html = (string) $this->browser->getResponse()->getContent();
            self::assertDoesNotMatchRegularExpression('/\son[a-z]+="|\sstyle="|javascript:|<style/', $html, $page);
            self::assertCount(0, $crawler->filter('script:not([src])'), $page);
            foreach ($crawler->filter('[src], link[href], use[href]') as $node) {
                self::assertInstanceOf(\DOMElement::class, $node);
                self::assertMatchesRegularExpression('~^(/[^/]|#|data:)~', $node->getAttribute('src').$node->getAttribute('href'));
            }
        }
        self::assertStringContainsString(
            'strict',
            strtolower((string) file_get_contents(\dirname(__DIR__, 2).'/config/packages/framework.yaml')),
        );
    }

    public function testARefusalIsAPageOfOursToo(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $page = $this->browser->request('GET', '/j/nowhere/brief');
        self::assertSame(404, $this->browser->getResponse()->getStatusCode());
        self::assertStringContainsString('Job not found.', $page->filter('#page main')->text());
        self::assertCount(0, $page->filter('style, [style]'), 'the policy would forbid them');
        $this->browser->request('POST', '/j/'.$this->jobOf()->slug.'/edit');
        self::assertSame(403, $this->browser->getResponse()->getStatusCode());
        self::assertStringContainsString(
            'The page is too old to write from it. Load it again.',
            $this->browser->getCrawler()->filter('#page main')->text(),
        );
        self::assertStringContainsString('Nothing was changed.', $this->browser->getCrawler()->filter('#page main')->text());
    }

    /** @return iterable<string, array{string, string, string, string, string}> */
    public static function badInput(): iterable
    {
        yield 'address' => ['devices', 'settings/nics/cam-02.lan#address', 'planned', '10.64.040.31', 'leading zeros'];
        yield 'MAC' => ['devices', 'nics/cam-02.lan', 'mac', '01-00-5e-00-00-01', 'group address'];
        yield 'segment' => ['devices', 'nics/cam-02.lan', 'segment', 'nowhere', 'There is no'];
        yield 'network' => ['networks?sel=segments/quay', 'segments/quay', 'network', '10.64.40.9/24', 'did you mean 10.64.40.0/24'];
        yield 'pool' => ['networks?sel=segments/quay', 'segments/quay', 'pools', '10.64.40.200-100', 'backwards'];
        yield 'time zone' => ['brief', 'job/', 'timeZone', 'Moon/Sea', 'not a time zone'];
        yield 'number' => ['services', 'extensions/x2101', 'number', '21a', 'cannot be dialled'];
    }

    #[DataProvider('badInput')]
    public function testABadValueIsRefusedWhereItWasTypedAndKept(
        string $page,
        string $record,
        string $field,
        string $typed,
        string $reason,
    ): void {
        $this->browser->loginUser($this->user('lead'));
        $job = $this->jobOf();
        $before = self::service(\Vorhut\Exchange\Jobs::class)->export($this->fresh($job))->toJson();
        $this->browser->request('GET', "/j/$job->slug/$page");
        $this->send("/j/$job->slug/edit", ['record' => $record, 'field' => $field], ['value' => $typed]);
        $crawler = $this->browser->followRedirect();
        $cell = $crawler->filter('form.cell')->reduce(
            static fn ($form): bool => $form->filter('input[name=record]')->attr('value') === $record
                && $form->filter('input[name=field]')->attr('value') === $field,
        );

        self::assertSame($typed, $cell->filter('input[name=value], select[name=value] option[selected]')->attr('value'));
        self::assertStringContainsString($reason, $cell->filter('.wrong')->text());
        self::assertSame($before, self::service(\Vorhut\Exchange\Jobs::class)->export($this->fresh($job))->toJson());
    }

    public function testWhatWasRefusedStaysOnItsOwnPageAndReachesNoOtherWindow(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $job = $this->jobOf();
        $this->browser->request('GET', "/j/$job->slug/devices?sel=devices/cam-02");
        $this->send("/j/$job->slug/edit", ['record' => 'nics/cam-02.lan', 'field' => 'mac'], ['value' => 'zz']);
        $where = (string) $this->browser->getResponse()->headers->get('Location');
        self::assertMatchesRegularExpression('~devices\?sel=devices/cam-02&told=[0-9a-f]{16}$~', $where);
        self::assertCount(
            0,
            $this->browser->request('GET', "/j/$job->slug/devices")->filter('.wrong'),
            'another window of the same person',
        );
        foreach (['as the redirect', 'as the page refreshes itself'] as $time) {
            $page = $this->browser->request('GET', $where, [], [], ['HTTP_X_SINCE' => 'an older revision']);
            self::assertStringContainsString('"zz" is not a MAC', $page->filter('.wrong')->text(), $time);
        }
        self::assertStringContainsString('told=', (string) $page->filter('#pulse')->attr('hx-get'));
        self::assertSame(
            "/j/$job->slug/devices?sel=devices/cam-02",
            $page->filter('input[name=_back]')->first()->attr('value'),
            'a form comes back to the page without it',
        );
        $this->send("/j/$job->slug/edit", ['record' => 'devices/cam-02', 'field' => 'room'], ['value' => 'Quay, roof']);
        $page = $this->browser->followRedirect();
        self::assertStringContainsString('"zz" is not a MAC', $page->filter('.wrong')->text(), 'another field was saved');
        $this->send("/j/$job->slug/edit", ['record' => 'nics/cam-02.lan', 'field' => 'mac'], ['value' => '00-00-5E-00-53-F7']);
        self::assertStringNotContainsString('told=', (string) $this->browser->getResponse()->headers->get('Location'));
    }

    public function testTheSecondEditorSeesBothValuesAndChooses(): void
    {
        $this->browser->loginUser($this->user('lead'));
        $job = $this->jobOf();
        $this->browser->request('GET', "/j/$job->slug/devices");
        $this->changes()->write(
            $this->fresh($job),
            new Change(new Message('meanwhile'), [Edit::put('devices', 'cam-02', 'room', 'Quay, east', 'Quay, roof')]),
            'Jonas',
        );
        $this->send("/j/$job->slug/edit", ['record' => 'devices/cam-02', 'field' => 'room'], ['value' => 'Quay, mast']);
        $page = $this->browser->followRedirect();
        self::assertStringContainsString('Jonas wrote "Quay, roof" meanwhile.', $page->text());
        self::assertSame('Quay, roof', $this->plan($job)->devices['cam-02']->room);

        $this->send("/j/$job->slug/edit", ['record' => 'devices/cam-02', 'field' => 'room'], []);
        self::assertSame('Quay, mast', $this->plan($job)->devices['cam-02']->room, 'and may put theirs with open eyes');
    }

    public function testATechnicianDoesNotChangeThePlan(): void
    {
        $this->browser->loginUser($this->user('technician'));
        $job = $this->jobOf();
        $this->browser->request('GET', "/j/$job->slug/devices");
        $this->send("/j/$job->slug/edit", ['record' => 'devices/cam-02', 'field' => 'room'], ['value' => 'Mast']);
        self::assertSame('Mast', $this->plan($job)->devices['cam-02']->room);
        $this->browser->followRedirect();
        $this->send("/j/$job->slug/edit", ['record' => 'devices/cam-02', 'field' => 'room'], ['field' => 'tag', 'value' => 'X']);
        self::assertSame(403, $this->browser->getResponse()->getStatusCode());
    }

    public function testAnOpenPageAsksCheaplyWhetherAnythingChanged(): void
    {
        $this->browser->loginUser($this->user('viewer'));
        $job = $this->jobOf('museum');
        $crawler = $this->browser->request('GET', "/j/$job->slug/bench");
        $since = json_decode((string) $crawler->filter('#pulse')->attr('hx-headers'), true);
        self::assertIsArray($since);
        $ask = function () use ($job, $since): int {
            $this->browser->request('GET', "/j/$job->slug/bench", [], [], [
                'HTTP_X_SINCE' => \is_string($since['X-Since']) ? $since['X-Since'] : '',
            ]);

            return $this->browser->getResponse()->getStatusCode();
        };
        self::assertSame(204, $ask());
        $this->changes()->write(
            $this->fresh($job),
            new Change(new Message('x'), [Edit::put('devices', 'cam-1', 'room', 'Entrance', 'Door')]),
            'Jo',
        );
        self::assertSame(200, $ask());
    }

    public function testAPhoneGetsItsFileOnlyInTheRightOrder(): void
    {
        $job = $this->jobOf();
        self::service(\Vorhut\Secrets\Vault::class)->fill($job, $this->plan($job), 'Mara');
        $ask = function (string $mac, array $server = []) use ($job): int {
            $this->browser->request('GET', "/p/$job->fileToken/$mac.xml", [], [], $server + ['REMOTE_ADDR' => '10.64.20.31']);

            return $this->browser->getResponse()->getStatusCode();
        };
        self::assertSame(200, $ask('00005e005304'));
        self::assertStringContainsString('extension="2101"', (string) $this->browser->getResponse()->getContent());
        self::assertSame(404, $ask('00005e00530c'), 'no entry at the registrar yet');
        self::assertSame(404, $ask('00005e0053ee'), 'a stranger');
        self::assertSame(403, $ask('00005e005304', ['PHP_AUTH_USER' => 'old', 'PHP_AUTH_PW' => 'old']), 'the old provisioning user');
        $board = \Vorhut\Core\Analysis\Board::of($this->plan($job));
        self::assertSame('00-00-5E-00-53-EE', $board->strangers[0]->text('mac'));
        self::assertSame(4, $this->fetches($job), 'every fetch is written down');
        array_map($ask, ['00005e00530c', '00005e0053ee', '00005e005304']);
        self::assertSame(5, $this->fetches($job), 'the same refusal again is no news');
        self::assertCount(4, $this->plan($this->fresh($job))->rows('fetches'), 'of each sort the newest is in the snapshot');
        $this->browser->request('GET', '/p/'.str_repeat('0', 32).'/00005e005304.xml');
        self::assertSame(404, $this->browser->getResponse()->getStatusCode());
    }

    public function testTheShortPathServesAPhoneOfTheSegmentAndStopsWhoGuesses(): void
    {
        $job = $this->jobOf();
        self::service(\Vorhut\Secrets\Vault::class)->fill($job, $this->plan($job), 'Mara');
        $ask = function (string $code, string $from): int {
            $this->browser->request('GET', "/9/$code/00005e005304.xml", [], [], ['REMOTE_ADDR' => $from]);

            return $this->browser->getResponse()->getStatusCode();
        };
        $code = $job->keypadCode();
        self::assertMatchesRegularExpression('/^[0-9]{12}$/', $code);
        self::assertSame(200, $ask($code, '10.64.20.31'));
        self::assertSame(404, $ask($code, '10.64.40.7'), 'the same phone, asked for from another segment');
        self::assertSame(404, $ask($code, 'not an address'));
        // Another one each time: what was counted outlives a run.
        $guesser = '10.64.20.'.random_int(100, 249);
        $statuses = [];
        for ($i = 0; $i < 40; ++$i) {
            $statuses[] = $ask(\sprintf('%012d', $i), $guesser);
        }
        self::assertSame([404 => 30, 429 => 10], array_count_values($statuses));
        self::assertSame(429, $ask($code, $guesser), 'whoever guessed right at last gets nothing');
        self::assertSame(200, $ask($code, '10.64.20.31'), 'and nobody else is kept waiting');
    }

    public function testGuessingAPasswordIsSlowedDown(): void
    {
        $name = 'guess-'.bin2hex(random_bytes(4));
        $answers = [];
        for ($i = 0; $i < 8; ++$i) {
            $page = $this->browser->request('GET', '/login');
            $this->browser->submit($page->selectButton('Log in')->form(), ['_username' => $name, '_password' => 'wrong-'.$i]);
            $answers[] = $this->browser->followRedirect()->filter('.wrong')->text();
        }
        self::assertStringContainsString('Invalid credentials', $answers[0]);
        self::assertStringContainsString('Too many failed login attempts', $answers[7]);
    }

    public function testFormulasInATagStayTextInTheCsv(): void
    {
        $this->browser->loginUser($this->user('viewer'));
        $job = $this->jobOf('museum');
        $this->changes()->write(
            $this->fresh($job),
            new Change(new Message('x'), [Edit::put('devices', 'cam-1', 'room', 'Entrance', '=1+1;"x"')]),
            'Jo',
        );
        $this->browser->request('GET', "/j/$job->slug/handover/addresses.csv");
        self::assertStringContainsString('"\'=1+1;""x"""', (string) $this->browser->getResponse()->getContent());
        $this->browser->request('GET', "/j/$job->slug/handover/job.json");
        self::assertSame(
            self::service(\Vorhut\Exchange\Jobs::class)->export($this->fresh($job))->toJson(),
            $this->browser->getInternalResponse()->getContent(),
        );
    }

    /** Why a request was refused; '' where it was not. */
    private function refusal(string $method, string $path): string
    {
        $this->browser->catchExceptions(false);
        try {
            $this->browser->request($method, $path);
        } catch (AccessDeniedHttpException|AccessDeniedException $e) {
            return $e->getMessage();
        } finally {
            $this->browser->catchExceptions(true);
        }

        return '';
    }

    private static function method(Route $route): string
    {
        return \in_array('GET', $route->getMethods(), true) ? 'GET' : 'POST';
    }

    private int $photo = 0;

    private function path(Route $route, string $slug): string
    {
        return strtr($route->getPath(), [
            '{slug}' => $slug,
            '{section}' => 'segments',
            '{what}' => 'addresses',
            '{device}' => 'cam-1',
            '{form}' => 'csv',
            '{login}' => 'nobody',
            '{code}' => 'ptz-camera',
            '{key}' => 'cameras',
            '{token}' => str_repeat('0', 40),
            '{id}' => (string) $this->photo,
        ]);
    }

    private function fetches(Job $job): int
    {
        return \count(self::service(\Vorhut\Journal\Records::class)->whole($this->fresh($job))->rows('fetches'));
    }
}
