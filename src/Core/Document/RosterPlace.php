<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\ShortHost;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;

/** Where a row of a roster puts a device: its segment, which may follow from its address, and its address in full. */
final readonly class RosterPlace
{
    /**
     * @param string|null $segment its key; null where nothing says it
     * @param string      $address empty where the row has none
     */
    private function __construct(public ?string $segment, public string $address)
    {
    }

    /**
     * @param array<string, string> $cells as RosterCells reads them
     * @param Segment|null          $usual for a device without a segment of its own and without an address
     *
     * @throws Malformed for an unknown segment, for an address with another mask than that of its segment, and for a short address
     *                   without a segment
     */
    public static function of(Plan $plan, array $cells, ?Segment $usual): self
    {
        $address = $cells['address'] ?? '';
        $named = self::named($plan, $cells['segment'] ?? '');
        $network = $cells['network'] ?? '';
        if ('' !== $network && null !== $named && (string) $named->network !== $network) {
            throw Malformed::because('{address} is in {network}, but {segment} is {other}.', [
                'address' => $address,
                'network' => $network,
                'segment' => $named->name,
                'other' => (string) $named->network,
            ]);
        }
        if ('' !== $network) {
            return new self(($named ?? SegmentName::find($plan, $network))?->key, $address);
        }
        if (ShortHost::is($address)) {
            $segment = $named ?? $usual
                ?? throw Malformed::because('{address} is short for an address: name its segment too.', ['address' => $address]);

            return new self($segment->key, (string) ShortHost::in($segment->network, $address));
        }
        $segment = $named ?? ('' === $address ? $usual : SegmentName::around($plan, $address));

        return new self($segment?->key, $address);
    }

    private static function named(Plan $plan, string $text): ?Segment
    {
        return '' === $text ? null : SegmentName::find($plan, $text)
            ?? throw Malformed::because('No segment is called "{text}".', ['text' => $text]);
    }
}
