<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Text\Message;

/** The result: does A reach B, and does the answer come back. */
final readonly class Walk implements \JsonSerializable
{
    /**
     * @param list<Hop>   $hops        out first, then back; it ends with the first broken hop
     * @param Host|null   $culprit        whose settings broke it
     * @param Address|null   $destination         the address it wanted to reach
     * @param Address|null  $asked       the address that the sender asked for at first
     * @param Address|null  $seenAs      the sender's address as the packet arrives with it; null where it does not arrive
     * @param list<FilterRule> $rules each rule of a filter that decided on it, out or back
     * @param string|null $router      the router it broke at, between which segments
     */
    public function __construct(
        public string|Message $from,
        public string|Message $to,
        public ?Port $port,
        public array $hops,
        public Facts $facts,
        public ?Host $culprit = null,
        public ?Address $destination = null,
        public ?string $router = null,
        public ?string $fromSegment = null,
        public ?string $toSegment = null,
        public array $rules = [],
        public ?Address $asked = null,
        public ?Address $seenAs = null,
    ) {
    }

    public function holds(): bool
    {
        return null === $this->brokenHop();
    }

    /** The request gets there, whatever becomes of the answer. */
    public function arrives(): bool
    {
        foreach ($this->hops as $hop) {
            if (!$hop->back && !$hop->holds()) {
                return false;
            }
        }

        return true;
    }

    /** Asymmetry is a result in its own right: the request arrives, the answer does not. */
    public function isOneWay(): bool
    {
        return $this->arrives() && !$this->holds();
    }

    public function brokenHop(): ?Hop
    {
        $last = $this->hops[array_key_last($this->hops) ?? 0] ?? null;

        return null === $last || $last->holds() ? null : $last;
    }

    public function verdict(): string
    {
        return match (true) {
            $this->holds() => 'holds',
            $this->isOneWay() => 'one-way',
            default => 'broken',
        };
    }

    /** @return list<Hop> */
    public function leg(bool $back): array
    {
        return array_values(array_filter($this->hops, static fn (Hop $hop): bool => $hop->back === $back));
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'from' => (string) $this->from,
            'to' => (string) $this->to,
            'port' => null === $this->port ? null : (string) $this->port,
            'verdict' => $this->verdict(),
            'hops' => $this->hops,
            'facts' => $this->facts->texts(),
        ];
    }
}
