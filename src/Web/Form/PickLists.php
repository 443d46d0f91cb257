<?php

declare(strict_types=1);

namespace Vorhut\Web\Form;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\NamedTime;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Plan\Trunk;
use Vorhut\Core\Text\Message;

/** The records of a job that a field can point to, as people call them. */
final class PickLists
{
    /**
     * @param string|null $device the one that the record belongs to, where that narrows the list
     *
     * @return array<array-key, Message|string> key → name
     */
    public static function of(Plan $plan, string $list, ?string $device = null): array
    {
        return match ($list) {
            'segments' => array_map(static fn (Segment $one): string => $one->name, $plan->segments),
            'devices' => self::tags(array_filter($plan->devices, static fn (Device $one): bool => !$one->kind->has(Role::Forwards))),
            'registrars' => self::having($plan, Role::Registrar),
            // A provider's PBX is not configured in the job.
            'pbxes' => self::tags(array_filter(
                $plan->devices,
                static fn (Device $one): bool => $one->kind->has(Role::Registrar) && !$one->kind->isHosted(),
            )),
            'phones' => self::having($plan, Role::Callee),
            'routers' => self::having($plan, Role::Forwards),
            'switches' => self::having($plan, Role::Switches),
            'sharers' => self::having($plan, Role::SharesSound),
            'plugged' => self::tags(array_filter($plan->devices, static fn (Device $one): bool => null !== $one->nic())),
            'trunks' => array_map(static fn (Trunk $one): string => $one->name, $plan->trunks),
            'timeFrames' => array_map(static fn (NamedTime $one): string => $one->name, $plan->timeFrames),
            'streams' => array_map(static fn (Stream $one): string => $one->name, $plan->streams),
            'groups' => self::groups($plan),
            'routerKinds' => self::routerKinds($plan),
            'licences' => self::licences($plan->devices[$device ?? ''] ?? null),
            default => throw new \LogicException("Unknown list \"$list\"."),
        };
    }

    /** @return array<array-key, string> */
    private static function having(Plan $plan, Role $role): array
    {
        return self::tags(array_filter($plan->devices, static fn (Device $one): bool => $one->kind->has($role)));
    }

    /**
     * @param array<array-key, Device> $devices
     *
     * @return array<array-key, string>
     */
    private static function tags(array $devices): array
    {
        $tags = array_map(static fn (Device $one): string => $one->tag, $devices);
        natcasesort($tags);

        return $tags;
    }

    /** @return array<array-key, string> */
    private static function groups(Plan $plan): array
    {
        $groups = [];
        foreach ($plan->rows('groups') as $row) {
            $groups[Row::keyOf($row)] = (new Row($row))->text('name').' '.(new Row($row))->text('address');
        }

        return $groups;
    }

    /** @return array<array-key, Message> */
    private static function routerKinds(Plan $plan): array
    {
        $kinds = [];
        foreach ($plan->catalogue->kinds() as $kind) {
            if ($kind->has(Role::Forwards)) {
                $kinds[$kind->code] = new Message($kind->name);
            }
        }

        return $kinds;
    }

    /** @return array<array-key, Message> */
    private static function licences(?Device $device): array
    {
        $names = [];
        foreach ($device?->kind->licences ?? [] as $term) {
            $names[$term->code] = new Message($term->name);
        }

        return $names;
    }
}
