<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Network\Discovery\Answered;
use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;

/** Asks every address of a list from the place that it names. It enters nothing. */
final readonly class RangeRound
{
    public function __construct(private NetworkAccess $access, private VantagePoints $places)
    {
    }

    /**
     * @param \Closure(int, int): mixed $told hears how many were asked and how many answered; false ends it
     *
     * @return array{
     *     key: string, test: string, from: string, onSite: bool, outpost: string, adapter: string, address: string, outcome: string,
     *     detail: string|list<mixed>, basis: list<string>, evidence: list<string>,
     * } the row to store; not asked, with the reason, if the test is impossible from there
     */
    public function ask(RangeList $list, \Closure $told): array
    {
        $place = null;
        $found = [];
        $asked = 0;
        $counted = static function (int $n, int $answered) use (&$asked, $told): mixed {
            $asked = $n;

            return $told($n, $answered);
        };
        try {
            $place = $this->places->on($list->from ?? '');
            $found = (new Sweeper($this->access))->sweep($place, $list->addresses(), $list->port, $counted);
            $outcome = [] === $found ? Outcome::Silent : Outcome::Answers;
            $detail = new Message('{n} asked, {m} answered', ['n' => $asked, 'm' => \count($found)]);
        } catch (NoAnswer $e) {
            $outcome = Outcome::NotAsked;
            $detail = $e->message();
        }

        return [
            'key' => bin2hex(random_bytes(10)),
            'test' => $list->test(),
            'from' => OutpostKey::on((string) $list->from),
            'onSite' => $this->access->isOnSite(),
            'outpost' => $place->outpost ?? '',
            'adapter' => $place->adapter->name ?? '',
            'address' => (string) $place?->address,
            'outcome' => $outcome->value,
            'detail' => $detail->toStored(),
            'basis' => [],
            'evidence' => array_map(static fn (Answered $one): string => (string) $one, $found),
        ];
    }
}
