<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;

/** What a router rewrites between the inside of a site and one segment outside (RFC 2663 §4). The first that matches counts. */
final readonly class Translation
{
    public string $key;
    public string $router;
    /** The segment on whose side the outside address is known. */
    public string $outside;
    public TranslationKind $what;
    public int $position;
    /** @var Ipv4|null the outside address; null for the router's own on that segment */
    public ?Ipv4 $address;
    /** @var Ipv4|null the inside host; null for all hosts */
    public ?Ipv4 $inside;
    public ?Transport $transport;
    public ?int $portFirst;
    public ?int $portLast;
    /** @var int|null where the first port of the range is served inside, null for the same */
    public ?int $insidePort;
    public string $note;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->router = $row->text('router');
        $this->outside = $row->text('outside');
        $this->what = TranslationKind::from($row->text('what'));
        $this->position = $row->int('position', 1);
        $this->address = Ipv4::tryFromString($row->text('address'));
        $this->inside = Ipv4::tryFromString($row->text('inside'));
        $this->transport = Transport::tryFrom($row->text('transport'));
        $this->portFirst = $row->intOrNull('portFirst');
        $this->portLast = $row->intOrNull('portLast') ?? $row->intOrNull('portFirst');
        $this->insidePort = $row->intOrNull('insidePort');
        $this->note = $row->text('note');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }

    /** Whether a packet to the outside address matches. */
    public function takes(Port $port): bool
    {
        return (null === $this->transport || $this->transport === $port->transport)
            && (null === $this->portFirst || ($port->number >= $this->portFirst && $port->number <= $this->portLast));
    }

    /** The inside port for an outside port. */
    public function insidePortOf(int $port): int
    {
        return null === $this->insidePort || null === $this->portFirst ? $port : $this->insidePort + $port - $this->portFirst;
    }

    /** The outside port for an inside port; null if there is none. */
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
