<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Credential;
use Vorhut\Entity\User;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\Records;
use Vorhut\Outpost\Orders;
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
            FieldType::Flag => false,
            FieldType::Address => '10.64.20.31',
            FieldType::Mask => '/24',
            FieldType::Network => '10.64.20.0/24',
            FieldType::Mac => '00-00-5E-00-53-01',
            FieldType::Ranges => ['10.64.20.5', '10.64.20.9-10.64.20.12'],
            FieldType::LabelledRanges => [['range' => '10.64.20.5', 'for' => 'x y']],
            FieldType::Texts, FieldType::Data => ['a', 'ø "b"'],
            FieldType::Choice => $field->choices[0],
            FieldType::Face => '',
            FieldType::Time => '2026-03-01T09:00:00Z',
            FieldType::Text => str_repeat('ø', min(250, $field->longest())),
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
            $stored = $records->named($this->fresh($job), $section, ['round-trip'])['round-trip'] ?? null;
            self::assertNotNull($stored, $section);
            self::assertSame($row, Records::row($section, $stored), $section);
        }
    }

    public function testTakingADeviceBackBringsEverythingOfItBack(): void
    {
        $job = $this->jobOf();
        $before = self::service(Jobs::class)->export($job)->toJson();
        $plan = $this->plan($job);
        $edits = [
            ...\Vorhut\Core\Plan\Removal::dependents($plan, 'devices', 'ph-01'),
            Edit::remove('devices', $plan->row('devices', 'ph-01') ?? []),
        ];
        $this->journal()->write($this->fresh($job), new Change(new Message('gone'), $edits), 'Mara');
        self::assertArrayNotHasKey('ph-01', $this->plan($job)->devices);
        self::assertNull($this->plan($job)->extensionNumbered('2101')?->phone);
        $fresh = $this->fresh($job);
        $this->journal()->undo($fresh, $this->journal()->undoable($fresh, 'Mara') ?? throw new \LogicException(), 'Mara');
        $after = self::service(Jobs::class)->export($this->fresh($job))->toJson();
        $without = static fn (string $json): array => array_diff_key((array) json_decode($json, true), ['journal' => 1]);
        self::assertEquals($without($before), $without($after));
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

    public function testSecretsAreLongDistinctAndTypable(): void
    {
        $made = array_map(static fn (): string => Secrets::generate(20), range(1, 200));
        self::assertCount(200, array_unique($made));
        self::assertDoesNotMatchRegularExpression('/[0O1lI]/', implode('', $made));
        self::assertSame(
            ['it is empty', 'it is the extension', 'it is shorter than 12 characters', 'it is digits only', null],
            array_map(static fn (string $one): ?string => Secrets::weakness($one, '2101'), ['', '2101', 'short', '123456789012', $made[0]]),
        );
    }

    public function testAnOrderIsClaimedOnceAndAgainOnlyAfterItsClaimerDied(): void
    {
        $orders = self::service(Orders::class);
        $job = $this->jobOf('museum');
        $given = $orders->give($job, WorkOrder::PROVE, ['tests' => ['a']], 'Jo');
        $orders->give($job, WorkOrder::FAULT, ['fault' => 'slow-boot'], 'Jo');
        $claimed = array_map(static fn (): ?int => $orders->claim()?->id, [1, 2]);
        self::assertSame([$given->id, null], $claimed, 'the other is the lab\'s, and this one is taken');
        self::assertSame(1, $orders->requeue(), 'a worker that starts takes up what its predecessor left');
        $again = $orders->claim() ?? self::fail('nothing to claim');
        self::assertSame($given->id, $again->id);
        $orders->end($again, true, 'done');
        self::assertSame(0, $orders->requeue());
    }

    public function testUsersHaveOneRoleEach(): void
    {
        self::assertSame(
            [['ROLE_LEAD'], ['ROLE_TECHNICIAN'], ['ROLE_VIEWER'], ['ROLE_VIEWER']],
            array_map(static fn (string $role): array => (new User('x', 'X', $role))->getRoles(), ['lead', 'technician', 'viewer', 'root']),
            'an unknown role may only look',
        );
    }
}
