<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;

/** A rule of a router's filter; a null segment means any. The last rule of a pair without transport and ports is that pair's default. */
final readonly class FilterRule
{
    private function __construct(
        public string $key,
        public string $router,
        public int $position,
        public ?string $from,
        public ?string $to,
        public ?Transport $transport,
        public ?int $portFirst,
        public ?int $portLast,
        public bool $allows,
        public string $note,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('router'),
            $row->int('position', 1),
            $row->textOrNull('from'),
            $row->textOrNull('to'),
            Transport::tryFrom($row->text('transport')),
            $row->intOrNull('portFirst'),
            $row->intOrNull('portLast') ?? $row->intOrNull('portFirst'),
            'allow' === $row->text('action'),
            $row->text('note'),
        );
    }

    public function matches(string $from, string $to, Port $port): bool
    {
        return (null === $this->from || $this->from === $from)
            && (null === $this->to || $this->to === $to)
            && (null === $this->transport || $this->transport === $port->transport)
            && (null === $this->portFirst || ($port->number >= $this->portFirst && $port->number <= $this->portLast));
    }

    /** The rule in one line, as a fact and as a person reads it. */
    public function __toString(): string
    {
        return \sprintf(
            '%d %s %s>%s %s%s',
            $this->position,
            $this->allows ? 'allow' : 'deny',
            $this->from ?? 'any',
            $this->to ?? 'any',
            $this->transport->value ?? 'any',
            null === $this->portFirst ? '' : ' '.$this->portFirst.($this->portLast === $this->portFirst ? '' : '-'.$this->portLast),
        );
    }
}
