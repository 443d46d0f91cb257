<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;

/**
 * The networks of a job as lines: every segment is a horizontal line, in the order of its network, every router a vertical one, with a
 * connection at each interface. Additions find their place; nothing else moves sideways.
 */
final readonly class NetworkMap
{
    private const LEFT = 300;
    private const POST = 96;
    private const WIRE = 30;
    private const TOP = 46;

    /**
     * @param list<array{segment: Segment, y: int, devices: int, outside: bool, routed: bool}>   $lines
     * @param list<array{key: string, tag: string, x: int, from: int, to: int, rules: int}>      $posts
     * @param list<array{router: string, x: int, y: int, label: string, title: string, odd: bool, outside: bool}> $clamps
     */
    private function __construct(public array $lines, public array $posts, public array $clamps, public int $width, public int $height)
    {
    }

    public static function of(Plan $plan): self
    {
        $outside = [];
        foreach ($plan->translations as $rule) {
            $outside[$rule->router.' '.$rule->outside] = $outside[$rule->outside] = true;
        }
        $lines = self::linesOf($plan, $outside);
        $heights = [];
        foreach ($lines as $line) {
            $heights[$line['segment']->key] = $line['y'];
        }
        $places = self::placesOf($plan);
        $clamps = self::clampsOf($plan, $outside, $places, $heights);

        return new self(
            $lines,
            self::postsOf($plan, $places, $clamps),
            $clamps,
            self::LEFT + self::POST * max(3, \count($places)) + 60,
            self::TOP + self::WIRE * max(1, \count($lines)),
        );
    }

    /**
     * @param array<string, true> $outside segments in which a router translates
     *
     * @return list<array{segment: Segment, y: int, devices: int, outside: bool, routed: bool}>
     */
    private static function linesOf(Plan $plan, array $outside): array
    {
        $segments = array_values($plan->segments);
        usort($segments, static fn (Segment $a, Segment $b): int => [$a->network->address->number, $a->network->mask->prefix, $a->key]
            <=> [$b->network->address->number, $b->network->mask->prefix, $b->key]);
        $lines = [];
        foreach ($segments as $i => $segment) {
            $lines[] = [
                'segment' => $segment,
                'y' => self::TOP + self::WIRE * $i,
                'devices' => \count($plan->nicsOn($segment->key)),
                'outside' => isset($outside[$segment->key]),
                'routed' => [] !== $plan->routerPortsOn($segment->key),
            ];
        }

        return $lines;
    }

    /** @return array<string, int> router → from the left, in roster order */
    private static function placesOf(Plan $plan): array
    {
        $routers = [];
        foreach ($plan->routerPorts as $port) {
            $routers[$port->router] = true;
        }
        $places = [];
        foreach (array_keys(array_intersect_key($plan->devices, $routers)) as $i => $router) {
            $places[$router] = self::LEFT + self::POST * $i;
        }

        return $places;
    }

    /**
     * @param array<string, true> $outside router and segment where it translates
     * @param array<string, int>  $places  router → x
     * @param array<string, int>  $heights segment → y
     *
     * @return list<array{router: string, x: int, y: int, label: string, title: string, odd: bool, outside: bool}>
     */
    private static function clampsOf(Plan $plan, array $outside, array $places, array $heights): array
    {
        $clamps = [];
        foreach ($plan->routerPorts as $port) {
            $segment = $plan->segments[$port->segment] ?? null;
            if (null === $segment || !isset($places[$port->router])) {
                continue;
            }
            $isInside = $segment->network->contains($port->address);
            $clamps[] = [
                'router' => $port->router,
                'x' => $places[$port->router],
                'y' => $heights[$segment->key],
                // Within its own network the last octets say which host it is.
                'label' => $isInside
                    ? '.'.implode('.', \array_slice(explode('.', (string) $port->address), $segment->network->mask->prefix >= 24 ? 3 : 2))
                    : (string) $port->address,
                'title' => $port->address.$port->mask,
                'odd' => !$isInside || $port->mask->prefix !== $segment->network->mask->prefix,
                'outside' => isset($outside[$port->router.' '.$port->segment]),
            ];
        }

        return $clamps;
    }

    /**
     * @param array<string, int>                                                                                     $places router → x
     * @param list<array{router: string, x: int, y: int, label: string, title: string, odd: bool, outside: bool}> $clamps
     *
     * @return list<array{key: string, tag: string, x: int, from: int, to: int, rules: int}>
     */
    private static function postsOf(Plan $plan, array $places, array $clamps): array
    {
        $rules = array_count_values(array_map(static fn (FilterRule $rule): string => $rule->router, $plan->filters));
        $posts = [];
        foreach ($places as $router => $x) {
            $mine = array_filter($clamps, static fn (array $clamp): bool => $clamp['router'] === $router);
            $heights = [] === $mine ? [self::TOP] : array_column($mine, 'y');
            $posts[] = [
                'key' => $router,
                'tag' => $plan->devices[$router]->tag,
                'x' => $x,
                'from' => min($heights),
                'to' => max($heights),
                'rules' => $rules[$router] ?? 0,
            ];
        }

        return $posts;
    }
}
