<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Text\Message;

/**
 * What a probe or a person found: what, from which place, when, on which basis the prediction then stood, and the raw evidence. On site,
 * or in the lab: only one of the two proves anything of the site.
 */
final readonly class Observation
{
    /**
     * @param int          $arrived  counts the evidence of a job in the order in which it came; 0 where that is not known
     * @param string       $at       as the finder's clock had it
     * @param string       $outpost  name of the machine that asked; empty for a person
     * @param string       $adapter  its network adapter
     * @param string       $address  the address it asked from
     * @param list<string> $basis    facts of the prediction at that time, as Facts::texts()
     * @param list<string> $evidence raw lines, as they came over the wire
     */
    private function __construct(
        public string $key,
        public string $test,
        public int $arrived,
        public string $at,
        public string $by,
        public string $from,
        public bool $onSite,
        public string $outpost,
        public string $adapter,
        public string $address,
        public string $outcome,
        public Message $detail,
        public array $basis,
        public array $evidence,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('test'),
            $row->int('arrived'),
            $row->text('at'),
            $row->text('by'),
            $row->text('from'),
            $row->bool('onSite'),
            $row->text('outpost'),
            $row->text('adapter'),
            $row->text('address'),
            $row->text('outcome'),
            Message::fromStored($row->value('detail')),
            $row->texts('basis'),
            $row->texts('evidence'),
        );
    }

    /**
     * By arrival: a clock that goes wrong, or a document from elsewhere, must not make old evidence the newest. What was written down
     * before arrivals were counted comes first, by its date.
     */
    public static function compare(self $a, self $b): int
    {
        return [$a->arrived, $a->at, $a->key] <=> [$b->arrived, $b->at, $b->key];
    }

    /** Where it stood; null for a person, and for what was written down before places were. */
    public function place(): ?Message
    {
        return match (true) {
            '' === $this->outpost => null,
            '' === $this->address => new Message('{outpost}, {adapter}', ['outpost' => $this->outpost, 'adapter' => $this->adapter]),
            default => new Message('{outpost}, {adapter}, {address}', [
                'outpost' => $this->outpost,
                'adapter' => $this->adapter,
                'address' => $this->address,
            ]),
        };
    }
}
