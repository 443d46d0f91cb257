<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Remote;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Text\Message;
use Vorhut\Outpost\Probe\Evidence;
use Vorhut\Outpost\Probe\NetworkAccess;
use Vorhut\Outpost\Probe\RangeRound;
use Vorhut\Outpost\Probe\SiteAccess;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Probe\VantagePoints;

use function Amp\delay;

/**
 * An outpost far from the server: it has neither database nor history. It fetches work over HTTPS, does it in its own segments, and returns
 * signed evidence; while the server is not reachable it continues, and keeps its results until it can deliver them.
 */
final class Remote
{
    /** Seconds from one question for work to the next. */
    private const ROUND = 2.0;
    /** Within so many seconds the server hears that an order is being worked on. */
    private const ALIVE = 20;
    /** Seconds for which evidence is kept for a server that does not answer. */
    private const PATIENCE = 900;

    /** @var list<array<string, mixed>> */
    private array $waiting = [];
    private float $heard = 0.0;

    /** @param \Closure(string): mixed $say prints its activity */
    public function __construct(
        private readonly ServerClient $line,
        private readonly NetworkAccess $access,
        private readonly Catalogue $catalogue,
        private readonly \Closure $say,
    ) {
    }

    /**
     * @param int $seconds 0 until it is stopped
     *
     * @throws ServerAway where the server has dismissed this outpost
     */
    public function run(int $seconds): void
    {
        $until = 0 === $seconds ? \PHP_INT_MAX : time() + $seconds;
        $wasAway = false;
        while (time() < $until) {
            try {
                $work = $this->line->post('work', ['adapters' => self::adapters()]);
                if ($wasAway) {
                    ($this->say)('The server is back.');
                }
                $wasAway = false;
            } catch (ServerAway $e) {
                if ($e->isRefused) {
                    throw $e;
                }
                if (!$wasAway) {
                    ($this->say)((string) $e->message());
                }
                $wasAway = true;
                delay(self::ROUND);
                continue;
            }
            if (null === $work) {
                delay(self::ROUND);
                continue;
            }
            $this->work($work);
        }
    }

    /** @return list<array{name: string, address: string}> */
    private static function adapters(): array
    {
        $adapters = [];
        foreach (SiteAccess::adapters() as $adapter) {
            if (!$adapter->address->isLoopback()) {
                $adapters[] = ['name' => $adapter->name, 'address' => (string) $adapter->address];
            }
        }

        return $adapters;
    }

    /** @param array<string, mixed> $work */
    private function work(array $work): void
    {
        $order = \is_int($work['order'] ?? null) ? $work['order'] : 0;
        $this->waiting = [];
        $this->heard = microtime(true);
        try {
            $said = $this->workOff($order, $work);
        } catch (\Throwable $e) {
            // Work that cannot be done here is reported: the order ends with a reason.
            $said = mb_substr($e->getMessage(), 0, 180);
        }
        ($this->say)($said);
        for ($tried = time(); !$this->bring($order, true, $said) && time() - $tried < self::PATIENCE;) {
            delay(self::ROUND);
        }
    }

    /** @param array<string, mixed> $work */
    private function workOff(int $order, array $work): string
    {
        $json = \is_string($work['job'] ?? null) ? $work['job'] : '';
        $plan = JobDocument::fromJson($json, $this->catalogue)->plan($this->catalogue);
        $places = new VantagePoints($plan, $this->access);
        $by = \is_string($work['by'] ?? null) ? $work['by'] : '';
        $list = \is_string($work['list'] ?? null) ? RangeList::find($plan, $work['list']) : null;
        if (null !== $list) {
            return $this->sweep($order, $places, $list);
        }
        $keys = \is_array($work['tests'] ?? null) ? array_values(array_filter($work['tests'], is_string(...))) : [];
        $secrets = \is_array($work['secrets'] ?? null) ? array_filter($work['secrets'], is_string(...)) : [];
        $round = new TestRunner($this->access, $places, static fn (string $account): ?string => $secrets[$account] ?? null);
        $tests = TestRunner::testsOf($plan, $keys, false);
        $n = 0;
        $round->run($tests, function (ProofTest $test, Evidence $evidence) use ($order, $round, $by, $tests, &$n): bool {
            $this->waiting[] = $round->row($test, $evidence, $by, gmdate('Y-m-d\TH:i:s\Z'));
            ++$n;
            $this->soon($order, "$n of ".\count($tests).' tests run');

            return true;
        });

        return "$n tests run.";
    }

    private function sweep(int $order, VantagePoints $places, RangeList $list): string
    {
        $row = (new RangeRound($this->access, $places))->ask($list, function (int $asked, int $there) use ($order): bool {
            $this->soon($order, "$asked asked, $there answered");

            return true;
        });
        $this->waiting[] = $row;

        return (string) Message::fromStored($row['detail']);
    }

    /** Brings what there is when it is time to be heard again. */
    private function soon(int $order, string $said): void
    {
        if (\count($this->waiting) >= 10 || microtime(true) - $this->heard > self::ALIVE) {
            $this->bring($order, false, $said);
        }
    }

    private function bring(int $order, bool $isEnd, string $said): bool
    {
        $rows = \array_slice($this->waiting, 0, 200);
        $isLast = $isEnd && \count($rows) === \count($this->waiting);
        $this->heard = microtime(true);
        try {
            $this->line->post('evidence', ['order' => $order, 'rows' => $rows, 'end' => $isLast, 'said' => $said]);
        } catch (ServerAway $e) {
            return $e->isRefused ? throw $e : false;
        }
        $this->waiting = \array_slice($this->waiting, \count($rows));

        return $isLast || ($isEnd && $this->bring($order, true, $said));
    }
}
