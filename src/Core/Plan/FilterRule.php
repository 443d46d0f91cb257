<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Net\Transport;

/**
 * A rule of a router's filter; a null segment, and no list of addresses, means any. The last rule of a pair without transport and ports is
 * that pair's default.
 */
final readonly class FilterRule
{
    public string $key;
    public string $router;
    public int $position;
    public ?string $from;
    public ?string $to;
    public ?Transport $transport;
    public ?int $portFirst;
    public ?int $portLast;
    /** @var list<Range> */
    public array $fromAddresses;
    /** @var list<Range> */
    public array $toAddresses;
    public bool $allows;
    public string $note;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->router = $row->text('router');
        $this->position = $row->int('position', 1);
        $this->from = $row->textOrNull('from');
        $this->to = $row->textOrNull('to');
        $this->transport = Transport::tryFrom($row->text('transport'));
        $this->portFirst = $row->intOrNull('portFirst');
        $this->portLast = $row->intOrNull('portLast') ?? $row->intOrNull('portFirst');
        $this->fromAddresses = array_map(Range::fromString(...), $row->texts('fromAddresses'));
        $this->toAddresses = array_map(Range::fromString(...), $row->texts('toAddresses'));
        $this->allows = 'allow' === $row->text('action');
        $this->note = $row->text('note');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }

    /**
     * @param Address $source      as the packet bears it, before it is translated on the way out
     * @param Address $destination after it was translated on the way in
     */
    public function matches(string $from, string $to, Port $port, Address $source, Address $destination): bool
    {
        return (null === $this->from || $this->from === $from)
            && (null === $this->to || $this->to === $to)
            && (null === $this->transport || $this->transport === $port->transport)
            && (null === $this->portFirst || ($port->number >= $this->portFirst && $port->number <= $this->portLast))
            && self::isAmong($source, $this->fromAddresses)
            && self::isAmong($destination, $this->toAddresses);
    }

    /** Whether a packet to an address and port may match, wherever it comes from. */
    public function reaches(Address $destination, Port $port): bool
    {
        return (null === $this->transport || $this->transport === $port->transport)
            && (null === $this->portFirst || ($port->number >= $this->portFirst && $port->number <= $this->portLast))
            && self::isAmong($destination, $this->toAddresses);
    }

    /** Whether it looks at more of a packet than where it comes from, where it goes, and its port. */
    public function looksAtAddresses(): bool
    {
        return [] !== $this->fromAddresses || [] !== $this->toAddresses;
    }

    /** @param list<Range> $ranges none is any */
    private static function isAmong(Address $address, array $ranges): bool
    {
        foreach ($ranges as $range) {
            if ($address instanceof Ipv4 && $range->contains($address)) {
                return true;
            }
        }

        return [] === $ranges;
    }

    /** The rule in one line, as a fact and as a person reads it. */
    public function __toString(): string
    {
        return \sprintf(
            '%d %s %s%s>%s%s %s%s',
            $this->position,
            $this->allows ? 'allow' : 'deny',
            $this->from ?? 'any',
            [] === $this->fromAddresses ? '' : ' '.implode(' ', $this->fromAddresses),
            $this->to ?? 'any',
            [] === $this->toAddresses ? '' : ' '.implode(' ', $this->toAddresses),
            $this->transport->value ?? 'any',
            null === $this->portFirst ? '' : ' '.$this->portFirst.($this->portLast === $this->portFirst ? '' : '-'.$this->portLast),
        );
    }
}
