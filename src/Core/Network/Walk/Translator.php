<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\Translation;
use Vorhut\Core\Plan\TranslationKind;

/**
 * Address translation at one router (RFC 2663, RFC 3022): on the way in before it routes and filters, on the way out after. It decides for
 * the first packet of a flow, and the answer is treated as its reverse, also where nothing was rewritten: rules are not looked at again
 * (RFC 4787 §4.1).
 */
final class Translator
{
    /** @var list<array{Packet, Packet}> flows: as the first packet came, and as it left */
    private array $flows = [];

    /**
     * @param list<Translation> $rules of this router, by position
     * @param list<RouterPort>  $ports of this router
     */
    public function __construct(private readonly array $rules, private readonly array $ports)
    {
    }

    /** Whether any of its rules has to do with a segment. */
    public function concerns(string $segment): bool
    {
        foreach ($this->rules as $rule) {
            if ($rule->outside === $segment) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param bool $isNew the first packet of a flow; else a reply, or of an unknown flow
     *
     * @return array{Packet, Translation|null} as it goes on, and the rule where it was rewritten by one
     */
    public function inward(string $segment, Packet $packet, bool $isNew): array
    {
        $flow = $this->flowOf($packet);
        if (null !== $flow) {
            return [$packet->to($flow[0]->source, $flow[0]->sourcePort), null];
        }
        if ($isNew) {
            foreach ($this->rules as $rule) {
                if (
                    TranslationKind::Source !== $rule->what
                    && $rule->outside === $segment
                    && null !== $rule->inside
                    && true === $this->outsideOf($rule)?->equals($packet->destination)
                    && (TranslationKind::Static === $rule->what || $rule->takes($packet->port()))
                ) {
                    return [
                        $packet->to(
                            $rule->inside,
                            TranslationKind::Static === $rule->what ? $packet->port : $rule->insidePortOf($packet->port),
                        ),
                        $rule,
                    ];
                }
            }
        }

        return [$packet, null];
    }

    /**
     * @param Packet $came as it came to this router, before inward()
     *
     * @return array{Packet, Translation|null}
     */
    public function outward(string $segment, Packet $came, Packet $packet, bool $isNew): array
    {
        $flow = $this->flowOf($came);
        if (null !== $flow) {
            return [$packet->from($flow[0]->destination, $flow[0]->port), null];
        }
        $rule = $isNew ? $this->sourceRule($segment, $packet->source) : null;
        $outside = null === $rule ? null : $this->outsideOf($rule);
        $left = null === $outside ? $packet : $packet->from($outside, $packet->sourcePort);
        if ($isNew) {
            $this->flows[] = [$came, $left];
        }

        return [$left, null === $outside || $packet->source->equals($outside) ? null : $rule];
    }

    /** The outside address of a rule: its own word, or what the router holds on that segment. */
    public function outsideOf(Translation $rule): ?Ipv4
    {
        if (null !== $rule->address) {
            return $rule->address;
        }
        foreach ($this->ports as $port) {
            if ($port->segment === $rule->outside) {
                return $port->address;
            }
        }

        return null;
    }

    private function sourceRule(string $segment, Address $source): ?Translation
    {
        foreach ($this->rules as $rule) {
            if (
                $rule->outside === $segment
                && TranslationKind::Forward !== $rule->what
                && (null === $rule->inside ? TranslationKind::Source === $rule->what : $rule->inside->equals($source))
            ) {
                return $rule;
            }
        }

        return null;
    }

    /** @return array{Packet, Packet}|null the flow whose answer the packet is */
    private function flowOf(Packet $packet): ?array
    {
        foreach ($this->flows as $flow) {
            if ($flow[1]->answer()->equals($packet)) {
                return $flow;
            }
        }

        return null;
    }
}
