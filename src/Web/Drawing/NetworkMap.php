<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;

/**
 * The networks of a job as wires and posts: every segment is a wire from left to right, in the order of its network, every router a post
 * from top to bottom, with a clamp where it has an interface. What is added finds its place; nothing else moves sideways.
 */
final readonly class NetworkMap
{
    private const LEFT = 300;
    private const POST = 96;
    private const WIRE = 30;
    private const TOP = 46;

    /**
     * @param list<array{segment: Segment, y: int, devices: int, outside: bool, routed: bool}>   $wires
     * @param list<array{key: string, tag: string, x: int, from: int, to: int, rules: int}>      $posts
     * @param list<array{x: int, y: int, label: string, title: string, odd: bool, outside: bool}> $clamps
     */
    private function __construct(public array $wires, public array $posts, public array $clamps, public int $width, public int $height)
    {
    }

    public static function of(Plan $plan): self
    {
        $segments = array_values($plan->segments);
        usort($segments, static fn (Segment $a, Segment $b): int => [$a->network->address->number, $a->network->mask->prefix, $a->key]
            <=> [$b->network->address->number, $b->network->mask->prefix, $b->key]);
        $outside = $rules = [];
        foreach ($plan->translations as $rule) {
            $outside[$rule->router.' '.$rule->outside] = $outside[$rule->outside] = true;
        }
        foreach ($plan->filters as $rule) {
            $rules[$rule->router] = ($rules[$rule->router] ?? 0) + 1;
        }
        $wires = $y = [];
        foreach ($segments as $i => $segment) {
            $y[$segment->key] = self::TOP + self::WIRE * $i;
            $wires[] = [
                'segment' => $segment,
                'y' => $y[$segment->key],
                'devices' => \count($plan->nicsOn($segment->key)),
                'outside' => isset($outside[$segment->key]),
                'routed' => [] !== $plan->routerPortsOn($segment->key),
            ];
        }
        $x = $span = $clamps = [];
        foreach ($plan->devices as $device) {
            foreach ($plan->routerPorts as $port) {
                if ($port->router === $device->key) {
                    $x[$device->key] ??= self::LEFT + self::POST * \count($x);
                }
            }
        }
        foreach ($plan->routerPorts as $port) {
            $segment = $plan->segments[$port->segment] ?? null;
            if (null === $segment || !isset($x[$port->router])) {
                continue;
            }
            $at = $y[$segment->key];
            $span[$port->router] = [min($span[$port->router][0] ?? $at, $at), max($span[$port->router][1] ?? $at, $at)];
            $clamps[] = [
                'x' => $x[$port->router],
                'y' => $at,
                // Within its own network the last octets say which host it is.
                'label' => $segment->network->contains($port->address)
                    ? '.'.implode('.', \array_slice(explode('.', (string) $port->address), $segment->network->mask->prefix >= 24 ? 3 : 2))
                    : (string) $port->address,
                'title' => $port->address.$port->mask,
                'odd' => !$segment->network->contains($port->address) || $port->mask->prefix !== $segment->network->mask->prefix,
                'outside' => isset($outside[$port->router.' '.$port->segment]),
            ];
        }
        $posts = [];
        foreach ($x as $router => $place) {
            $posts[] = [
                'key' => $router,
                'tag' => $plan->devices[$router]->tag,
                'x' => $place,
                'from' => $span[$router][0] ?? self::TOP,
                'to' => $span[$router][1] ?? self::TOP,
                'rules' => $rules[$router] ?? 0,
            ];
        }

        return new self(
            $wires,
            $posts,
            $clamps,
            self::LEFT + self::POST * max(3, \count($x)) + 60,
            self::TOP + self::WIRE * max(1, \count($wires)),
        );
    }
}
