<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** A data cable between a device and a port of a switch, or between two switches. */
final readonly class Cable
{
    /**
     * @param string   $port   of the switch, as it is printed there
     * @param int|null $mbps   what both ends agree on; null where nobody said
     * @param int|null $metres from plug to plug; null where nobody measured
     * @param bool     $spare  blocked until another one fails (IEEE 802.1Q spanning tree)
     */
    private function __construct(
        public string $key,
        public string $device,
        public string $switch,
        public string $port,
        public ?int $mbps,
        public ?int $metres,
        public bool $spare,
        public string $note,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('device'),
            $row->text('switch'),
            $row->text('port'),
            $row->intOrNull('mbps'),
            $row->intOrNull('metres'),
            $row->bool('spare'),
            $row->text('note'),
        );
    }
}
