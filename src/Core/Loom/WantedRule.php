<?php

declare(strict_types=1);

namespace Vorhut\Core\Loom;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Text\Message;

/** A rule to ask for: which router lets what through from where to where, and for whom. */
final readonly class WantedRule implements \JsonSerializable
{
    /**
     * @param list<Range>   $fromAddresses empty for the whole segment
     * @param list<Range>   $toAddresses   empty for the whole segment
     * @param list<Message> $why           each reason once
     * @param list<string>  $devices       tags of those whom it is for
     * @param list<Flow>    $flows
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
    ) {
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
