<?php

declare(strict_types=1);

namespace Vorhut\Core\Sample;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** Plants the trade's common mistakes in a job without any, each at a device of its own, and returns the truth about them. */
final readonly class PlantedFaults
{
    /** @param list<array{fault: string, record: string, finding: string}> $truth */
    private function __construct(public Plan $plan, public array $truth)
    {
    }

    /**
     * @param \Closure(int): int $chance a number from 0 to below the one it is given
     * @param int                $count  how many; fewer where the job has no more places for them
     */
    public static function into(Plan $plan, int $count, \Closure $chance): self
    {
        $devices = array_values($plan->devices);
        for ($i = \count($devices) - 1; $i > 0; --$i) {
            $j = $chance($i + 1);
            [$devices[$i], $devices[$j]] = [$devices[$j], $devices[$i]];
        }
        $faults = self::faults();
        $from = array_fill_keys(array_keys($faults), 0);
        $edits = $truth = $used = [];
        // One fault after the other takes the next device that can have it and has none yet, until no device is left for any of them.
        for ($left = $faults; \count($truth) < $count && [] !== $left;) {
            foreach ($left as $name => [$finding, $plant]) {
                $planted = [];
                for (; [] === $planted && $from[$name] < \count($devices); ++$from[$name]) {
                    $device = $devices[$from[$name]];
                    $planted = isset($used[$device->key]) ? [] : $plant($plan, $device);
                    if ([] !== $planted) {
                        $used[$device->key] = true;
                        $edits = [...$edits, ...$planted];
                        $truth[] = ['fault' => $name, 'record' => $device->record(), 'finding' => $finding];
                    }
                }
                if ([] === $planted) {
                    unset($left[$name]);
                }
                if (\count($truth) === $count) {
                    break;
                }
            }
        }

        return new self($plan->with(new Change(new Message('Faults planted.'), $edits)), $truth);
    }

    /** @return array<string, array{string, \Closure(Plan, Device): list<Edit>}> the finding it must bring, how it is put in */
    private static function faults(): array
    {
        // Of a further terminal the number is spoken of at the phone that it is given to.
        $phone = static function (Plan $plan, Device $device): ?string {
            $extension = $device->kind->has(Role::FileClient) ? $plan->extensionsOf($device->key)[0] ?? null : null;

            return $extension?->phone === $device->key ? $extension->key : null;
        };

        return [
            'wrong gateway' => [
                'typed-other-than-planned',
                static fn (Plan $plan, Device $device): array => self::typedWrongly($device, 'gateway', self::neighbour(...)),
            ],
            'swapped digits' => [
                'typed-other-than-planned',
                static fn (Plan $plan, Device $device): array => self::typedWrongly($device, 'address', self::transpose(...)),
            ],
            'wrong mask' => [
                'typed-other-than-planned',
                static fn (Plan $plan, Device $device): array => self::typedWrongly($device, 'mask', static fn (): string => '/8'),
            ],
            'blank gateway' => [
                'gateway-blank',
                static fn (Plan $plan, Device $device): array => null !== $device->nic()?->setting('gateway')->set
                    || null === $device->nic()?->setting('gateway')->planned || [] === $device->kind->steps
                        ? []
                        : [Edit::setting($device->nic()->record().'#gateway', Face::Planned, null, '')],
            ],
            'no registrar entry' => [
                'provisioned-before-entry',
                static function (Plan $plan, Device $device) use ($phone): array {
                    $account = $plan->accountOf($phone($plan, $device) ?? '');

                    return null === $account || null === $device->nic()?->setting('address')->set
                        ? []
                        : [
                            Edit::put('accounts', $account->key, 'macEntered', (string) $account->macEntered, null),
                            Edit::put('accounts', $account->key, 'enteredAt', $account->enteredAt, null),
                        ];
                },
            ],
            'no location' => [
                'no-emergency-location',
                static function (Plan $plan, Device $device) use ($phone): array {
                    $extension = $plan->extensions[$phone($plan, $device) ?? ''] ?? null;

                    return null === $extension ? [] : [Edit::put('extensions', $extension->key, 'location', $extension->location, null)];
                },
            ],
        ];
    }

    /**
     * @param \Closure(string): string $wrong
     *
     * @return list<Edit>
     */
    private static function typedWrongly(Device $device, string $name, \Closure $wrong): array
    {
        $nic = $device->nic();
        $set = $nic?->setting($name)->set;

        return null === $nic || null === $set ? [] : [Edit::setting($nic->record().'#'.$name, Face::Set, $set, $wrong($set))];
    }

    private static function neighbour(string $address): string
    {
        return preg_replace_callback('/\d+$/D', static fn (array $last): string => (string) ((int) $last[0] + 1), $address) ?? $address;
    }

    /** Two digits of the second octet, as a tired hand types them. */
    private static function transpose(string $address): string
    {
        return preg_replace('/^10\.(\d)(\d)\./', '10.$2$1.', $address) ?? $address;
    }
}
