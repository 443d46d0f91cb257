<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SegmentCheck;
use Vorhut\Core\Text\Message;

/** What a text says about a new job: its networks, then its roster. Devices in a known segment get their addresses. */
final readonly class JobOutline
{
    /**
     * @param list<Edit> $edits
     * @param string     $left  the roster, where some of it needs a decision: nothing of it was taken
     */
    private function __construct(public array $edits, public string $left)
    {
    }

    /**
     * @param Plan   $plan of the new job
     * @param string $text networks as NetworkLines reads them, then a table as RosterPaste reads it
     *
     * @throws Malformed for a line that names a network and is wrong
     */
    public static function read(Plan $plan, string $text): self
    {
        $networks = NetworkLines::read($plan, $text);
        $plan = self::with($plan, $networks->edits);
        foreach ($plan->segments as $segment) {
            foreach (SegmentCheck::of($segment, $plan->catalogue) as $wrong) {
                throw Malformed::because('{segment}: {why}', ['segment' => $segment->name, 'why' => $wrong['what']]);
            }
        }
        if ('' === trim($networks->rest)) {
            return new self($networks->edits, '');
        }
        $roster = RosterPaste::of($plan, $networks->rest);
        if ([] !== $roster->unknown || $roster->refused() > 0) {
            return new self($networks->edits, $networks->rest);
        }
        $devices = $roster->change()->edits;

        return new self([
            ...$networks->edits,
            ...$devices,
            ...Allocation::of(self::with($plan, $devices))->change()->edits,
        ], '');
    }

    /** @param list<Edit> $edits */
    private static function with(Plan $plan, array $edits): Plan
    {
        return [] === $edits ? $plan : $plan->with(new Change(new Message(''), $edits));
    }
}
