<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Text\Message;

/** A firewall rule to request: router, source, destination, and the devices that need it. */
final readonly class RequiredFirewallRule implements \JsonSerializable
{
    /**
     * @param list<Range>   $fromAddresses empty for the whole segment
     * @param list<Range>   $toAddresses   empty for the whole segment
     * @param list<Message> $why           each reason once
     * @param list<string>  $devices       tags of the devices that need it
     * @param list<Flow>    $flows
     * @param bool          $isFromOutside the sender is outside the job, at the addresses or anywhere
     * @param bool          $isToOutside   the same of the receiver
     */
    public function __construct(
        public string $router,
        public string $from,
        public string $to,
        public Port $first,
        public int $last,
        public array $fromAddresses,
        public array $toAddresses,
        public array $why,
        public array $devices,
        public array $flows,
        public bool $isFromOutside = false,
        public bool $isToOutside = false,
    ) {
    }

    /** Whether everything that another rule lets through is let through by this one. */
    public function covers(self $other): bool
    {
        return [$this->router, $this->from, $this->to] === [$other->router, $other->from, $other->to]
            && $this->first->transport === $other->first->transport
            && $this->first->number <= $other->first->number
            && $this->last >= $other->last
            && self::isWithin($other->fromAddresses, $this->fromAddresses)
            && self::isWithin($other->toAddresses, $this->toAddresses);
    }

    /** The same rule, also for what another one was for. */
    public function also(self $other): self
    {
        $reasons = [];
        foreach ([...$this->why, ...$other->why] as $reason) {
            $reasons[(string) $reason] = $reason;
        }
        $devices = array_values(array_unique([...$this->devices, ...$other->devices]));
        sort($devices, \SORT_NATURAL);

        return new self(
            $this->router,
            $this->from,
            $this->to,
            $this->first,
            $this->last,
            $this->fromAddresses,
            $this->toAddresses,
            array_values($reasons),
            $devices,
            [...$this->flows, ...$other->flows],
            $this->isFromOutside,
            $this->isToOutside,
        );
    }

    /**
     * @param list<Range> $some
     * @param list<Range> $others none is any address
     */
    private static function isWithin(array $some, array $others): bool
    {
        return [] === $others || ([] !== $some && [] === array_diff(array_map(strval(...), $some), array_map(strval(...), $others)));
    }

    public function ports(): string
    {
        return $this->first->number.($this->last === $this->first->number ? '' : '-'.$this->last).'/'.$this->first->transport->value;
    }

    /** @return array<string, scalar|list<mixed>|null> as a record of filters */
    public function row(string $key, int $position): array
    {
        return [
            'key' => $key,
            'router' => $this->router,
            'position' => $position,
            'from' => $this->from,
            'to' => $this->to,
            'transport' => $this->first->transport->value,
            'portFirst' => $this->first->number,
            'portLast' => $this->last,
            'fromAddresses' => [] === $this->fromAddresses ? null : array_map(strval(...), $this->fromAddresses),
            'toAddresses' => [] === $this->toAddresses ? null : array_map(strval(...), $this->toAddresses),
            'action' => 'allow',
            'note' => mb_substr(implode(' ', array_map(strval(...), $this->why)), 0, 400),
        ];
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'router' => $this->router,
            'from' => $this->from,
            'fromAddresses' => array_map(strval(...), $this->fromAddresses),
            'to' => $this->to,
            'toAddresses' => array_map(strval(...), $this->toAddresses),
            'ports' => $this->ports(),
            'why' => $this->why,
            'devices' => $this->devices,
        ];
    }
}
