<?php

declare(strict_types=1);

namespace Vorhut\Core\Consistency;

use Vorhut\Core\Catalogue\AgreementEnd;
use Vorhut\Core\Plan\Account;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\TrackedValue;

/** Finds the records that an agreement is about, and what they hold. */
final class Subjects
{
    /** @var array<string, list<Device>>|null role → devices that have it */
    private ?array $byRole = null;

    public function __construct(private readonly Plan $plan)
    {
    }

    /** @return list<Subject> every record that the first end selects and that has such a setting */
    public function every(AgreementEnd $end): array
    {
        $found = [];
        foreach ($this->records($end) as $record) {
            $account = $record instanceof Account ? $record : null;
            $there = 'phone' === $end->by && null !== $account ? $this->phoneOf($account) : $record;
            $subject = null === $there ? null : $this->subject($end, $there, $end->setting, $account);
            if (null !== $subject) {
                $found[] = $subject;
            }
        }

        return $found;
    }

    /** @return list<Subject> what the further end is, seen from the first one */
    public function linkedTo(AgreementEnd $end, Subject $from, Facts $facts): array
    {
        $setting = $end->setting;
        if (1 === preg_match('/^(\w+)\.\{(\w+)\}$/D', $setting, $parts)) {
            $number = $from->device?->setting($parts[2])->effective(Face::Set);
            $facts->note($from->device?->record().':'.$parts[2], $number);
            if (null === $number) {
                return [];
            }
            $setting = $parts[1].'.'.$number;
        }
        $found = [];
        foreach ($this->follow($end->by ?? '', $from, $facts) as $record) {
            $subject = $this->subject($end, $record, $setting, $from->account);
            if (null !== $subject) {
                $found[] = $subject;
            }
        }

        return $found;
    }

    /** @return iterable<Account|Nic|Device|Segment> */
    private function records(AgreementEnd $end): iterable
    {
        foreach (match ($end->every) {
            'account' => $this->plan->accounts,
            'segment' => $this->plan->segments,
            default => $this->plan->devices,
        } as $record) {
            $device = match (true) {
                $record instanceof Device => $record,
                $record instanceof Account => $this->phoneOf($record),
                default => null,
            };
            if (null !== $end->role && true !== $device?->kind->has($end->role)) {
                continue;
            }
            if (null !== $end->with && null === $device?->setting($end->with)->effective(Face::Set)) {
                continue;
            }
            if ('port' === $end->every && $record instanceof Device) {
                yield from $record->activeNics();
            } else {
                yield $record;
            }
        }
    }

    /** @return list<Account|Nic|Device|Segment|null> null means the job itself */
    private function follow(string $link, Subject $from, Facts $facts): array
    {
        $device = $from->device;
        $account = $from->account;
        if (str_starts_with($link, 'setting:')) {
            $name = substr($link, 8);
            $other = $device?->setting($name)->effective(Face::Set);
            $facts->note($device?->record().':'.$name, $other);
            $there = $this->plan->devices[$other ?? ''] ?? null;

            return null === $there ? [] : [$there];
        }

        if (str_starts_with($link, 'role:')) {
            $there = $this->having(substr($link, 5));
            $facts->note('devices:'.$link, implode(' ', array_map(static fn (Device $one): string => $one->key, $there)));

            return $there;
        }

        return match ($link) {
            'job' => [null],
            'device' => null === $device ? [] : [$device],
            'phone' => self::maybe(null === $account ? null : $this->phoneOf($account)),
            'registrar' => self::maybe(null === $account ? null : $this->plan->devices[$account->registrar] ?? null),
            'account' => array_values(array_filter($this->plan->accounts, fn (Account $one): bool => $device === $this->phoneOf($one))),
            'segment' => self::maybe($this->plan->segments[$from->segment ?? ''] ?? null),
            'ports' => null === $device ? [] : $device->activeNics(),
            default => [],
        };
    }

    /** @return list<Device> */
    private function having(string $role): array
    {
        if (null === $this->byRole) {
            $this->byRole = [];
            foreach ($this->plan->devices as $device) {
                foreach ($device->kind->roles as $one) {
                    $this->byRole[$one->value][] = $device;
                }
            }
        }

        return $this->byRole[$role] ?? [];
    }

    /**
     * @template T of Device|Segment
     *
     * @param T|null $record
     *
     * @return list<T>
     */
    private static function maybe(Device|Segment|null $record): array
    {
        return null === $record ? [] : [$record];
    }

    private function subject(AgreementEnd $end, Account|Nic|Device|Segment|null $record, string $setting, ?Account $account): ?Subject
    {
        return match (true) {
            null === $record => $this->ofJob($end, $setting),
            $record instanceof Segment => $this->ofSegment($end, $record, $setting),
            $record instanceof Account => $this->ofAccount($end, $record, $setting),
            $record instanceof Nic => $this->ofDevice($end, $this->plan->devices[$record->device], $record, $setting, $account),
            default => $this->ofDevice($end, $record, null, $setting, $account),
        };
    }

    private function ofJob(AgreementEnd $end, string $setting): Subject
    {
        $value = new TrackedValue($this->plan->job->textOrNull($setting));

        return new Subject($end->name, 'job', $this->plan->job->text('name'), $setting, $setting, $value);
    }

    private function ofSegment(AgreementEnd $end, Segment $segment, string $setting): Subject
    {
        return new Subject(
            $end->name,
            'segments/'.$segment->key,
            $segment->name,
            $setting,
            $setting,
            new TrackedValue($segment->dhcpValue($setting)),
            segment: $segment->key,
        );
    }

    private function ofAccount(AgreementEnd $end, Account $account, string $setting): Subject
    {
        $phone = $this->phoneOf($account);

        return new Subject(
            $end->name,
            'accounts/'.$account->key,
            $this->plan->extensions[$account->extension]->number ?? $account->user,
            $setting,
            AgreementEnd::FIELDS[$setting] ?? $phone?->kind->setting($setting)->label ?? $setting,
            match ($setting) {
                'macEntered' => new TrackedValue(null === $account->macEntered ? null : (string) $account->macEntered),
                'user' => new TrackedValue($account->user),
                default => $account->setting($setting),
            },
            device: $phone,
            segment: $phone?->nic()?->segment,
            account: $account,
        );
    }

    /** @param Nic|null $nic null where any port of the device is meant */
    private function ofDevice(AgreementEnd $end, Device $device, ?Nic $nic, string $setting, ?Account $account): ?Subject
    {
        $name = $device->tag.(null !== $nic && $device->isOnSeveralSegments() ? ' '.$nic->name : '');
        if (\in_array($setting, ['mac', 'segment'], true)) {
            return $this->ofPort($end, $device, $nic ?? $device->nic(), $name, $setting, $account);
        }
        if ('switch' === $setting) {
            return new Subject(
                $end->name,
                $device->record(),
                $name,
                $setting,
                AgreementEnd::FIELDS[$setting],
                new TrackedValue($this->switches($device)),
                device: $device,
                segment: $device->nic()?->segment,
            );
        }
        $slot = $this->plan->settings()->slot($device, null === $nic ? $setting : $nic->name.'.'.$setting);

        return null === $slot ? null : new Subject(
            $end->name,
            $slot->ref->record(),
            $name,
            $slot->ref->slot,
            $slot->setting->label,
            $slot->value,
            $slot->ref,
            $device,
            ($nic ?? $device->nic())?->segment,
            $nic,
            $account,
        );
    }

    private function ofPort(AgreementEnd $end, Device $device, ?Nic $nic, string $name, string $setting, ?Account $account): ?Subject
    {
        return null === $nic ? null : new Subject(
            $end->name,
            $nic->record(),
            $name,
            $setting,
            AgreementEnd::FIELDS[$setting],
            new TrackedValue(match (true) {
                'mac' !== $setting => $nic->segment,
                null === $nic->mac => null,
                default => (string) $nic->mac,
            }),
            null,
            $device,
            $nic->segment,
            $nic,
            $account,
        );
    }

    /** Tags of those that its cables go to, spare ones too; null where no cable is recorded. */
    private function switches(Device $device): ?string
    {
        $tags = [];
        foreach ($this->plan->cables as $cable) {
            $switch = $cable->device === $device->key ? $this->plan->devices[$cable->switch] ?? null : null;
            if (null !== $switch) {
                $tags[$switch->tag] = true;
            }
        }
        ksort($tags);

        return [] === $tags ? null : implode(', ', array_keys($tags));
    }

    private function phoneOf(Account $account): ?Device
    {
        return $this->plan->devices[$this->plan->extensions[$account->extension]->phone ?? ''] ?? null;
    }
}
