<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Document\RosterPaste;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Observation;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Removal;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\SipSecret;
use Vorhut\Entity\Credential;
use Vorhut\Entity\JournalEntry;
use Vorhut\Entity\User;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\BulkInsert;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\PlanRowCache;
use Vorhut\Journal\Records;
use Vorhut\Outpost\Orders\OrderOwner;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Secrets\Secrets;
use Vorhut\Secrets\Vault;
use Vorhut\Tests\Support\ApplicationTestCase;

/** What is stored comes back as it was, for every field of every section; secrets only to those who have the key. */
final class RecordsTest extends ApplicationTestCase
{
    private static function value(Field $field): mixed
    {
        return match ($field->type) {
            FieldType::Number => max(1, $field->least),
            FieldType::Vlan => 20,
            FieldType::Flag => false,
            FieldType::Address => '10.64.20.31',
            FieldType::Mask => '/24',
            FieldType::Network, FieldType::SiteNetwork => '10.64.20.0/24',
            FieldType::Mac => '00-00-5E-00-53-01',
            FieldType::Ranges => ['10.64.20.5', '10.64.20.9-10.64.20.12'],
            FieldType::Interfaces => ['10.64.20.5/24'],
            FieldType::Group => '239.200.1.1',
            FieldType::LabelledRanges => [['range' => '10.64.20.5', 'for' => 'x y']],
            FieldType::Texts, FieldType::Data, FieldType::DialledList, FieldType::Choices => ['a', 'ø "b"'],
            FieldType::Choice => $field->choices[0],
            FieldType::Face => '',
            FieldType::Time => '2026-03-01T09:00:00Z',
            FieldType::Date => '2026-03-01',
            FieldType::Text => str_repeat('ø', min(250, $field->longest)),
            default => 'x',
        };
    }

    public function testEveryFieldOfEverySectionComesBackTheSame(): void
    {
        $job = $this->jobOf('museum');
        $manager = self::service(EntityManagerInterface::class);
        $records = self::service(Records::class);
        foreach (Schema::sections() as $section => $fields) {
            $row = ['key' => 'round-trip'];
            foreach ($fields as $field) {
                $value = self::value($field);
                self::assertTrue(\is_scalar($value) || (\is_array($value) && array_is_list($value)));
                $row[$field->name] = $value;
            }
            $records->add($this->fresh($job), $section, $row);
            $manager->flush();
            $manager->clear();
            $stored = $records->findAll($this->fresh($job), $section, ['round-trip'])['round-trip'] ?? null;
            self::assertNotNull($stored, $section);
            self::assertSame($row, Records::row($section, $stored), $section);
        }
    }

    public function testWhatIsKeptOfThePlanFollowsEveryChangeAndEvidenceLeavesItAlone(): void
    {
        $job = $this->jobOf();
        $records = self::service(Records::class);
        $kept = self::service(PlanRowCache::class);
        $this->plan($job);
        $same = function (string $after) use ($job, $records, $kept): void {
            $job = $this->fresh($job);
            $rows = $kept->get($job, $job->planStamp);
            self::assertNotNull($rows, $after.': nobody has to read it all again');
            $whole = $records->whole($job);
            foreach ($rows as $section => $some) {
                ksort($some, \SORT_STRING);
                self::assertSame($whole->rows($section), array_values($some), "$after: $section");
            }
        };
        $same('read');
        $plan = $this->plan($job);
        $write = fn (Edit ...$edits) => $this->changes()->write(
            $this->fresh($job),
            new Change(new Message('x'), array_values($edits)),
            'Mara',
        );
        $entry = $write(
            Edit::put('devices', 'cam-01', 'room', $plan->devices['cam-01']->room, 'Hall, north'),
            Edit::setting('nics/cam-02.lan#dns', Face::Set, null, ''),
            Edit::add('routes', ['key' => 'new', 'router' => 'r-core', 'destination' => '192.0.2.0/24', 'via' => '10.64.10.9']),
            Edit::put('segments', 'quay', 'pools', $plan->row('segments', 'quay')['pools'] ?? null, ['10.64.40.200-10.64.40.209']),
        );
        self::assertNotNull($entry);
        $same('written');
        self::assertSame('Mara', $this->plan($this->fresh($job))->nics['cam-02.lan']->setting('dns')->setBy);
        $stamp = $this->fresh($job)->planStamp;
        self::service(EvidenceLog::class)->add($this->fresh($job), 'observations', [
            'key' => 'o', 'test' => 't', 'at' => '2026-03-01T09:00:00Z', 'by' => 'Jo', 'outcome' => 'answers',
        ]);
        self::assertSame($stamp, $this->fresh($job)->planStamp);
        $same('found');
        $this->undoStack()->undo($this->fresh($job), $entry, 'Mara');
        $same('revoked');
        self::assertNull($kept->get($this->fresh($job), $stamp), 'of another state there is nothing');
        self::assertNull($kept->get($this->fresh($job), ''));
    }

    public function testOldEvidenceGoesAndWhatAVerdictStandsOnStays(): void
    {
        $job = $this->jobOf();
        $at = ['2026-01-01T09:00:00Z', '2026-01-02T09:00:00Z', '2026-01-03T09:00:00Z', '2026-06-01T09:00:00Z'];
        foreach ([
            'a' => ['t', 'answers', true, 0], 'b' => ['t', 'answers', true, 1], 'c' => ['t', 'silent', true, 1],
            'd' => ['t', 'answers', false, 0], 'e' => ['u', 'answers', true, 2], 'f' => ['u', 'answers', true, 3],
        ] as $key => [$test, $outcome, $onSite, $when]) {
            self::service(EvidenceLog::class)->add($this->fresh($job), 'observations', [
                'key' => $key, 'test' => $test, 'at' => $at[$when], 'by' => 'Jo', 'outcome' => $outcome, 'onSite' => $onSite,
            ]);
        }
        $keys = fn (): array => array_column(self::service(Records::class)->whole($this->fresh($job))->rows('observations'), 'key');
        $before = $this->plan($this->fresh($job))->observations;
        self::assertSame([['b', 'c', 'd'], ['f']], array_values(array_map(
            static function (array $some): array {
                $keys = array_map(static fn (Observation $one): string => $one->key, $some);
                sort($keys);

                return $keys;
            },
            $before,
        )), 'of each sort the newest is in the snapshot');
        self::assertSame(2, self::service(EvidenceLog::class)->prune($this->fresh($job), '2026-02-01T00:00:00Z'));
        self::assertSame(['b', 'c', 'd', 'f'], $keys());
        self::assertEquals($before, $this->plan($this->fresh($job))->observations, 'no verdict has moved');
        self::assertSame(0, self::service(EvidenceLog::class)->prune($this->fresh($job), '2026-02-01T00:00:00Z'));
    }

    public function testTakingADeviceBackBringsEverythingOfItBack(): void
    {
        $job = $this->jobOf();
        $before = self::service(Jobs::class)->export($job)->toJson();
        $plan = $this->plan($job);
        $edits = [
            ...Removal::dependents($plan, 'devices', 'ph-01'),
            Edit::remove('devices', $plan->row('devices', 'ph-01') ?? []),
        ];
        $this->changes()->write($this->fresh($job), new Change(new Message('gone'), $edits), 'Mara');
        self::assertArrayNotHasKey('ph-01', $this->plan($job)->devices);
        self::assertNull($this->plan($job)->extensionNumbered('2101')?->phone);
        $fresh = $this->fresh($job);
        $this->undoStack()->undo($fresh, $this->undoStack()->undoable($fresh, 'Mara') ?? throw new \LogicException(), 'Mara');
        $after = self::service(Jobs::class)->export($this->fresh($job))->toJson();
        $without = static fn (string $json): array => array_diff_key((array) json_decode($json, true), ['journal' => 1]);
        self::assertEquals($without($before), $without($after));
    }

    public function testWhatIsWrittenManyAtOnceIsAsWhatIsWrittenOneByOne(): void
    {
        $job = $this->jobOf();
        $plan = $this->plan($job);
        $again = $plan->row('devices', 'us-01') ?? [];
        $pasted = "tag\tkind\tsegment\thostName\n";
        for ($n = 1; $n <= 200; ++$n) {
            $pasted .= "M-$n\tptz-camera\tQuay\tm-$n\n";
        }
        $change = new Change(new Message('many'), [
            // One of the same key goes and comes in this very change; a setting comes and has no face left.
            ...Removal::dependents($plan, 'devices', 'us-01'),
            Edit::remove('devices', $again),
            Edit::add('devices', ['room' => 'Elsewhere'] + $again),
            ...RosterPaste::of($plan, $pasted)->change()->edits,
            Edit::setting('devices/m-7#timeServer', Face::Planned, null, '192.0.2.9'),
            Edit::setting('devices/m-7#timeServer', Face::Planned, '192.0.2.9', null),
        ]);
        $before = self::service(Jobs::class)->export($job)->toJson();
        $this->changes()->write($this->fresh($job), $change, 'Mara');
        $rows = static function (Plan $plan, string $section): array {
            $rows = array_map(
                static fn (array $row): array => array_filter(
                    array_diff_key($row, ['plannedBy' => 1, 'plannedAt' => 1]),
                    static fn (mixed $value): bool => null !== $value && [] !== $value,
                ),
                $plan->rows($section),
            );
            usort($rows, static fn (array $a, array $b): int => $a['key'] <=> $b['key']);

            return $rows;
        };
        $stored = self::service(Records::class)->whole($this->fresh($job));
        foreach (['devices', 'nics', 'settings'] as $section) {
            self::assertEquals($rows($plan->with($change), $section), $rows($stored, $section));
            self::assertEquals($rows($stored, $section), $rows($this->plan($job), $section), 'as it is kept beside');
        }
        self::assertSame('M-1', array_values($stored->devices)[\count($stored->devices) - 200]->tag, 'in the order in which they came');
        $fresh = $this->fresh($job);
        $this->undoStack()->undo($fresh, $this->undoStack()->undoable($fresh, 'Mara') ?? throw new \LogicException(), 'Mara');
        $after = self::service(Jobs::class)->export($this->fresh($job))->toJson();
        $without = static fn (string $json): array => array_diff_key((array) json_decode($json, true), ['journal' => 1]);
        self::assertEquals($without($before), $without($after));
    }

    public function testAHistoryThatIsLargerThanOneStatementIsWrittenAllTheSame(): void
    {
        $job = $this->jobOf('museum');
        $number = 1_000;
        $entries = array_map(static function (int $n) use ($job, $number): JournalEntry {
            $entry = new JournalEntry();
            $entry->job = $job;
            $entry->number = $number + $n;
            $entry->at = '2026-03-01T09:00:00Z';
            $entry->by = 'Mara';
            $entry->why = (new Message('long'))->toStored();
            $entry->edits = [['text' => str_repeat('x', 1_000_000)]];

            return $entry;
        }, range(1, 20));
        self::service(BulkInsert::class)->write($entries);
        $stored = self::service(EntityManagerInterface::class)->getConnection()->fetchFirstColumn(
            'SELECT number FROM journal_entry WHERE job_id = ? AND number > ? AND CHAR_LENGTH(edits) > 1000000 ORDER BY id',
            [$job->id, $number],
        );
        self::assertEquals(range(1_001, 1_020), $stored);
    }

    public function testACopyOfTheDatabaseAloneGivesNoSecretAway(): void
    {
        $job = $this->jobOf('museum');
        $vault = self::service(Vault::class);
        self::assertGreaterThan(3, $vault->fill($job, $this->plan($job), 'Mara'));
        self::assertSame(0, $vault->fill($this->fresh($job), $this->plan($job), 'Mara'), 'what is there stays');
        $secrets = $vault->open($this->fresh($job));
        $credential = self::service(EntityManagerInterface::class)
            ->getRepository(Credential::class)
            ->findOneBy(['owner' => 'accounts/a301']) ?? throw new \LogicException();
        self::assertStringNotContainsString($secrets['a301'], (string) json_encode(get_object_vars($credential)['sealed']));
        self::assertNull(
            (new Secrets(sys_get_temp_dir().'/vorhut-other-key-'.bin2hex(random_bytes(4))))->open($credential),
            'another key opens nothing',
        );
        $credential->sealed = substr_replace((string) $credential->sealed, 'AAAA', 60, 4);
        self::assertNull(self::service(Secrets::class)->open($credential), 'nor a changed box');
    }

    public function testAWeakSecretThatIsOnlyRecordedIsReplacedByAStrongOne(): void
    {
        $job = $this->jobOf('museum');
        $vault = self::service(Vault::class);
        $owner = 'accounts/'.array_key_first($this->plan($job)->accounts);
        self::service(ChangeWriter::class)->write($job, new Change(new Message('read in'), [Edit::add('credentials', [
            'key' => 'weak.sip', 'owner' => $owner, 'purpose' => 'sip', 'user' => '301', 'state' => 'changed', 'length' => 3,
            'weakness' => 'it is the extension',
        ])]), 'Mara');

        $vault->fill($job, $this->plan($this->fresh($job)), 'Mara');

        $known = $this->plan($this->fresh($job))->credential($owner, 'sip') ?? throw new \LogicException();
        $secret = (string) $vault->secretOf($this->fresh($job), $owner, 'sip');
        self::assertGreaterThanOrEqual(SipSecret::LEAST, mb_strlen($secret));
        self::assertSame([mb_strlen($secret), null], [$known->length, $known->weakness]);
        self::assertSame(0, $vault->fill($this->fresh($job), $this->plan($this->fresh($job)), 'Mara'), 'a strong one stays');
    }

    public function testWhatSomebodyElseHoldsIsNotMadeUp(): void
    {
        $job = $this->jobOf('museum');
        $vault = self::service(Vault::class);
        $owner = 'devices/'.array_key_first($this->plan($job)->devices);
        self::service(ChangeWriter::class)->write($job, new Change(new Message('read in'), [Edit::add('credentials', [
            'key' => 'held.admin', 'owner' => $owner, 'purpose' => 'admin', 'user' => 'x', 'state' => 'default', 'length' => 0,
            'heldBy' => 'the customer',
        ])]), 'Mara');

        $vault->fill($job, $this->plan($this->fresh($job)), 'Mara');

        self::assertNull($vault->secretOf($this->fresh($job), $owner, 'admin'));
    }

    public function testSecretsAreLongDistinctAndTypable(): void
    {
        $made = array_map(static fn (): string => Secrets::generate(20), range(1, 200));
        self::assertCount(200, array_unique($made));
        self::assertDoesNotMatchRegularExpression('/[0O1lI]/', implode('', $made));
        self::assertSame([], preg_grep('/^[0-9]+$/D', $made), 'digits only are easy to guess');
    }

    public function testAnOrderIsClaimedOnceAndAgainOnlyAfterItsClaimerDied(): void
    {
        $orders = self::service(Orders::class);
        $job = $this->jobOf('museum');
        $given = $orders->give($job, WorkOrder::PROVE, ['tests' => ['a']], 'Jo');
        $orders->give($job, WorkOrder::FAULT, ['fault' => 'slow-boot'], 'Jo');
        $me = OrderOwner::here();
        $claimed = array_map(static fn (): ?int => $orders->claim($me)?->id, [1, 2]);
        self::assertSame([$given->id, null], $claimed, 'the other is the lab\'s, and this one is taken');
        self::assertSame(0, $orders->requeue(), 'whoever has it is alive');
        self::assertTrue($orders->holds((int) $given->id, $me));
        $connection = self::service(EntityManagerInterface::class)->getConnection();
        $gone = OrderOwner::tryFromString(preg_replace('/ \d+ [0-9a-f]+$/D', ' 999999999 1', (string) $me) ?? '');
        self::assertTrue($gone?->isGone());
        self::assertFalse($me->isGone());
        self::assertFalse(OrderOwner::tryFromString('another-machine 1 1')?->isGone(), 'nothing is known of it from here');
        $connection->executeStatement('UPDATE work_order SET claimed_by = ? WHERE id = ?', ['another-machine 1 1', $given->id]);
        self::assertSame(0, $orders->requeue());
        self::assertFalse($orders->holds((int) $given->id, $me), 'another has it');
        $orders->end((int) $given->id, $me, true, 'mine');
        self::assertSame('claimed', $connection->fetchOne('SELECT state FROM work_order WHERE id = ?', [$given->id]));
        $connection->executeStatement('UPDATE work_order SET claimed_by = ? WHERE id = ?', [(string) $gone, $given->id]);
        self::assertSame(1, $orders->requeue(), 'a worker that starts takes up what a dead one left');
        $again = $orders->claim($me) ?? self::fail('nothing to claim');
        self::assertSame($given->id, $again->id);
        $orders->end((int) $again->id, $me, true, 'done');
        self::assertSame(0, $orders->requeue());
        $refetch = $orders->give($job, WorkOrder::REFETCH, ['devices' => ['a']], 'Jo');
        self::assertSame($refetch->id, $orders->claim($me)?->id);
        $connection->executeStatement('UPDATE work_order SET claimed_by = ? WHERE id = ?', [(string) $gone, $refetch->id]);
        self::assertSame(1, $orders->requeue(), 'phones are still told to take their files again');
    }

    public function testUsersHaveOneRoleEach(): void
    {
        self::assertSame(
            [['ROLE_LEAD'], ['ROLE_TECHNICIAN'], ['ROLE_VIEWER'], ['ROLE_GUEST']],
            array_map(static fn (string $role): array => (new User('x', 'X', $role))->getRoles(), ['lead', 'technician', 'viewer', 'root']),
            'an unknown role is in no job',
        );
    }

    public function testEverySecretIsOpenedBeforeWhileAndAfterTheKeyIsChanged(): void
    {
        $file = sys_get_temp_dir().'/vorhut-key-'.bin2hex(random_bytes(6));
        $secrets = new Secrets($file);
        $credential = new Credential($this->jobOf('museum'), 'k');
        $credential->sealed = $secrets->seal('Tide 7');
        $late = clone $credential;
        $first = $credential->sealed;
        try {
            $secrets->changeKey(static function (\Closure $seal) use ($secrets, $credential, $late): void {
                $credential->sealed = $seal((string) $secrets->open($credential));
                self::assertSame('Tide 7', $secrets->open($credential), 'sealed anew, and not in use yet');
                $late->sealed = $secrets->seal('in that moment');
            });
            self::assertNotSame($first, $credential->sealed);
            self::assertSame('Tide 7', $secrets->open($credential));
            self::assertSame('in that moment', (new Secrets($file))->open($late));
            // Broken off before it was taken into use: the next change goes on with the same new key.
            try {
                $secrets->changeKey(static function (\Closure $seal) use ($credential): void {
                    $credential->sealed = $seal('Tide 7');
                    throw new \RuntimeException('power cut');
                });
            } catch (\RuntimeException) {
                self::assertSame('Tide 7', $secrets->open($credential));
            }
            $secrets->changeKey(static function (): void {});
            self::assertSame('Tide 7', $secrets->open($credential));
            self::assertSame('0600', substr(\sprintf('%o', (int) fileperms($file.'.before')), -4));
        } finally {
            array_map(unlink(...), glob($file.'*') ?: []);
        }
    }
}
