<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Text\Message;

/**
 * The state of one packet on its path: both ends, and the decisions so far with their facts. Hosts, links and routers read it and record
 * their decisions in it; toWalk() is the result.
 *
 * A hop rests on the facts that were read since the hop before.
 */
final class PacketContext
{
    public readonly Facts $facts;
    /** Whether it is the answer that is under way. */
    public bool $isAnswer = false;
    /** The sender in this direction, and the intended receiver. */
    public ?Host $sender = null;
    public ?Host $target = null;
    /** The address that the packet goes to now: a router that translates changes it. */
    public ?Address $destination = null;
    /** Whose settings break it, if it breaks here. */
    public ?Host $culprit = null;
    /** The last router that saw it, and the segments it was between. */
    public ?string $router = null;
    public ?string $fromSegment = null;
    public ?string $toSegment = null;
    /** The interface on which the request left, and the request as it left. */
    public ?Host $asker = null;
    public ?Packet $request = null;
    /** The request as it arrived, whether it is served there or not. */
    public ?Packet $arrived = null;
    /** The packet as the last router hands it on. */
    public ?Packet $forwarded = null;

    /** @var list<Hop> */
    private array $hops = [];
    private int $mark = 0;
    /** @var array<string, true> routers that forwarded the request */
    private array $forwardedRequest = [];
    /** @var array<string, FilterRule> those that decided on it */
    private array $rules = [];
    /** @var array<string, Translator> by router: a translator knows the flows of this walk */
    private array $translators = [];

    public function __construct(public readonly NetworkModel $model)
    {
        $this->facts = new Facts();
    }

    /** The packet passes here. */
    public function pass(Spot $at, Message $reason): void
    {
        $this->hops[] = new Hop($this->isAnswer, $at, $reason, null, $this->facts, $this->mark);
        $this->mark = $this->facts->mark();
    }

    /** The packet goes no further than here. */
    public function stop(Spot $at, Fault $fault, Message $reason): Decision
    {
        $this->hops[] = new Hop($this->isAnswer, $at, $reason, $fault, $this->facts, $this->mark);
        $this->mark = $this->facts->mark();

        return Decision::stops();
    }

    /** Facts read so far belong to none of the hops that follow. */
    public function beginHop(): void
    {
        $this->mark = $this->facts->mark();
    }

    /** The next hop rests on everything that was read. */
    public function restOnAllFacts(): void
    {
        $this->mark = 0;
    }

    public function lastHop(): ?Hop
    {
        return $this->hops[array_key_last($this->hops) ?? 0] ?? null;
    }

    public function forgetLastHop(): void
    {
        array_pop($this->hops);
    }

    /** A flow that a stateful device does not know yet. Of UDP each datagram may be its first. */
    public function isNewFlow(Packet $packet): bool
    {
        return !$this->isAnswer || Transport::Udp === $packet->transport;
    }

    public function noteForwarded(string $router): void
    {
        if (!$this->isAnswer) {
            $this->forwardedRequest[$router] = true;
        }
    }

    public function hasForwardedRequest(string $router): bool
    {
        return isset($this->forwardedRequest[$router]);
    }

    public function noteRule(FilterRule $rule): void
    {
        $this->rules[$rule->key] = $rule;
    }

    /** @return Translator|null null where the router does not translate */
    public function translator(string $router): ?Translator
    {
        $rules = $this->model->translationsAt($router);
        if ([] === $rules) {
            return null;
        }

        return $this->translators[$router] ??= new Translator($rules, $this->model->ports($router));
    }

    public function segmentName(string $segment): string
    {
        return $this->model->segmentName($segment);
    }

    public function toWalk(string|Message $from, string|Message $to, ?Port $port): Walk
    {
        return new Walk(
            $from,
            $to,
            $port,
            $this->hops,
            $this->facts,
            $this->culprit,
            $this->destination,
            $this->router,
            $this->fromSegment,
            $this->toSegment,
            array_values($this->rules),
            $this->request?->destination,
            $this->arrived?->source,
        );
    }
}
