<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** Fields of a new record that follow from the plan: what was left blank is filled in, what was typed stays. */
final class KnownValues
{
    /**
     * @param array<string, string> $typed field → text
     *
     * @return array<string, string>
     */
    public static function fill(Plan $plan, string $section, array $typed): array
    {
        $known = match ($section) {
            'segments' => ['pattern' => (string) Segment::nextPattern(\count($plan->segments))],
            'routerPorts' => self::ofRouterPort($plan, $typed['segment'] ?? ''),
            'devices' => self::ofDevice($plan, $typed['kind'] ?? ''),
            'licences' => self::ofLicence($plan->devices[$typed['device'] ?? ''] ?? null),
            default => [],
        };
        foreach ($known as $field => $value) {
            if ('' === trim($typed[$field] ?? '')) {
                $typed[$field] = $value;
            }
        }

        return $typed;
    }

    /** @return array<string, string> a router is the gateway of its segment, with the mask of the segment */
    private static function ofRouterPort(Plan $plan, string $segment): array
    {
        $segment = $plan->segments[$segment] ?? null;

        return null === $segment ? [] : [
            'address' => (string) $segment->gateway,
            'mask' => (string) $segment->network->mask,
        ];
    }

    /** @return array<string, string> */
    private static function ofDevice(Plan $plan, string $kind): array
    {
        $kind = $plan->catalogue->kind($kind);

        return null === $kind ? [] : ['tag' => TagProposal::next($plan, $kind)];
    }

    /** @return array<string, string> the licence, where only one is made for this kind */
    private static function ofLicence(?Device $device): array
    {
        $terms = $device->kind->licences ?? [];

        return 1 === \count($terms) ? ['feature' => $terms[0]->code] : [];
    }
}
