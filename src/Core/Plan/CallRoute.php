<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Voice\Dialling\DigitMap;

/** Which dialled digits leave a PBX by which trunks. The first that takes them counts. */
final readonly class CallRoute
{
    /**
     * @param string       $needs  the permission that a caller must have: national or international, or empty
     * @param list<string> $trunks keys, the first is tried first
     */
    private function __construct(
        public string $key,
        public string $name,
        public string $pbx,
        public int $position,
        public DigitMap $map,
        public ?DigitMap $callers,
        public string $needs,
        public ?string $timeFrame,
        public int $strip,
        public string $prepend,
        public array $trunks,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('name'),
            $row->text('pbx'),
            $row->int('position', 1),
            DigitMap::fromString($row->text('map')),
            '' === $row->text('callers') ? null : DigitMap::fromString($row->text('callers')),
            $row->text('needs'),
            $row->textOrNull('timeFrame'),
            $row->int('strip'),
            $row->text('prepend'),
            array_values(array_unique(array_filter(
                [$row->text('trunk'), $row->text('trunk2'), $row->text('trunk3')],
                static fn (string $one): bool => '' !== $one,
            ))),
        );
    }

    /** What is sent for dialled digits. */
    public function digitsSent(string $digits): string
    {
        return $this->prepend.substr($digits, $this->strip);
    }
}
