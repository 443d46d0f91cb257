<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Allocation\LaptopAddress;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;

/** Makes a stop from a draft: the lanes, the addresses of the laptop, and the notes for the technician. */
final class StopBuilder
{
    /** Where the laptop stands among devices that make their own addresses (RFC 3927). */
    private const LINK_LOCAL = '169.254.200.10';

    /** @var list<non-empty-list<Device>> */
    private readonly array $lanes;
    /** @var array<string, list<int>> device → lanes that have to be left before it is powered */
    private readonly array $clear;
    /** Which lane is that of the devices that wait for one another. */
    private readonly ?int $swaps;
    /** @var list<Device> */
    private readonly array $devices;

    /** @param list<Message> $notes that come of the order of the stops */
    public function __construct(
        private readonly Plan $plan,
        private readonly StopDraft $draft,
        private array $notes,
        private readonly Precedence $precedence,
        private readonly BenchRoom $room,
    ) {
        ['lanes' => $this->lanes, 'clear' => $this->clear, 'swaps' => $this->swaps] = $draft->lanes($precedence);
        $this->devices = array_merge(...$this->lanes);
    }

    public function build(int $number, int $bench): Stop
    {
        $this->noteSharedAddresses();
        $this->noteUnfed();
        $this->noteSwaps();
        [$laptop, $mask, $second] = match ($this->draft->how) {
            StopKind::Fixed => $this->amongFactoryAddresses(),
            StopKind::LinkLocal => [Ipv4::fromString(self::LINK_LOCAL), Mask::ofPrefix(16), []],
            StopKind::Dhcp => $this->withNote('The laptop or the segment\'s server leases the reserved addresses below.'),
            StopKind::ByHand => $this->withNote('No laptop needed: done by hand or by the administrator.'),
        };

        return new Stop(
            $number,
            $this->draft->how,
            $laptop,
            $mask,
            $second,
            $this->lanes,
            $this->notes,
            fn (?int $now, array $until): array => $this->tasks($now, $until),
            $this->room,
            $bench,
        );
    }

    private function note(Message $note): void
    {
        $this->notes[] = $note;
    }

    /** @return array{null, null, array{}} */
    private function withNote(string $text): array
    {
        $this->note(new Message($text));

        return [null, null, []];
    }

    private function noteSharedAddresses(): void
    {
        if (StopKind::Fixed !== $this->draft->how) {
            return;
        }
        foreach ($this->lanes as $i => $lane) {
            if (\count($lane) > 1 && $i !== $this->swaps) {
                $this->note(new Message(
                    '[n device comes|devices come] with {address}: power them one after the other, in the order of their lane.',
                    ['n' => \count($lane), 'address' => (string) $lane[0]->factory->address],
                ));
            }
        }
    }

    private function noteUnfed(): void
    {
        $unfed = array_filter($this->devices, $this->room->cannotFeed(...));
        if ([] === $unfed) {
            return;
        }
        $names = array_map(
            static fn (Device $device): string => $device->tag.' ('.($device->kind->power?->poe()->value ?? '').')',
            $unfed,
        );
        $this->note(new Message(
            '{tags}: the ports of the bench switch feed up to PoE class {class}, which is too little. Take an injector that feeds '
                .'as much as the device wants.',
            ['tags' => implode(', ', $names), 'class' => $this->room->class->value ?? ''],
        ));
    }

    private function noteSwaps(): void
    {
        if (null === $this->swaps) {
            return;
        }
        $tags = array_map(static fn (Device $device): string => $device->tag, $this->lanes[$this->swaps]);
        $this->note(new Message(
            '{tags} are to live where others of them wake up: one after the other, each unplugged as soon as it is set.',
            ['tags' => implode(', ', $tags)],
        ));
    }

    /** @return array{Ipv4|null, Mask, list<array{segment: string, address: Ipv4, mask: Mask}>} */
    private function amongFactoryAddresses(): array
    {
        $networks = array_values(array_filter(
            array_map(static fn (Device $device): ?Network => $device->factory->network(), $this->devices),
            static fn (?Network $network): bool => null !== $network,
        ));
        usort($networks, static fn (Network $a, Network $b): int => $b->mask->prefix <=> $a->mask->prefix);
        $inner = $networks[0];
        $widest = $networks[\count($networks) - 1];
        $laptop = LaptopAddress::in($this->plan, $inner, $this->taken());
        if (null === $laptop) {
            $this->note(new Message(
                'No address is left in {network} for the laptop: take that of a device which is not powered, and change it before '
                    .'that one is.',
                ['network' => (string) $inner],
            ));
        }

        return [$laptop, $widest->mask, $this->secondAddresses($widest)];
    }

    /** @return array<string, true> addresses that the devices wake up at, or will hold */
    private function taken(): array
    {
        $taken = [];
        foreach ($this->devices as $device) {
            foreach ([(string) $device->factory->address, StopDraft::target($device)] as $address) {
                $taken[$address ?? ''] = true;
            }
        }

        return $taken;
    }

    /** @return list<array{segment: string, address: Ipv4, mask: Mask}> in the segments where the devices will live */
    private function secondAddresses(Network $widest): array
    {
        $second = [];
        foreach ($this->targets() as $segment) {
            if ($segment->network->equals($widest)) {
                continue;
            }
            if ($segment->network->overlaps($widest)) {
                $this->note(new Message(
                    'The factory network {factory} swallows {site} ({name}): both cannot be up on one laptop. Set all first, then '
                        .'move the laptop and verify.',
                    ['factory' => (string) $widest, 'site' => (string) $segment->network, 'name' => $segment->name],
                ));
                continue;
            }
            $address = $segment->outpost ?? FreeAddress::forOutpost($this->plan, $segment);
            if (null !== $address) {
                $second[] = ['segment' => $segment->key, 'address' => $address, 'mask' => $segment->network->mask];
            }
        }

        return $second;
    }

    /** @return array<string, Segment> where the devices will live */
    private function targets(): array
    {
        $targets = [];
        foreach ($this->devices as $device) {
            $segment = $this->plan->segmentOf($device);
            if (null !== $segment) {
                $targets[$segment->key] = $segment;
            }
        }
        ksort($targets);

        return $targets;
    }

    /**
     * @param int|null                          $now   Unix time from which the remaining work is planned; null for all of it
     * @param array<string, array<string, int>> $until device → code of the step → seconds until it can be begun
     *
     * @return list<BenchTask>
     */
    private function tasks(?int $now, array $until): array
    {
        $numbers = array_flip(array_map(static fn (Device $device): string => $device->key, $this->devices));
        $tasks = [];
        foreach ($this->lanes as $lane => $devices) {
            foreach ($devices as $device) {
                $after = array_map(static fn (array $keys): array => array_values(array_filter(
                    array_map(static fn (string $key): ?int => $numbers[$key] ?? null, $keys),
                    is_int(...),
                )), $this->precedence->of($device));
                $sheet = RunSheet::of($this->plan, $device);
                $over = null === $now ? [] : $sheet->over();
                $tasks[] = new BenchTask(
                    $device->key,
                    $lane,
                    BenchTask::partsOf($device->steps, $over, $after, $until[$device->key] ?? []),
                    $this->clear[$device->key] ?? [],
                    null === $now ? 0 : max(0, $sheet->waitsUntil() - $now),
                    null !== $now && $sheet->isHookedUp(),
                    $this->room->allots($device),
                );
            }
        }

        return $tasks;
    }
}
