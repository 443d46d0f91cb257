<?php

declare(strict_types=1);

namespace Vorhut\Tests\Contract;

use DAMA\DoctrineTestBundle\PHPUnit\SkipDatabaseRollback;
use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Process\Process;
use Vorhut\Application\ImportJob;
use Vorhut\Application\RunTests;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Plan\Observation;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Entity\Job;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Jobs;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Outpost\Probe\Sweeper;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Remote\Pairing;
use Vorhut\Tests\Support\ApplicationTestCase;
use Vorhut\Tests\Support\KernelNetwork;

/**
 * Outposts on three segments behind a real router, each a process of its own without a database, and the application as their server:
 * what is asked from where they stand is asked there, through the kernel's own routing; while the server is cut off they work on.
 */
final class OutpostNetworkTest extends ApplicationTestCase
{
    private const HOSTS = ['srv' => 'tech', 'cam' => 'hall', 'o1' => 'tech', 'o2' => 'hall', 'o3' => 'quay', 'far' => 'yard'];

    /** @var list<Process> */
    private array $running = [];

    #[SkipDatabaseRollback]
    public function testWhatIsAskedFromASegmentIsAskedThereAndALinkThatIsCutCostsNothing(): void
    {
        $network = KernelNetwork::make(['r' => ['tech', 'hall', 'quay', 'yard']], self::HOSTS);
        if (\is_string($network)) {
            self::markTestSkipped($network);
        }
        try {
            $this->played($network);
        } finally {
            foreach ($this->running as $process) {
                $process->stop(0);
            }
            $network->close();
            $shelf = self::service(Jobs::class);
            foreach ($shelf->all() as $job) {
                if ('Boathouse' === $job->name) {
                    self::service(EntityManagerInterface::class)->remove($job);
                }
            }
            self::service(EntityManagerInterface::class)->flush();
        }
    }

    private function played(KernelNetwork $network): void
    {
        $job = $this->outpostJob();
        $network->put($this->plan($job));
        // The server is the application itself, in a namespace of its own; the database it reaches by its socket.
        $root = \dirname(__DIR__, 2);
        $ground = getenv('VORHUT_STATE_DIR') ?: $root.'/var/test';
        $socket = '/tmp/vorhut-'.substr(hash('sha256', $ground), 0, 12).'.sock';
        $database = \is_string($_SERVER['DATABASE_URL'] ?? null) ? $_SERVER['DATABASE_URL'] : '';
        $this->start($network, 'srv', ['php', '-S', '10.99.1.10:8080', '-t', 'public', 'public/index.php'], [
            'APP_ENV' => 'test',
            'VORHUT_URL' => 'http://10.99.1.10:8080',
            'VORHUT_OUTPOST' => 'site',
            'DATABASE_URL' => preg_replace('/127\.0\.0\.1:\d+/', 'localhost', $database).'?unix_socket='.$socket,
        ]);
        $this->start($network, 'cam', [
            'php', '-r', '$s = stream_socket_server("tcp://0.0.0.0:5678"); while (true) { $c = @stream_socket_accept($s, 3600); }',
        ]);
        $pairing = self::service(Pairing::class);
        foreach (['o1', 'o2', 'o3'] as $name) {
            $this->start($network, $name, [
                'php', 'bin/outpost', '--server=http://10.99.1.10:8080', '--plain', '--name='.$name,
                '--code='.$pairing->code($this->fresh($job), 'Jo'),
                '--token-file='.sys_get_temp_dir().'/outpost-'.getmypid().'-'.$name, '--seconds=120',
            ]);
        }
        $this->until(fn (): bool => 3 === $this->live($job), 'three outposts are heard');

        // Asked from all three at once: the camera on the hall's wire, reached over the router from elsewhere.
        $keys = ['reach:tech>cam:5678/tcp', 'reach:hall>cam:5678/tcp', 'reach:quay>cam:5678/tcp'];
        $this->ask($job, $keys);
        $this->until(fn (): bool => 3 === \count($this->found($job)), 'all three have looked');
        foreach ($this->found($job) as $test => $one) {
            self::assertSame('answers', $one->outcome, $test.': '.$one->detail);
            self::assertTrue($one->onSite);
        }
        self::assertSame(['o2', 'o3', 'o1'], array_map(
            static fn (Observation $one): string => $one->outpost,
            array_values($this->found($job)),
        ), 'each from where it stands: hall, quay, technical');
        $proof = Proof::of($this->plan($job));
        self::assertSame(Verdict::Passed, $proof->find($keys[2])?->verdict);

        // A range of another wire, asked from the quay: the camera takes a connection, the router refuses one, the rest is silent.
        $list = RangeList::find($this->plan($job), 'l') ?? self::fail('the list is there');
        self::service(RunTests::class)->scan($this->fresh($job), $this->plan($job), $list, 'Jo');
        $this->until(fn (): bool => isset($this->found($job)['sweep:l']), 'the range was asked');
        $sweep = $this->found($job)['sweep:l'];
        self::assertSame(['o3', '10.99.3.50'], [$sweep->outpost, $sweep->address]);
        self::assertSame(['10.99.2.1 refuses', '10.99.2.20 answers'], $sweep->evidence);

        // Over a /20 from the technical segment, while the quay is busy with what follows: two are there, and 4,092 let it wait.
        $wide = RangeList::find($this->plan($job), 'w') ?? self::fail('the list is there');
        self::service(RunTests::class)->scan($this->fresh($job), $this->plan($job), $wide, 'Jo');

        $given = microtime(true);

        // The way of the quay to the server is cut while it is asked; it works on, and brings it when the way is there again.
        $this->in($network, 'r', 'ip route add blackhole 10.99.1.10/32');
        $this->in($network, 'o3', 'ip route flush cache; true');
        $this->ask($job, [$keys[2]]);
        usleep(1_500_000);
        self::assertSame(1, $this->waiting($job), 'it waits for its outpost');
        $this->in($network, 'r', 'ip route del blackhole 10.99.1.10/32');
        $this->until(fn (): bool => 0 === $this->waiting($job), 'it was brought');

        // Cut again, now in the middle: it has taken the range and is asking, the wire of the camera goes down under it, and its own way
        // to the server too. What was asked until then and what came of it is brought once, and nothing is asked a second time.
        $before = $this->kept($job);
        self::service(RunTests::class)->scan($this->fresh($job), $this->plan($job), $list, 'Jo');
        $this->until(fn (): bool => [] !== array_filter(
            self::service(Orders::class)->open($this->fresh($job)),
            static fn (WorkOrder $order): bool => null !== $order->claimedAt && $list->key === ($order->what['list'] ?? null),
        ), 'it is under way');
        $this->in($network, 'r', 'ip route add blackhole 10.99.1.10/32; ip link set hall down');
        usleep(2_500_000);
        self::assertSame(1, $this->waiting($job), 'nobody else has taken it');
        $this->in($network, 'r', 'ip link set hall up; ip route del blackhole 10.99.1.10/32');
        $this->until(fn (): bool => 0 === $this->waiting($job), 'it was brought, once');
        self::assertSame($before + 1, $this->kept($job));
        $last = $this->found($job)['sweep:l'];
        self::assertSame('o3', $last->outpost);
        self::assertNotSame($sweep->at, $last->at);

        // The silent ones are waited for side by side: from the order to what was found in no more than 1.3 times what they take.
        $this->until(fn (): bool => isset($this->found($job)['sweep:w']), 'the /20 was asked');
        $sweep = $this->found($job)['sweep:w'];
        self::assertSame(['o1', ['10.99.16.1 refuses', '10.99.31.200 answers']], [$sweep->outpost, $sweep->evidence]);
        self::assertMatchesRegularExpression('~^4094 asked, 2 answered$~u', (string) $sweep->detail);
        $allowed = 1.3 * ceil(4092 / Sweeper::SOCKETS) * Sweeper::PATIENCE;
        self::assertLessThanOrEqual($allowed, (new \DateTimeImmutable($sweep->at))->getTimestamp() - $given);

        // Sent away: its token opens nothing any more, and what it would have been asked goes to nobody else's wire.
        foreach ($pairing->all($this->fresh($job)) as $outpost) {
            if ('o3' === $outpost->name) {
                $pairing->revoke($this->fresh($job), (int) $outpost->id);
            }
        }
        self::assertSame(2, $this->live($job));
    }

    private function outpostJob(): Job
    {
        return self::service(ImportJob::class)->import(JobDocument::fromJson(
            (string) file_get_contents(\dirname(__DIR__).'/documents/outposts.json'),
            \Vorhut\Tests\Support\Jobs::catalogue(),
        ));
    }

    /** @param list<string> $keys */
    private function ask(Job $job, array $keys): void
    {
        self::assertCount(\count($keys), TestRunner::testsOf($this->plan($job), $keys, false));
        self::service(RunTests::class)->order($this->fresh($job), $this->plan($job), $keys, 'Jo');
    }

    private function live(Job $job): int
    {
        $this->clear();
        $pairing = self::service(Pairing::class);

        return \count(array_filter($pairing->all($this->fresh($job)), $pairing->isLive(...)));
    }

    /** Orders that are open, but for the wide range, which takes its time. */
    private function waiting(Job $job): int
    {
        return \count(array_filter(
            self::service(Orders::class)->open($this->fresh($job)),
            static fn (WorkOrder $order): bool => 'w' !== ($order->what['list'] ?? null),
        ));
    }

    /** How much is kept of the range, whatever the plan is shown of it. */
    private function kept(Job $job): int
    {
        $this->clear();

        return self::service(EntityManagerInterface::class)->getRepository(\Vorhut\Entity\Observation::class)
            ->count(['job' => $this->fresh($job), 'test' => 'sweep:l']);
    }

    /** @return array<string, Observation> test → the newest */
    private function found(Job $job): array
    {
        $this->clear();
        $found = [];
        foreach ($this->plan($job)->observations as $test => $all) {
            $found[$test] = $all[\count($all) - 1];
        }
        ksort($found);

        return $found;
    }

    private function clear(): void
    {
        self::service(EntityManagerInterface::class)->clear();
    }

    /** @param \Closure(): bool $is */
    private function until(\Closure $is, string $what): void
    {
        for ($end = microtime(true) + 40; microtime(true) < $end; usleep(200_000)) {
            $this->clear();
            if ($is()) {
                return;
            }
        }
        self::fail($what.' not within 40 s. '.implode(' | ', array_map(
            static fn (Process $one): string => mb_substr($one->getOutput().$one->getErrorOutput(), -600),
            $this->running,
        )));
    }

    /**
     * @param list<string>          $command
     * @param array<string, string> $env
     */
    private function start(KernelNetwork $network, string $host, array $command, array $env = []): void
    {
        $process = $network->process($host, $command, $env);
        $process->setTimeout(180);
        $process->start();
        $this->running[] = $process;
    }

    private function in(KernelNetwork $network, string $host, string $command): void
    {
        $network->process($host, ['sh', '-c', $command])->mustRun();
    }
}
