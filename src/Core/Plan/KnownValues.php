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
            'routerPorts' => self::ofRouterPort($plan, $typed['segment'] ?? ''),
            'devices' => self::ofDevice($plan, $typed['kind'] ?? ''),
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
}
