<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** A data cable between a device and a port of a switch, or between two switches. */
final readonly class Cable
{
    public string $key;
    public string $device;
    public string $switch;
    /** Of the switch, as it is printed there. */
    public string $port;
    /** @var int|null link rate negotiated by both ends; null if not set */
    public ?int $mbps;
    /** @var int|null length from plug to plug; null if not measured */
    public ?int $metres;
    /** Blocked until another one fails (IEEE 802.1Q spanning tree). */
    public bool $spare;
    public string $note;

    private function __construct(Row $row)
    {
        $this->key = $row->text('key');
        $this->device = $row->text('device');
        $this->switch = $row->text('switch');
        $this->port = $row->text('port');
        $this->mbps = $row->intOrNull('mbps');
        $this->metres = $row->intOrNull('metres');
        $this->spare = $row->bool('spare');
        $this->note = $row->text('note');
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }
}
