<?php

declare(strict_types=1);

namespace Vorhut\Core\Allocation;

use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;

/**
 * Assigns the next free address of its kind's block to every port that has none, in roster order. An existing address is kept, an applied
 * or locked one never changes, and a new device changes no other. Same plan, same result.
 */
final readonly class Allocation
{
    /**
     * @param list<array{nic: Nic, before: string|null, after: string}> $given
     * @param list<array{nic: Nic, why: Message}>                       $unplaced
     */
    private function __construct(public array $given, public array $unplaced)
    {
    }

    /** @param bool $afresh also reassign addresses that are planned but neither applied nor locked, to close the gaps */
    public static function of(Plan $plan, bool $afresh = false): self
    {
        $given = [];
        $unplaced = [];
        /** @var array<string, FreeAddress> $free */
        $free = [];
        $missing = [];
        $start = $afresh ? self::withoutAddresses($plan) : $plan;
        foreach ($plan->devices as $device) {
            foreach ($device->nics as $nic) {
                $now = $start->nics[$nic->key];
                if ($nic->passive || $nic->pooled || isset($now->setting('address')->planned) || $device->kind->has(Role::Forwards)) {
                    continue;
                }
                $segment = $plan->segments[$nic->segment ?? ''] ?? null;
                if (null === $segment) {
                    $unplaced[] = [
                        'nic' => $nic,
                        'why' => new Message('{tag} {nic} is in no segment yet.', ['tag' => $device->tag, 'nic' => $nic->name]),
                    ];
                    continue;
                }
                $free[$segment->key] ??= FreeAddress::on($start, $segment);
                // What a device already holds is its address, whatever was planned.
                $held = Ipv4::tryFromString($nic->setting('address')->set ?? '');
                $address = null !== $held && $segment->network->contains($held) ? $held : $free[$segment->key]->next($device->kind->code);
                if (null === $address) {
                    $missing[$segment->key][$device->kind->code] = ($missing[$segment->key][$device->kind->code] ?? 0) + 1;
                    $unplaced[] = [
                        'nic' => $nic,
                        'why' => self::whyNot($segment, $device->kind, $free[$segment->key], $missing[$segment->key][$device->kind->code]),
                    ];
                    continue;
                }
                $free[$segment->key]->take($address);
                if ($nic->setting('address')->planned !== (string) $address) {
                    $given[] = ['nic' => $nic, 'before' => $nic->setting('address')->planned, 'after' => (string) $address];
                }
            }
        }

        return new self($given, $unplaced);
    }

    public function change(): Change
    {
        return new Change(
            new Message('Addresses given to [n interface|interfaces].', ['n' => \count($this->given)]),
            array_map(
                static fn (array $one): Edit => Edit::setting(
                    $one['nic']->record().'#address',
                    Face::Planned,
                    $one['before'],
                    $one['after'],
                ),
                $this->given,
            ),
        );
    }

    private static function whyNot(Segment $segment, Kind $kind, FreeAddress $free, int $missing): Message
    {
        $at = ['kind' => new Message($kind->name), 'segment' => $segment->name, 'n' => $missing];

        return match (true) {
            $segment->isSelfAssigned() => new Message(
                'On {segment} devices give themselves an address (169.254.0.0/16): none is handed out.',
                $at,
            ),
            $free->hasBlock($kind->code) => new Message('The block for {kind} on {segment} is full: {n} missing so far.', $at),
            default => new Message(
                '{segment} has no free address left outside pools, blocks and reserved ranges: {n} missing so far.',
                $at,
            ),
        };
    }

    private static function withoutAddresses(Plan $plan): Plan
    {
        $edits = [];
        foreach ($plan->nics as $nic) {
            if (null !== $nic->setting('address')->planned && !$nic->isApplied() && !$nic->locked) {
                $edits[] = Edit::setting($nic->record().'#address', Face::Planned, $nic->setting('address')->planned, null);
            }
        }

        return $plan->with(new Change(new Message('Address assignment undone.'), $edits));
    }
}
