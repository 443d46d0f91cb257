<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Voice\FetchGuard;
use Vorhut\Provisioning\FastPath;
use Vorhut\Provisioning\FileRequest;
use Vorhut\Provisioning\FileResponse;
use Vorhut\Provisioning\FileServer;
use Vorhut\Provisioning\PhoneFileCache;
use Vorhut\Secrets\Secrets;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\JobPagesTestCase;

/** Files of phones: from where, how long, how often, by both doors; and what is written down of it. */
final class ProvisioningTest extends JobPagesTestCase
{
    private const MAC = '00005e005304';
    private const PHONE = '10.64.20.31';

    protected function enter(string $role = 'lead', string $demo = 'port'): void
    {
        parent::enter($role, $demo);
        self::service(Vault::class)->fill($this->fresh($this->job), $this->plan($this->job), 'Mara');
    }

    private function ask(string $from = self::PHONE, string $mac = self::MAC, string $method = 'GET'): int
    {
        $this->browser->request($method, '/p/'.$this->job->fileToken.'/'.$mac.'.xml', server: ['REMOTE_ADDR' => $from]);

        return $this->browser->getResponse()->getStatusCode();
    }

    /** @return array{int, string} status and file; 0 where the house is to be asked */
    private function quick(
        string $from = self::PHONE,
        string $method = 'GET',
        string $login = '',
        ?int $now = null,
        ?Secrets $secrets = null,
        bool $isSealed = false,
    ): array {
        $database = self::service(EntityManagerInterface::class)->getConnection()->getNativeConnection();
        self::assertInstanceOf(\PDO::class, $database);
        $path = '/p/'.$this->job->fileToken.'/00-00-5E-00-53-04.xml';
        $door = new FastPath($database, $secrets ?? self::service(Secrets::class));
        $question = FileRequest::tryOf($method, $path, $from, "Phone\0/1", '' !== $login, $isSealed);
        self::assertNotNull($question);
        $served = $door->answer($question, $now ?? time());

        return null === $served ? [0, ''] : [$served->status, $served->body];
    }

    private function fetches(): int
    {
        $connection = self::service(EntityManagerInterface::class)->getConnection();
        $count = $connection->fetchOne('SELECT COUNT(*) FROM file_fetch WHERE job_id = ?', [$this->job->id]);

        return is_numeric($count) ? (int) $count : -1;
    }

    public function testItIsHandedOutToNetworksOfTheJobAndToWhereASegmentSaysSo(): void
    {
        $this->enter();
        $before = $this->fetches();
        self::assertSame(403, $this->ask('192.0.2.7'));
        self::assertSame(403, $this->ask('127.0.0.1'), 'nobody plays this job in the lab');
        self::assertSame(403, $this->ask('2001:db8::1'));
        self::assertSame(200, $this->ask('10.64.10.9'), 'another network of the job');
        self::assertSame($before + 2, $this->fetches(), 'strangers are written down, the same again is no news');
        $this->write(Edit::put('segments', 'voice', 'fetchFrom', null, ['192.0.2.7-192.0.2.9']));
        self::assertSame(200, $this->ask('192.0.2.7'));
        self::assertSame(403, $this->ask('10.64.10.9'), 'then from there alone');
        $count = $this->fetches();
        self::assertSame(200, $this->ask('192.0.2.7', method: 'HEAD'));
        self::assertSame($count, $this->fetches(), 'whoever only looks has taken nothing');
    }

    public function testOnePhoneThatAsksOnAndOnIsHeldUpAndNobodyBesideIt(): void
    {
        $this->enter();
        $from = '10.64.20.'.random_int(100, 200);
        $answers = array_map(fn (): int => $this->ask($from), range(1, 24));
        self::assertSame([200 => 20, 429 => 4], array_count_values($answers));
        self::assertSame(200, $this->ask($from, '00005e005306'), 'another phone behind the same address');
    }

    public function testWithAWindowItIsHandedOutAgainWhenSomebodyHasWorkedOnThePhone(): void
    {
        $this->enter('technician');
        $this->write(Edit::put('job', '', 'fetchMinutes', null, 10));
        $connection = self::service(EntityManagerInterface::class)->getConnection();
        $connection->executeStatement('DELETE FROM file_fetch WHERE job_id = ?', [$this->job->id]);
        self::assertSame(200, $this->ask());
        self::assertSame(200, $this->ask(), 'it starts twice');
        self::assertSame(200, $this->quick()[0]);
        self::assertSame(0, $this->quick(now: time() + 660)[0], 'the quick door knows when it is over');
        $connection->executeStatement('UPDATE fetch_note SET is_entered = 1 WHERE job_id = ?', [$this->job->id]);
        $connection->executeStatement(
            'UPDATE file_fetch SET made_at = ? WHERE job_id = ?',
            [gmdate('Y-m-d\TH:i:s\Z', time() - 660), $this->job->id],
        );
        self::assertSame(403, $this->ask());
        $step = $this->plan($this->job)->devices['ph-01']->steps[0]->code;
        $this->mark('ph-01', $step, ['state' => 'open']);
        $this->mark('ph-01', $step, ['state' => 'done', 'note' => 'Started anew.']);
        self::assertSame(200, $this->ask());
    }

    public function testTheQuickDoorGivesWhatTheHouseGaveAndOnlyAsLongAsNothingMoves(): void
    {
        $this->enter();
        self::assertSame(0, $this->quick()[0], 'nothing lies ready yet');
        $this->ask();
        $body = $this->browser->getResponse()->getContent();
        self::assertSame([200, $body], $this->quick());
        foreach ([$this->quick('192.0.2.7'), $this->quick(method: 'HEAD'), $this->quick(login: 'x')] as [$status]) {
            self::assertSame(0, $status);
        }

        $host = SettingRef::tryFromString('devices/ph-01#hostName');
        self::assertNotNull($host);
        $known = $this->plan($this->job)->settings()->value((string) $host);
        $this->write(Edit::setting($host, Face::Set, $known->set, 'typed'));
        self::assertSame([200, $body], $this->quick(), 'what was typed moves no file');
        $this->write(Edit::put('extensions', 'x2101', 'name', $this->plan($this->job)->extensions['x2101']->name, 'Gate A'));
        self::assertSame(0, $this->quick()[0]);
        $this->ask();
        self::assertSame(200, $this->quick()[0]);
        self::assertNotSame($body, $this->quick()[1]);
        $other = new Secrets(sys_get_temp_dir().'/vorhut-other-'.bin2hex(random_bytes(4)));
        self::assertSame(0, $this->quick(secrets: $other)[0], 'under another key');
    }

    public function testAFileThatMovedWhileItWasMadeIsNotTakenForTheNewOne(): void
    {
        $this->enter();
        $job = $this->fresh($this->job);
        $before = $job->filesStamp;
        self::service(FileServer::class)->prepare($job);
        self::assertSame(200, $this->quick()[0], 'laid in before anybody asked');
        $this->write(Edit::put('extensions', 'x2101', 'name', $this->plan($this->job)->extensions['x2101']->name, 'Gate A'));
        $mac = Mac::fromString(self::MAC);
        $plan = $this->plan($this->job);
        $old = new FileResponse(200, 'old', 'ph-01', 'v');
        self::service(PhoneFileCache::class)->lay($job, $before, $mac, $old, FetchGuard::of($plan, $plan->devices['ph-01']), null);
        self::assertSame(0, $this->quick()[0]);
    }

    public function testWhatTheQuickDoorNotedIsEnteredOnceAndCountsWithinItsMinute(): void
    {
        $this->enter();
        $this->ask();
        $count = $this->fetches();
        $now = intdiv(time(), 60) * 60;
        for ($time = 1; $time <= FastPath::MOST; ++$time) {
            self::assertSame(200, $this->quick(now: $now)[0], (string) $time);
        }
        self::assertSame(429, $this->quick(now: $now)[0]);
        self::assertSame(200, $this->quick('10.64.20.32', now: $now)[0], 'from another address');
        $cabinet = self::service(PhoneFileCache::class);
        self::assertSame(2, $cabinet->enter($this->fresh($this->job)));
        self::assertSame(0, $cabinet->enter($this->fresh($this->job)));
        self::assertSame($count + 2, $this->fetches());
        self::assertSame(429, $this->quick(now: $now)[0], 'entered, and counted all the same');
        self::assertSame(0, $cabinet->enter($this->fresh($this->job)));
        $newest = $this->plan($this->job)->rows('fetches');
        self::assertSame('Phone /1', end($newest)['agent'] ?? null, 'what it says of itself is scrubbed');
    }
}
