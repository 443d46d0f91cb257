<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Process\Process;
use Vorhut\Application\ImportJob;
use Vorhut\Application\RunTests;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Entity\Job;
use Vorhut\Entity\WorkOrder;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Remote\Assignments;
use Vorhut\Outpost\Remote\Pack;
use Vorhut\Outpost\Remote\Pairing;
use Vorhut\Outpost\Remote\ServerClient;
use Vorhut\Tests\Support\JobPagesTestCase;
use Vorhut\Tests\Support\Jobs;

/** The door of the outposts: a code once, a token, a signature; and what one of them may say. */
final class OutpostsTest extends JobPagesTestCase
{
    private function job(): Job
    {
        return self::service(ImportJob::class)->import(JobDocument::fromJson(
            (string) file_get_contents(\dirname(__DIR__).'/documents/outposts.json'),
            Jobs::catalogue(),
        ));
    }

    /**
     * @param array<string, mixed> $body
     *
     * @return array<mixed>|null
     */
    private function post(string $what, array $body, string $token = '', ?string $signature = null): ?array
    {
        $json = (string) json_encode($body);
        $this->browser->request('POST', '/o/'.$what, server: [
            'CONTENT_TYPE' => 'application/json',
            'HTTP_AUTHORIZATION' => 'Bearer '.$token,
            'HTTP_X_SIGNATURE' => $signature ?? ServerClient::signature($token, $json),
        ], content: $json);
        $data = json_decode((string) $this->browser->getResponse()->getContent(), true);

        return \is_array($data) ? $data : null;
    }

    private function paired(Job $job, string $address = '10.99.2.50', string $name = 'o2'): string
    {
        $code = self::service(Pairing::class)->code($this->fresh($job), 'Jo');
        $token = $this->post('pair', ['code' => str_replace('-', ' ', $code), 'name' => $name])['token'] ?? null;
        self::assertIsString($token);
        self::assertNull($this->post('work', ['adapters' => [['name' => 'eth0', 'address' => $address]]], $token));
        self::assertResponseStatusCodeSame(204);

        return $token;
    }

    public function testACodeOpensOnceAndAWrongOneNever(): void
    {
        $job = $this->job();
        $code = self::service(Pairing::class)->code($job, 'Jo');
        self::assertIsString($this->post('pair', ['code' => $code, 'name' => "o1\n<b>"])['token'] ?? null);
        self::assertSame('o1-b-', self::service(Pairing::class)->all($this->fresh($job))[0]->name);
        $this->post('pair', ['code' => $code]);
        self::assertResponseStatusCodeSame(403);
        for ($try = 0; $try < 32; ++$try) {
            $this->post('pair', ['code' => \sprintf('%04d-0000', $try)]);
            self::assertResponseStatusCodeSame(403);
        }
        // Whoever guessed so often is not even asked any more, from this address.
        $this->post('pair', ['code' => self::service(Pairing::class)->code($this->fresh($job), 'Jo')]);
        self::assertResponseStatusCodeSame(403);
    }

    public function testWorkGoesToWhoStandsThereAndIsTakenOnlyOnceAndOnlyWhatWasAsked(): void
    {
        $job = $this->job();
        $token = $this->paired($job);
        $assignments = self::service(Assignments::class);
        $tests = ['reach:hall>cam:5678/tcp', 'reach:quay>cam:5678/tcp'];
        self::service(RunTests::class)->order($this->fresh($job), $this->plan($job), $tests, 'Jo');
        $orders = self::service(Orders::class)->latest($this->fresh($job), WorkOrder::PROVE);
        self::assertCount(2, $orders, 'one for the outpost in the hall, one for the worker');
        $work = $this->post('work', ['adapters' => [['name' => 'eth0', 'address' => '10.99.2.50']]], $token) ?? self::fail('there is work');
        self::assertSame(['reach:hall>cam:5678/tcp'], $work['tests']);
        self::assertIsString($work['job']);
        self::assertStringNotContainsString('observations": [{', $work['job']);
        self::assertSame([], $work['secrets']);

        $row = static fn (string $test, string $outcome, string $key): array => [
            'key' => $key, 'test' => $test, 'outcome' => $outcome, 'detail' => "open\x07\x1b[31m", 'adapter' => 'eth0',
            'address' => '10.99.2.50',
            'onSite' => false, 'outpost' => 'somebody else', 'by' => 'the lead', 'basis' => ['a=b'], 'evidence' => ['x'],
        ];
        $key = str_repeat('a', 20);
        $rows = [
            $row('reach:hall>cam:5678/tcp', 'answers', $key),
            $row('reach:quay>cam:5678/tcp', 'answers', str_repeat('b', 20)),
            $row('reach:hall>cam:5678/tcp', 'nonsense', str_repeat('c', 20)),
            $row('reach:hall>cam:5678/tcp', 'answers', '../x'),
            'nonsense',
        ];
        self::assertSame(['new' => 1], $this->post('evidence', ['order' => $work['order'], 'rows' => $rows, 'end' => false], $token));
        self::assertSame(
            ['new' => 0],
            $this->post('evidence', ['order' => $work['order'], 'rows' => $rows, 'end' => true, 'said' => 'done'], $token),
            'sent twice is there once',
        );
        $found = $this->plan($job)->observations['reach:hall>cam:5678/tcp'] ?? [];
        self::assertCount(1, $found);
        self::assertSame(
            [true, 'o2', 'Jo', 'outposts/hall', 'eth0', '10.99.2.50'],
            [$found[0]->onSite, $found[0]->outpost, $found[0]->by, $found[0]->from, $found[0]->adapter, $found[0]->address],
            'who it is and where it stood is known here',
        );
        self::assertStringNotContainsString("\x1b", (string) $found[0]->detail);
        $more = [$row('reach:hall>cam:5678/tcp', 'silent', str_repeat('e', 20))];
        self::assertSame(
            ['new' => 0],
            $this->post('evidence', ['order' => $work['order'], 'rows' => $more, 'end' => false], $token),
            'nothing more comes in for an order that has ended',
        );
        self::assertCount(1, $this->plan($job)->observations['reach:hall>cam:5678/tcp'] ?? []);
        self::assertArrayNotHasKey('reach:quay>cam:5678/tcp', $this->plan($job)->observations);
    }

    public function testEachTestOfAnOrderIsAnsweredOnceAndInBounds(): void
    {
        $job = $this->job();
        $token = $this->paired($job);
        self::service(RunTests::class)->order($this->fresh($job), $this->plan($job), ['reach:hall>cam:5678/tcp'], 'Jo');
        $work = $this->post('work', ['adapters' => [['name' => 'eth0', 'address' => '10.99.2.50']]], $token) ?? self::fail('there is work');
        $deep = 'x';
        for ($n = 0; $n < 12; ++$n) {
            $deep = ["{of}\u{202E}", ['of' => $deep]];
        }
        $row = static fn (string $outcome): array => [
            'key' => bin2hex(random_bytes(10)), 'test' => 'reach:hall>cam:5678/tcp', 'outcome' => $outcome, 'detail' => $deep,
            'address' => '10.99.2.50', 'basis' => array_fill(0, 4100, str_repeat('f', 600)), 'evidence' => [],
        ];
        $rows = [$row('answers'), $row('silent'), $row('refuses')];
        $said = str_repeat("\x1b]0;x\x07", 90);
        self::assertSame(
            ['new' => 1],
            $this->post('evidence', ['order' => $work['order'], 'rows' => $rows, 'end' => false, 'said' => $said], $token),
        );
        self::assertSame(['new' => 0], $this->post('evidence', ['order' => $work['order'], 'rows' => [$row('silent')]], $token));
        $found = $this->plan($job)->observations['reach:hall>cam:5678/tcp'] ?? [];
        self::assertSame(['answers'], array_map(static fn ($one): string => $one->outcome, $found), 'the first one stands');
        $stored = (string) json_encode($this->plan($job)->rows('observations'));
        self::assertLessThan(4000 * 503 + 10_000, \strlen($stored));
        self::assertStringNotContainsString('202e', $stored);
        self::assertIsInt($work['order']);
        self::assertDoesNotMatchRegularExpression('/[\x00-\x1f]/', (string) self::service(Orders::class)->find($work['order'])?->result);
    }

    #[TestWith(['https://vorhut.example', true])]
    #[TestWith(['http://127.0.0.1:8400', true])]
    #[TestWith(['http://LOCALHOST:8400/x', true])]
    #[TestWith(['http://[::1]:8400', true])]
    #[TestWith(['http://localhost.evil.example', false])]
    #[TestWith(['http://127.evil.example', false])]
    #[TestWith(['http://127.0.0.1.evil.example', false])]
    #[TestWith(['http://localhost@evil.example', false])]
    #[TestWith(['https:evil', false])]
    #[TestWith(['ftp://localhost', false])]
    public function testOnlyThisMachineIsAskedInTheClear(string $server, bool $isPrivate): void
    {
        self::assertSame($isPrivate, ServerClient::isPrivate($server));
    }

    public function testAnOutpostOfAnotherJobGetsNothingAndBringsNothing(): void
    {
        $job = $this->job();
        $token = $this->paired($job);
        self::service(RunTests::class)->order($this->fresh($job), $this->plan($job), ['reach:hall>cam:5678/tcp'], 'Jo');
        $order = self::service(Orders::class)->latest($this->fresh($job), WorkOrder::PROVE)[0];
        $stranger = $this->paired($this->job(), '10.99.2.60', 'x');
        self::assertNull($this->post('work', ['adapters' => []], $stranger));
        $rows = [['key' => str_repeat('d', 20), 'test' => 'reach:hall>cam:5678/tcp', 'outcome' => 'answers', 'detail' => '']];
        self::assertSame(['new' => 0], $this->post('evidence', ['order' => $order->id, 'rows' => $rows, 'end' => true], $stranger));
        self::assertSame('waiting', self::service(Orders::class)->find((int) $order->id)?->state, 'nor ends it');
        self::assertNotNull($this->post('work', ['adapters' => []], $token), 'and whose it is gets it');
    }

    public function testWhatIsCarriedToAnotherMachineStartsThere(): void
    {
        $folder = sys_get_temp_dir().'/outpost-pack-'.getmypid();
        $root = \dirname(__DIR__, 2);
        self::assertGreaterThan(500, Pack::into($root, $folder));
        try {
            $process = new Process(['php', 'bin/outpost', '--server=http://127.0.0.1:1', '--code=1234-5678', '--seconds=1'], $folder);
            $process->run();
            self::assertStringContainsString('The server does not answer', $process->getErrorOutput().$process->getOutput());
            $open = new Process(['php', 'bin/outpost', '--server=http://192.0.2.1', '--code=1234-5678'], $folder);
            self::assertSame(2, $open->run(), 'a line that anybody reads is taken only where somebody says so');
            self::assertStringContainsString('not encrypted', $open->getErrorOutput());
            self::assertDirectoryDoesNotExist($folder.'/vendor/doctrine');
        } finally {
            (new Filesystem())->remove($folder);
        }
    }

    /** @return iterable<string, array{string, string|null}> token and signature, null for the right one */
    public static function doors(): iterable
    {
        yield 'no token' => ['', null];
        yield 'a token that never was' => [str_repeat('0', 48), null];
        yield 'another signature' => ['mine', str_repeat('0', 64)];
    }

    #[DataProvider('doors')]
    public function testWithoutTokenAndSignatureNothingIsTold(string $token, ?string $signature): void
    {
        $job = $this->job();
        $mine = $this->paired($job);
        foreach (['work', 'evidence'] as $what) {
            self::assertNull($this->post($what, ['order' => 1, 'rows' => []], 'mine' === $token ? $mine : $token, $signature));
            self::assertResponseStatusCodeSame(403);
        }
    }

    public function testWhoIsSentAwayIsNotKnownAnyMore(): void
    {
        $this->enter();
        $token = $this->paired($this->job, '10.64.40.50', 'quay-laptop');
        $slug = $this->job->slug;
        $text = $this->browser->request('GET', "/j/$slug/networks/outposts")->text();
        self::assertStringContainsString('quay-laptop', $text);
        self::assertStringContainsString('eth0 10.64.40.50', $text);
        self::assertStringContainsString('Quay', $text);
        $outpost = self::service(Pairing::class)->all($this->fresh($this->job))[0];
        $this->send('/networks/outposts', [], ['revoke' => (string) $outpost->id]);
        $this->post('work', ['adapters' => []], $token);
        self::assertResponseStatusCodeSame(403);
        // While the lab plays a job, everything is asked in the lab.
        $this->write(Edit::put('segments', 'quay', 'note', null, 'x'));
        self::assertSame('dismissed', trim($this->browser->request('GET', "/j/$slug/networks/outposts")->filter('.sign.outdated')->text()));
    }

    public function testOrderingManyTestsAsksTheDatabaseAsOftenAsOrderingOne(): void
    {
        $job = $this->fresh($this->job());
        $plan = $this->plan($job);
        $keys = array_map(static fn (ProofTest $test): string => $test->key, TestRunner::testsOf($plan, null, false));
        self::assertGreaterThan(1, \count($keys));
        $one = $this->statements(static fn () => self::service(RunTests::class)->order($job, $plan, [$keys[0]], 'Jo'));
        $all = $this->statements(static fn () => self::service(RunTests::class)->order($job, $plan, $keys, 'Jo'));
        self::assertSame($one, $all);
    }

    /** @param \Closure(): void $do */
    private function statements(\Closure $do): int
    {
        $database = self::service(EntityManagerInterface::class)->getConnection();
        $asked = static function () use ($database): int {
            $count = $database->fetchAllKeyValue("SHOW SESSION STATUS LIKE 'Questions'")['Questions'] ?? null;

            return is_numeric($count) ? (int) $count : self::fail('The database does not count.');
        };
        $before = $asked();
        $do();

        return $asked() - $before;
    }
}
