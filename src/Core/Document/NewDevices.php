<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\TagProposal;
use Vorhut\Core\Text\Message;

/** One or more new devices of a kind: tags continue those of the roster, and each gets the next free address of its segment. */
final readonly class NewDevices
{
    public const MOST = 200;

    /**
     * @param non-empty-list<string> $tags
     * @param Change                 $change devices, ports and planned addresses
     */
    private function __construct(public array $tags, public Change $change)
    {
    }

    /**
     * @param non-empty-list<string> $tags
     * @param string                 $segment its name, key, network or VLAN; empty if it is not known
     * @param string                 $label   MAC or serial number of a single device
     *
     * @throws Malformed
     */
    public static function of(Plan $plan, Kind $kind, array $tags, string $room, string $segment, string $label): self
    {
        $count = \count($tags);
        if ($count > 1 && '' !== $label) {
            throw Malformed::because('A label belongs to one device: leave it empty to add [n device|devices].', ['n' => $count]);
        }
        $taker = new RosterTaker($plan);
        foreach ($tags as $tag) {
            $taker->take([
                'tag' => $tag,
                'kind' => $kind->code,
                'room' => $room,
                'segment' => $segment,
                null === Mac::tryFromString($label) ? 'serial' : 'mac' => $label,
            ]);
        }
        $why = 1 === $count
            ? new Message('{tag} added.', ['tag' => $tags[0]])
            : new Message('[n device|devices] added: {first} to {last}.', ['n' => $count, 'first' => $tags[0], 'last' => end($tags)]);

        return new self($tags, new Change($why, [...$taker->edits(), ...self::addresses($plan, $taker->edits())]));
    }

    /**
     * @param string $tag   empty for the proposed one; with several devices, the first of them
     * @param int    $count 1 to 200
     *
     * @return non-empty-list<string>
     *
     * @throws Malformed if one of them is in the roster
     */
    public static function tags(Plan $plan, Kind $kind, string $tag, int $count): array
    {
        $first = '' === $tag ? TagProposal::next($plan, $kind) : $tag;
        $tags = CountedUp::from($first, $count);
        foreach ($tags as $one) {
            if (null !== $plan->deviceTagged($one)) {
                throw Malformed::because('{tag} is in the roster already.', ['tag' => $one]);
            }
        }

        return $tags;
    }

    /**
     * @param list<Edit> $edits the devices and their ports
     *
     * @return list<Edit> the planned addresses of these ports, and of no others
     */
    private static function addresses(Plan $plan, array $edits): array
    {
        $new = [];
        foreach ($edits as $edit) {
            if ('nics' === $edit->section) {
                $new['nics/'.$edit->key.'#address'] = true;
            }
        }

        return array_values(array_filter(
            Allocation::of($plan->with(new Change(new Message(''), $edits)))->change()->edits,
            static fn (Edit $edit): bool => isset($new[$edit->key]),
        ));
    }
}
