<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Mdns\Query;
use Vorhut\Core\Wire\ParseError;

/** Whether a device is found: by a multicast question (RFC 6762), then address by address. */
final readonly class DiscoverProbe implements Probe
{
    /** Addresses of one search; a power of two. */
    private const RANGE_AT_MOST = 256;

    public function kind(): TestKind
    {
        return TestKind::Discover;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        $device = $context->plan->devices[$test->to] ?? null;
        $address = ProbeContext::addressOf($device);
        $log = [];
        if (null !== $device?->kind->discoveryService) {
            $found = self::askGroup($context, $device->kind->discoveryService, $log);
            foreach ($found as $answer) {
                if (null !== $address && null !== $answer['address'] && $answer['address']->equals($address)) {
                    return new Evidence(
                        Outcome::FoundByGroup,
                        new Message('"{name}" answered the group question', ['name' => $answer['name']]),
                        $log,
                    );
                }
            }
        }
        if (null === $device || null === $address) {
            return Evidence::notAsked(new Message('it has no address to look for'));
        }
        $range = self::rangeAround($context->plan->segmentOf($device), $address);
        $port = $device->serviceNamed('admin')->port->number ?? 80;
        $answers = $context->search->answers($context->place, $range, $port);
        $log[] = \sprintf(
            'range %s (%d addresses), port %d: %s',
            $range,
            $range->count(),
            $port,
            [] === $answers ? 'no device answered' : implode(', ', $answers).' answered',
        );

        return \in_array((string) $address, $answers, true)
            ? new Evidence(
                Outcome::FoundByRange,
                new Message(
                    '{n} of {all} addresses of the range answered, it among them',
                    ['n' => \count($answers), 'all' => $range->count()],
                ),
                $log,
            )
            : new Evidence(Outcome::NotFound, new Message('neither the group question nor the range of {all} addresses found it', [
                'all' => $range->count(),
            ]), $log);
    }

    /** What a program that searches a range would be given: the block of the plan, else the network, as far as one search goes. */
    private static function rangeAround(?Segment $segment, Ipv4 $address): Range
    {
        $range = null === $segment
            ? Range::of($address, $address)
            : Range::of($segment->network->firstHost(), $segment->network->lastHost());
        foreach ($segment->blocks ?? [] as $block) {
            if ($block['range']->contains($address)) {
                $range = $block['range'];
            }
        }
        if ($range->count() <= self::RANGE_AT_MOST) {
            return $range;
        }
        // Aligned, so that neighbours ask for the same range and one search serves them all.
        $first = $address->number & ~(self::RANGE_AT_MOST - 1);

        return Range::of(
            Ipv4::fromNumber(max($range->first->number, $first)),
            Ipv4::fromNumber(min($range->last->number, $first + self::RANGE_AT_MOST - 1)),
        );
    }

    /**
     * @param list<string> $log
     *
     * @return list<array{name: string, address: Ipv4|null}>
     */
    private static function askGroup(ProbeContext $context, string $type, array &$log): array
    {
        $socket = $context->access->datagrams($context->place->address);
        $id = random_int(1, 65535);
        $context->access->group($socket, Ipv4::fromString(Query::GROUP), Query::PORT, Query::ask($type, $id));
        $found = [];
        for ($until = microtime(true) + 0.8; ($left = $until - microtime(true)) > 0;) {
            $received = $socket->receive($left);
            if (null === $received) {
                break;
            }
            try {
                $answer = Query::readAnswer($received[2]);
            } catch (ParseError) {
                continue;
            }
            if (null !== $answer && $answer['id'] === $id) {
                $found[] = ['name' => $answer['name'], 'address' => $answer['address']];
            }
        }
        $socket->close();
        $log[] = \sprintf(
            'group question for %s: %s',
            $type,
            [] === $found
                ? 'no device answered'
                : implode(', ', array_map(static fn (array $one): string => $one['name'].' '.$one['address'], $found)),
        );

        return $found;
    }
}
