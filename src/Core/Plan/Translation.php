<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;

/** What a router rewrites between the inside of a site and one segment outside (RFC 2663 §4). The first that matches counts. */
final readonly class Translation
{
    /**
     * @param string    $outside    the segment on whose side the outside address is known
     * @param Ipv4|null $address    the outside address; null for the router's own on that segment
     * @param Ipv4|null $inside     who is behind it; null for everybody
     * @param int|null  $insidePort where the first port of the range is served inside, null for the same
     */
    private function __construct(
        public string $key,
        public string $router,
        public string $outside,
        public TranslationKind $what,
        public int $position,
        public ?Ipv4 $address,
        public ?Ipv4 $inside,
        public ?Transport $transport,
        public ?int $portFirst,
        public ?int $portLast,
        public ?int $insidePort,
        public string $note,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('router'),
            $row->text('outside'),
            TranslationKind::from($row->text('what')),
            $row->int('position', 1),
            Ipv4::tryFromString($row->text('address')),
            Ipv4::tryFromString($row->text('inside')),
            Transport::tryFrom($row->text('transport')),
            $row->intOrNull('portFirst'),
            $row->intOrNull('portLast') ?? $row->intOrNull('portFirst'),
            $row->intOrNull('insidePort'),
            $row->text('note'),
        );
    }

    /** Whether a packet that is asked for at the outside address is meant. */
    public function takes(Port $port): bool
    {
        return (null === $this->transport || $this->transport === $port->transport)
            && (null === $this->portFirst || ($port->number >= $this->portFirst && $port->number <= $this->portLast));
    }

    /** The port inside that one outside stands for. */
    public function insidePortOf(int $port): int
    {
        return null === $this->insidePort || null === $this->portFirst ? $port : $this->insidePort + $port - $this->portFirst;
    }

    /** The port outside that stands for one inside; null where none does. */
    public function outsidePortOf(Port $port): ?int
    {
        $shift = null === $this->insidePort || null === $this->portFirst ? 0 : $this->portFirst - $this->insidePort;
        $outside = $port->number + $shift;

        return $outside > 0 && $outside <= 65535 && $this->takes(Port::of($port->transport, $outside)) ? $outside : null;
    }

    /** The translation in one line, as a fact. */
    public function __toString(): string
    {
        return trim(\sprintf(
            '%d %s %s=%s %s%s%s',
            $this->position,
            $this->what->value,
            $this->address ?? 'own',
            $this->inside ?? 'any',
            $this->transport->value ?? 'any',
            null === $this->portFirst ? '' : ' '.$this->portFirst.($this->portLast === $this->portFirst ? '' : '-'.$this->portLast),
            null === $this->insidePort ? '' : ' to '.$this->insidePort,
        ));
    }
}
