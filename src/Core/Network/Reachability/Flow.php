<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\Fault;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Text\Message;

/** A required connection of the job: source, destination, ports and reason. */
final readonly class Flow
{
    /** As one end of a flow: an address outside the job. */
    public const OUTSIDE = 'outside';

    /**
     * @param string    $from    device key, `outposts/SEGMENT`, or OUTSIDE
     * @param string    $to      the same
     * @param int       $last    the last port of the range that begins at $port
     * @param Ipv4|null $outside the address of the end that is outside the job; an example where $isAnywhere
     * @param bool      $isServed whether a service at that port answers; else packets of a running call or stream go there
     * @param bool      $isTest   whether only an outpost needs it, for a test of the plan
     * @param bool      $isAnywhere the end outside may be at any address
     * @param bool      $isOneOfMany one of so many pairs of segments that a finding looks at neighbours only
     */
    public function __construct(
        public string $from,
        public string $to,
        public Port $port,
        public int $last,
        public Message $why,
        public ?Ipv4 $outside = null,
        public bool $isServed = true,
        public bool $isTest = false,
        public bool $isAnywhere = false,
        public bool $isOneOfMany = false,
    ) {
    }

    public function key(): string
    {
        return "$this->from>$this->to $this->port $this->last".(null === $this->outside ? '' : ' '.$this->outside);
    }

    public function leaves(): bool
    {
        return self::OUTSIDE === $this->to;
    }

    public function enters(): bool
    {
        return self::OUTSIDE === $this->from;
    }

    /** @param Port|null $port another one of the range; null for the first */
    public function walk(NetworkModel $model, ?Port $port = null): Walk
    {
        $port ??= $this->port;

        return match (true) {
            null !== $this->outside && $this->leaves() => Walker::leaving($model, $this->from, $this->outside, $port)->walk,
            null !== $this->outside && $this->enters() => Walker::entering($model, $this->outside, $this->to, $port),
            default => Walker::between($model, $this->from, $this->to, $port),
        };
    }

    /** Whether its walk comes as far as the job can say. */
    public function passes(Walk $walk): bool
    {
        $fault = $walk->brokenHop()?->fault;
        if (null === $fault) {
            return true;
        }
        // Who holds the address is not a device of the job that serves it, so the job can say no more.
        $isOut = $this->leaves() && \in_array($fault, [Fault::LeftTheSite, Fault::NoHolder, Fault::AnotherHolds], true);

        return $isOut || (!$this->isServed && Fault::NotServed === $fault);
    }
}
