<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Remote;

use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Entity\Job;
use Vorhut\Entity\Outpost;
use Vorhut\Entity\WorkOrder;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\Records;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Outpost\Probe\ShippedProbes;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Secrets\Vault;

/**
 * Assigns work: a test from a segment with an outpost goes to that outpost, all other tests to the worker on the server. Results from an
 * outpost are accepted only for tests assigned to it, and once.
 */
final readonly class Assignments
{
    /** Lines of evidence of one test, and rows in one delivery: more cannot be honest. */
    private const LINES = 70_000;
    private const ROWS = 500;
    private const LONGEST = 500;
    private const NAME = 40;
    /** Characters of what an outpost says of an order, places of a sentence, sentences within it, facts of a result. */
    private const SAID = 190;
    private const PLACES = 30;
    private const DEPTH = 4;
    private const FACTS = 4000;

    public function __construct(
        private Orders $orders,
        private Records $records,
        private EvidenceLog $evidenceLog,
        private JournalClock $time,
        private Vault $vault,
    ) {
    }

    /**
     * The next assignment of an outpost, with all it needs: the job without its past, and the secrets of the accounts that it is to use.
     *
     * @return array<string, mixed>|null
     */
    public function next(Outpost $outpost): ?array
    {
        $order = $this->orders->claim(self::claimer($outpost), (int) $outpost->id);
        if (null === $order) {
            return null;
        }
        $plan = $this->records->plan($order->job);
        $owners = [];
        $keys = self::texts($order->what['tests'] ?? null);
        if (WorkOrder::PROVE === $order->kind) {
            foreach (TestRunner::testsOf($plan, $keys, false) as $test) {
                foreach (ShippedProbes::secretOwners($plan, $test) as $owner) {
                    $owners[$owner] = true;
                }
            }
        }

        return [
            'order' => $order->id,
            'kind' => $order->kind,
            'by' => $order->orderedBy,
            'tests' => $keys,
            'list' => $order->what['list'] ?? null,
            'job' => JobDocument::of($plan)->forAnOutpost()->toJson(),
            'secrets' => array_intersect_key($this->vault->open($order->job), $owners),
        ];
    }

    /**
     * @param list<mixed> $rows as TestRunner::row() makes them
     *
     * @return int how many were new
     */
    public function deliver(Outpost $outpost, int $order, array $rows, bool $isEnd, string $said): int
    {
        $mine = $this->orders->find($order);
        // A result for an order that has ended, or that another process continues, is rejected.
        if (null === $mine || $mine->outpost !== $outpost->id || !$this->orders->holds($order, self::claimer($outpost))) {
            return 0;
        }
        $plan = $this->records->plan($mine->job);
        $list = \is_string($mine->what['list'] ?? null) ? RangeList::find($plan, $mine->what['list']) : null;
        $of = [];
        if (null === $list) {
            foreach (TestRunner::testsOf($plan, self::texts($mine->what['tests'] ?? null), false) as $test) {
                $of[$test->key] = $test->from;
            }
        }
        if (null !== $list) {
            $of[$list->test()] = OutpostKey::on((string) $list->from);
        }
        $new = [];
        foreach (\array_slice($rows, 0, self::ROWS) as $row) {
            $taken = \is_array($row) ? $this->readRow($outpost, $mine, $of, new Row($row)) : null;
            if (null !== $taken && !isset($new[$taken['key']]) && !$this->records->has($mine->job, 'observations', $taken['key'])) {
                $new[$taken['key']] = $taken;
            }
        }
        if ([] !== $new) {
            $this->evidenceLog->addAll($mine->job, 'observations', array_values($new));
        }
        $said = Sanitizer::text($said, self::SAID);
        if ($isEnd) {
            $this->orders->end($order, self::claimer($outpost), true, $said);
        } else {
            $this->orders->tell($order, self::claimer($outpost), $said);
        }

        return \count($new);
    }

    /**
     * The part of a row that an outpost may set: the result of a test assigned to it. Its identity, and that it was on site, are known
     * here.
     *
     * @param array<string, string> $of test → its place
     *
     * @return (array<string, scalar|list<mixed>|null>&array{key: string})|null
     */
    private function readRow(Outpost $outpost, WorkOrder $order, array $of, Row $row): ?array
    {
        $from = $of[$row->text('test')] ?? null;
        $outcome = Outcome::tryFrom($row->text('outcome'));
        if (null === $from || null === $outcome) {
            return null;
        }
        $lines = array_map(
            static fn (string $line): string => Sanitizer::text($line, self::LONGEST),
            \array_slice($row->texts('evidence'), 0, self::LINES),
        );

        return [
            // One answer to each test of an order, however often it is sent.
            'key' => substr(hash('sha256', $order->id.' '.$row->text('test')), 0, 20),
            'test' => $row->text('test'),
            // Its clock may be wrong; what counts is when it arrived.
            'at' => $this->time->now(),
            'by' => $order->orderedBy,
            'from' => $from,
            'onSite' => true,
            'outpost' => $outpost->name,
            'adapter' => Sanitizer::text($row->text('adapter'), self::NAME),
            'address' => (string) Ipv4::tryFromString($row->text('address')),
            'outcome' => $outcome->value,
            'detail' => Message::fromStored(self::clean($row->value('detail'), 0))->toStored(),
            'basis' => array_map(
                static fn (string $fact): string => Sanitizer::name($fact, self::LONGEST),
                \array_slice($row->texts('basis'), 0, self::FACTS),
            ),
            'evidence' => $lines,
        ];
    }

    /** A sentence as it is stored, without what no sentence has: control characters, thousands of places, places within places. */
    private static function clean(mixed $stored, int $depth): mixed
    {
        if (\is_string($stored)) {
            return Sanitizer::text($stored, self::LONGEST);
        }
        if (!\is_array($stored)) {
            return \is_int($stored) ? $stored : '';
        }
        $clean = [];
        if ($depth <= self::DEPTH) {
            foreach (\array_slice($stored, 0, self::PLACES, true) as $name => $value) {
                $clean[\is_int($name) ? $name : Sanitizer::text($name, self::NAME)] = self::clean($value, $depth + 1);
            }
        }

        return $clean;
    }

    private static function claimer(Outpost $outpost): string
    {
        return 'outpost '.$outpost->id;
    }

    /** @return list<string> */
    private static function texts(mixed $value): array
    {
        return \is_array($value) ? array_values(array_filter($value, is_string(...))) : [];
    }
}
