<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Voice\Dialling\DigitMap;

/** Routes dialled digits from a PBX to trunks. The first match counts. */
final readonly class CallRoute
{
    public string $key;
    public string $name;
    public string $pbx;
    public int $position;
    public DigitMap $map;
    public ?DigitMap $callers;
    /** The permission that a caller must have: national or international, or empty. */
    public string $needs;
    public ?string $timeFrame;
    public int $strip;
    public string $prepend;
    /** @var list<string> keys, the first is tried first */
    public array $trunks;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->name = $row->text('name');
        $this->pbx = $row->text('pbx');
        $this->position = $row->int('position', 1);
        $this->map = DigitMap::fromString($row->text('map'));
        $this->callers = '' === $row->text('callers') ? null : DigitMap::fromString($row->text('callers'));
        $this->needs = $row->text('needs');
        $this->timeFrame = $row->textOrNull('timeFrame');
        $this->strip = $row->int('strip');
        $this->prepend = $row->text('prepend');
        $this->trunks = array_values(array_unique(array_filter(
            [$row->text('trunk'), $row->text('trunk2'), $row->text('trunk3')],
            static fn (string $one): bool => '' !== $one,
        )));
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }

    /** The digits sent for dialled digits. */
    public function digitsSent(string $digits): string
    {
        return $this->prepend.substr($digits, $this->strip);
    }
}
