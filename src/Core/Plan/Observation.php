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
    public string $key;
    public string $test;
    /** Counts the evidence of a job in the order in which it came; 0 where that is not known. */
    public int $arrived;
    /** As the finder's clock had it. */
    public string $at;
    public string $by;
    public string $from;
    public bool $onSite;
    /** Name of the machine that asked; empty for a person. */
    public string $outpost;
    /** Its network adapter. */
    public string $adapter;
    /** The address it asked from. */
    public string $address;
    public string $outcome;
    public Message $detail;
    /** @var list<string> facts of the prediction at that time, as Facts::texts() */
    public array $basis;
    /** @var list<string> raw lines, as received */
    public array $evidence;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->test = $row->text('test');
        $this->arrived = $row->int('arrived');
        $this->at = $row->text('at');
        $this->by = $row->text('by');
        $this->from = $row->text('from');
        $this->onSite = $row->bool('onSite');
        $this->outpost = $row->text('outpost');
        $this->adapter = $row->text('adapter');
        $this->address = $row->text('address');
        $this->outcome = $row->text('outcome');
        $this->detail = Message::fromStored($row->value('detail'));
        $this->basis = $row->texts('basis');
        $this->evidence = $row->texts('evidence');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }

    /**
     * By arrival: a wrong clock, or a document from another system, must not make old evidence the newest. Records from before arrivals
     * were counted come first, by date.
     */
    public static function compare(self $a, self $b): int
    {
        return [$a->arrived, $a->at, $a->key] <=> [$b->arrived, $b->at, $b->key];
    }

    /** The place of the test; null for a person, and for records from before places were stored. */
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
