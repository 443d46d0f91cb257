<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Revolt\EventLoop;
use Revolt\EventLoop\CallbackType;
use Symfony\Component\Console\Tester\CommandTester;
use Symfony\Component\DomCrawler\Crawler;
use Vorhut\Console\Application;
use Vorhut\Console\BadInput;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Mark;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\User;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Jobs;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Tests\Support\ApplicationTestCase;
use Vorhut\Web\Frame\SearchController;

/** The commands that need the database, and what the search finds. */
final class CommandsTest extends ApplicationTestCase
{
    /** @param array<string, mixed> $input */
    private function command(string $name, array $input): CommandTester
    {
        self::assertNotNull(self::$kernel);
        $tester = new CommandTester((new Application(self::$kernel))->find('vorhut:'.$name));
        $tester->execute($input);

        return $tester;
    }

    public function testImportAndExportAreTheSameBytes(): void
    {
        $file = \dirname(__DIR__, 2).'/demo/port.json';
        self::assertSame("Imported as quay-copy.\n", $this->command('import', ['file' => $file, '--slug' => 'quay-copy'])->getDisplay());
        self::assertSame(file_get_contents($file), $this->command('export', ['job' => 'quay-copy'])->getDisplay());
        self::assertNotNull(self::service(Jobs::class)->find('quay-copy'));
        $this->expectException(BadInput::class);
        $this->expectExceptionMessage('Job "nowhere" was not found');
        $this->command('export', ['job' => 'nowhere']);
    }

    public function testTheDemoIsLaidIntoAnEmptyHouseOnly(): void
    {
        $logins = sys_get_temp_dir().'/vorhut-logins-'.bin2hex(random_bytes(5));
        $job = $this->jobOf('museum');
        $shown = $this->command('demo', ['logins' => $logins])->getDisplay();
        self::assertMatchesRegularExpression('~\d+ jobs and \d+ users are here~', $shown);
        self::assertSame($shown, file_get_contents($logins));
        self::assertSame($job->slug, $this->fresh($job)->slug, 'a lost file erases nothing');

        $this->command('demo', ['logins' => $logins, '--erase' => true]);
        $slugs = array_map(static fn ($one): string => $one->slug, self::service(Jobs::class)->all());
        sort($slugs);
        self::assertSame(['museum', 'nordmole'], $slugs);
        self::assertMatchesRegularExpression('/lead +\S{12}\n/', (string) file_get_contents($logins));
        self::assertSame(0o600, fileperms($logins) & 0o777);
        unlink($logins);
    }

    public function testOneJobThatCannotBeReadStopsNeitherTheLabNorTheShelf(): void
    {
        $broken = $this->jobOf('museum');
        $well = $this->jobOf();
        $connection = self::service(EntityManagerInterface::class)->getConnection();
        $connection->executeStatement('UPDATE job SET rehearsed = 1 WHERE id IN (?, ?)', [$broken->id, $well->id]);
        $connection->executeStatement("UPDATE segment SET network = 'rubbish' WHERE job_id = ?", [$broken->id]);
        $connection->executeStatement("UPDATE job SET stamp = 'x', plan_stamp = 'x' WHERE id = ?", [$broken->id]);

        $shown = $this->command('lab', ['--seconds' => '2', '--pace' => '500'])->getDisplay();
        $repeats = static fn (string $id): bool => CallbackType::Repeat === EventLoop::getType($id);
        self::assertSame([], array_filter(EventLoop::getIdentifiers(), $repeats), 'the command looks at no job after it ended');
        self::assertSame(1, substr_count($shown, $broken->slug.': '), 'it is said once: '.$shown);
        self::assertStringContainsString($well->slug.' is played', $shown);

        $this->browser->loginUser($this->user('lead'));
        $shelf = $this->browser->request('GET', '/');
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
        $cards = $shelf->filter('.jobcard')->each(static fn (Crawler $card): string => $card->text());
        self::assertNotSame([], preg_grep('/could not be calculated.*rubbish/s', $cards));
        self::assertNotSame([], preg_grep('/tests passed/', $cards));
    }

    public function testOneOrderThatFailsStopsNoOther(): void
    {
        $job = $this->jobOf('museum');
        $orders = self::service(Orders::class);
        // Orders that another run left would be worked first.
        self::service(EntityManagerInterface::class)->getConnection()->executeStatement("UPDATE work_order SET state = 'done'");
        $all = [
            $orders->give($job, WorkOrder::WRITE, ['device' => 'nobody', 'tests' => []], 'Jo'),
            $orders->give($job, WorkOrder::PROVE, ['tests' => []], 'Jo'),
        ];
        $manager = self::service(EntityManagerInterface::class);
        // What a database does to it that refuses a value.
        $manager->close();
        self::assertFalse($manager->isOpen());

        $shown = $this->command('outpost', ['--seconds' => '3'])->getDisplay();

        self::assertStringContainsString('The device is gone.', $shown);
        self::assertSame(['failed', 'done'], array_map(
            static fn (WorkOrder $one): mixed => $manager->getConnection()->fetchOne(
                'SELECT state FROM work_order WHERE id = ?',
                [$one->id],
            ),
            $all,
        ));
        // Why one failed is said where it was given, until another went well.
        $manager->getConnection()->executeStatement("UPDATE work_order SET state = 'failed', result = 'no room' WHERE kind = 'prove'");
        $job = self::service(Jobs::class)->find($job->slug) ?? self::fail('no job');
        self::assertSame([['by' => 'Jo', 'why' => 'no room']], $orders->failedOrders($job));
        $manager->getConnection()->executeStatement(
            "INSERT INTO work_order (job_id, kind, what, ordered_by, state) VALUES (?, 'prove', '{}', 'Jo', 'done')",
            [$job->id],
        );
        self::assertSame([], $orders->failedOrders($job));
    }

    public function testAPassphraseComesFromAFileAndIsLongEnough(): void
    {
        $this->jobOf('museum');
        $file = (string) tempnam(sys_get_temp_dir(), 'vorhut');
        file_put_contents($file, "correct horse\n");
        $slug = self::service(Jobs::class)->all()[0]->slug;
        self::assertStringContainsString(
            '"sealed"',
            $this->command('export', ['job' => $slug, '--passphrase-file' => $file])->getDisplay(),
        );
        file_put_contents($file, 'short');
        $this->expectExceptionMessage('at least eight characters');
        $this->command('export', ['job' => $slug, '--passphrase-file' => $file]);
    }

    public function testAUserIsMadeAndGetsANewPasswordTheSecondTime(): void
    {
        $password = fn (string $role): string => trim(substr(
            (string) strrchr($this->command('user', ['login' => 'nora', '--name' => 'Nora Vik', '--role' => $role])->getDisplay(), ':'),
            1,
        ));
        [$first, $second] = [$password('technician'), $password('lead')];
        self::assertNotSame($first, $second);
        $users = self::service(EntityManagerInterface::class)->getRepository(User::class)->findBy(['login' => 'nora']);
        self::assertSame([['ROLE_LEAD'], 'Nora Vik'], [$users[0]->getRoles(), $users[0]->name]);
        self::assertTrue(password_verify($second, $users[0]->passwordHash));
        $this->expectExceptionMessage('not "king"');
        $this->command('user', ['login' => 'nora', '--role' => 'king']);
    }

    public function testAFaultIsOrderedFromTheCommandLine(): void
    {
        $job = $this->jobOf();
        self::assertStringContainsString(
            'wrong-mask will be played at CAM-01',
            $this->command('lab', ['job' => $job->slug, '--fault' => ['wrong-mask:CAM-01']])->getDisplay(),
        );
        $order = self::service(Orders::class)->open($this->fresh($job))[0];
        self::assertSame([WorkOrder::FAULT, 'cam-01'], [$order->kind, $order->what['device']]);
        $this->expectExceptionMessage('Unknown fault "gremlin". Known are: wrong-gateway');
        $this->command('lab', ['job' => $job->slug, '--fault' => ['gremlin:CAM-01']]);
    }

    public function testTheSearchFindsThingsByAnyOfTheirNames(): void
    {
        $plan = $this->plan($this->jobOf());
        $find = static fn (string $asked, Plan $in): ?string => SearchController::find($in, $asked);
        $port = array_values($plan->routerPorts)[0];
        $away = $plan->with(new Change(new Message('x'), [Edit::remove('routerPorts', $plan->row('routerPorts', $port->key) ?? [])]));
        self::assertSame('segments/'.$port->segment, $find((string) $port->address, $away), 'a gateway without a router');
        foreach ([
            'CAM-01' => 'devices/cam-01', 'cam-01' => 'devices/cam-01', '2104' => 'extensions/x2104', '10.64.30.12' => 'devices/vc-02',
            '10.64.20.1' => 'devices/r-core',
            '00:00:5e:00:53:04' => 'devices/ph-01', '0000.5E00.5304' => 'devices/ph-01', 'Quay' => 'segments/quay',
            '10.64.30.1' => 'devices/r-core', 'http://10.64.30.12/admin' => 'devices/vc-02',
            'HTTP://cam-01.nordmole.example:80/' => 'devices/cam-01',
            'CAM-01.nordmole.example.' => 'devices/cam-01', 'cam-01.elsewhere.example' => null, 'rtsp://192.0.2.9/live' => null,
            'hall av' => 'segments/hall', 'director' => 'devices/ph-04', 'nothing of ours' => null,
        ] as $asked => $record) {
            self::assertSame($record, $find((string) $asked, $plan), (string) $asked);
        }
    }

    public function testTheSearchReckonsWhatItDoesNotFind(): void
    {
        $this->browser->loginUser($this->user('viewer'));
        $job = $this->jobOf();
        foreach ([
            '10.40.12.77/22' => 'hosts 1022',
            '10.40.12.77 255.255.0.255' => 'not contiguous',
            '00005e0053ee' => '00:00:5e:00:53:ee',
            '10.64.40.77' => 'is free or unknown on Quay',
            '192.0.2.1' => 'lies in no segment',
            'gibberish' => 'Nothing here is called',
        ] as $asked => $answer) {
            $this->browser->request('GET', "/j/$job->slug/find?q=".rawurlencode((string) $asked));
            self::assertStringContainsString($answer, $this->browser->followRedirect()->filter('output.answer')->text(), (string) $asked);
        }
    }

    public function testAStepIsMarkedByTheRulesOfTheBench(): void
    {
        $job = $this->jobOf();
        $fixture = ['job' => $job->slug, 'tag' => 'FX-01'];
        self::assertStringStartsWith('FX-01, done: ', $this->command('mark', $fixture + ['step' => 'unpack'])->getDisplay());
        $failed = $this->command('mark', $fixture + ['--note' => 'No lamp.', '--state' => 'failed'])->getDisplay();
        self::assertStringContainsString('Next: ', $failed);
        self::assertSame(
            [MarkState::Done, MarkState::Failed],
            array_map(static fn (Mark $one): MarkState => $one->state, array_values($this->plan($this->fresh($job))->marksOf('fx-01'))),
        );
        foreach ([['--state' => 'skipped'], ['--state' => 'odd'], ['step' => 'no-such'], ['--typed' => ['dns']]] as $wrong) {
            try {
                $this->command('mark', $fixture + $wrong + ['step' => 'reach']);
                self::fail('it was taken');
            } catch (BadInput $e) {
                self::assertNotSame('', $e->getMessage());
            }
        }
    }
}
