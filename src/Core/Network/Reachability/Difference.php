<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;

/** A service of devices that are alike, which one place would reach otherwise than now. */
final readonly class Difference implements \JsonSerializable
{
    /** @param non-empty-list<Device> $devices */
    public function __construct(
        public Segment $place,
        public string $segment,
        public array $devices,
        public ?Service $service,
        public Cell $before,
        public Cell $after,
    ) {
    }

    public function begins(): bool
    {
        return $this->after->holds() && !$this->before->holds();
    }

    public function ceases(): bool
    {
        return $this->before->holds() && !$this->after->holds();
    }

    public function message(): Message
    {
        $tags = array_map(static fn (Device $device): string => $device->tag, $this->devices);
        $at = [
            'place' => $this->place->name,
            'tags' => implode(', ', \array_slice($tags, 0, 4)),
            'n' => \count($tags) - 4,
            'port' => null === $this->service ? '' : (string) $this->service->port,
            'was' => new Message($this->before->fault?->label() ?? 'answers'),
            'is' => new Message($this->after->fault?->label() ?? 'answers'),
        ];
        $at['devices'] = new Message(\count($tags) > 4 ? '{tags} and {n} more' : '{tags}', $at);

        return new Message(match (true) {
            $this->begins() => 'From {place}, {devices} {port} begins to answer (before: {was}).',
            $this->ceases() => 'From {place}, {devices} {port} stops answering: {is}.',
            default => 'From {place}, {devices} {port} stays silent for another reason: {is} (before: {was}).',
        }, $at);
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'place' => $this->place->key,
            'segment' => $this->segment,
            'devices' => array_map(static fn (Device $device): string => $device->tag, $this->devices),
            'port' => null === $this->service ? null : (string) $this->service->port,
            'before' => $this->before->fault->value ?? $this->before->verdict,
            'after' => $this->after->fault->value ?? $this->after->verdict,
        ];
    }
}
