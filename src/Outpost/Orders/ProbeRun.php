<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Orders;

use Amp\Future;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\WireError;
use Vorhut\Entity\Job;
use Vorhut\Journal\Author;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\Records;
use Vorhut\Journal\Refused;
use Vorhut\Outpost\Device\NotWritten;
use Vorhut\Outpost\Device\Readback;
use Vorhut\Outpost\Device\Reader;
use Vorhut\Outpost\Device\RefetchTrigger;
use Vorhut\Outpost\Device\Writer;
use Vorhut\Outpost\Probe\Evidence;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\NetworkAccessChoice;
use Vorhut\Outpost\Probe\NoAnswer;
use Vorhut\Outpost\Probe\OutpostError;
use Vorhut\Outpost\Probe\RangeRound;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Probe\VantagePoints;
use Vorhut\Secrets\Vault;
use Vorhut\Socket\Background;

use function Amp\async;

/** Runs tests of a job and stores each result as soon as it is known, so that an interrupted run loses only the tests not finished. */
final readonly class ProbeRun
{
    public function __construct(
        private Records $records,
        private ChangeWriter $changes,
        private EvidenceLog $evidenceLog,
        private JournalClock $time,
        private Vault $vault,
        private NetworkAccessChoice $accesses,
    ) {
    }

    /**
     * @param list<string>|null                $keys null for all tests
     * @param (\Closure(ProofTest): mixed)|null $told  called after each test; false ends the run: another process continues
     *
     * @return int how many were proved
     */
    public function run(Job $job, ?array $keys, string $by, ?\Closure $told = null): int
    {
        $plan = $this->records->plan($job);
        $secrets = $this->vault->open($job);
        $access = $this->accesses->for($job);
        $places = new VantagePoints($plan, $access);
        $round = new TestRunner($access, $places, static fn (string $account): ?string => $secrets[$account] ?? null);
        $look = [];
        $done = 0;
        $ended = $round->run(
            TestRunner::testsOf($plan, $keys, !$access->isOnSite()),
            function (ProofTest $test, Evidence $evidence) use ($job, $by, $round, $told, &$look, &$done): bool {
                $this->evidenceLog->add($job, 'observations', $round->row($test, $evidence, $by, $this->time->now()));
                ++$done;
                if (null !== $told && false === $told($test)) {
                    return false;
                }
                // A device with an unexpected result is read; one that answered is read too, once.
                if (Outcome::NotAsked !== $evidence->outcome && (!$test->isMetBy($evidence->outcome) || TestKind::Reach === $test->kind)) {
                    $look[$test->to] = true;
                }

                return true;
            },
        );
        if (!$ended) {
            return $done;
        }
        // What a stand-in holds is not what the device on site holds.
        if (!$job->isRehearsing()) {
            $this->readBack($job, $places, array_keys($look), $secrets, new Reader(new Http($access)));
        }

        return $done;
    }

    /**
     * @param array<string, string> $passwords
     *
     * @return Future<Readback|null>
     */
    private function read(Reader $reader, VantagePoints $places, Device $device, array $passwords): Future
    {
        return async(static fn (): ?Readback => $reader->read($places, $device, $passwords));
    }

    /**
     * @param list<string>          $devices
     * @param array<string, string> $secrets
     */
    private function readBack(Job $job, VantagePoints $places, array $devices, array $secrets, Reader $reader): void
    {
        $plan = $places->plan;
        foreach (array_chunk($devices, 6) as $some) {
            $reading = [];
            foreach ($some as $key) {
                $device = $plan->devices[$key] ?? null;
                if (null !== $device) {
                    $reading[$key] = $this->read($reader, $places, $device, self::passwords($device, $secrets));
                }
            }
            foreach ($reading as $key => $future) {
                try {
                    $seen = $future->await();
                    $change = null === $seen ? null : Reader::change($plan, $plan->devices[$key], $seen);
                    if (null !== $change && null !== $this->changes->write($job, $change, Author::OUTPOST)) {
                        $this->markReadBack($job, $key);
                    }
                } catch (Conflict|Refused) {
                    // A user changed it during the reading; the next one will see it.
                    continue;
                } catch (OutpostError|WireError $e) {
                    Background::report('read-back of '.$key, $e);
                }
            }
        }
    }

    /**
     * Asks every address of a list from the place that it names, and writes down who was there.
     *
     * @param \Closure(string): bool $told hears how far it is; false ends it
     *
     * @throws NoAnswer where nothing can be asked from there, with the reason
     */
    public function sweep(Job $job, string $listKey, string $by, \Closure $told): string
    {
        $plan = $this->records->plan($job);
        $list = RangeList::find($plan, $listKey);
        if (null === $list) {
            return 'The list is gone.';
        }
        $access = $this->accesses->for($job);
        $heard = 0.0;
        $row = (new RangeRound($access, new VantagePoints($plan, $access)))->ask(
            $list,
            static function (int $asked, int $there) use ($told, &$heard): bool {
                // Twice a second is as often as anybody looks.
                if (microtime(true) - $heard < 0.5) {
                    return true;
                }
                $heard = microtime(true);

                return $told("$asked asked, $there answered");
            },
        );
        $this->evidenceLog->add($job, 'observations', ['at' => $this->time->now(), 'by' => $by] + $row);
        $detail = Message::fromStored($row['detail']);
        if (Outcome::NotAsked->value === $row['outcome']) {
            throw NoAnswer::notAsked($detail);
        }

        return (string) $detail;
    }

    /** @throws NotWritten */
    public function write(Job $job, string $deviceKey): Message
    {
        $plan = $this->records->plan($job);
        $device = $plan->devices[$deviceKey] ?? null;
        if (null === $device) {
            throw new NotWritten(new Message('The device is gone.'));
        }
        $access = $this->accesses->for($job);
        $http = new Http($access);
        $reader = new Reader($http);
        $result = (new Writer($access, $http, $reader))->write(
            new VantagePoints($plan, $access),
            $device,
            self::passwords($device, $this->vault->open($job)),
        );
        if ($job->isRehearsing()) {
            return new Message('Rehearsed: {what} Nothing was entered, for it was the lab that took it.', ['what' => $result['said']]);
        }
        $this->changes->write($job, $result['change'], Author::OUTPOST);
        if (null !== $result['seen']) {
            $plan = $this->records->plan($job);
            $this->changes->write($job, Reader::change($plan, $plan->devices[$deviceKey], $result['seen']), Author::OUTPOST);
            $this->markReadBack($job, $deviceKey);
        }

        return $result['said'];
    }

    /** Steps whose values the device has by its own account are done. */
    private function markReadBack(Job $job, string $deviceKey): void
    {
        $plan = $this->records->plan($job);
        $device = $plan->devices[$deviceKey] ?? null;
        if (null !== $device) {
            $change = RunSheet::of($plan, $device)->changes()->readBack(Author::OUTPOST, $this->time->now());
            $this->changes->write($job, $change, Author::OUTPOST);
        }
    }

    /** @throws NotWritten */
    public function refetch(Job $job, string $deviceKey): Message
    {
        $plan = $this->records->plan($job);
        $device = $plan->devices[$deviceKey] ?? throw new NotWritten(new Message('The device is gone.'));
        $access = $this->accesses->for($job);
        $said = (new RefetchTrigger(new Http($access)))->tell(
            new VantagePoints($plan, $access),
            $device,
            self::passwords($device, $this->vault->open($job)),
        );

        return $job->isRehearsing() ? new Message('Rehearsed: {what}', ['what' => $said]) : $said;
    }

    /** @return list<string> what a device that was just written to has to be asked anew */
    public function toAskAnew(Job $job, string $deviceKey): array
    {
        return Proof::of($this->records->plan($job))->toAskAnewAt($deviceKey, $job->isRehearsing());
    }

    /**
     * @param array<string, string> $secrets
     *
     * @return array<string, string> whose it is → password: the generated one first, then that of its label, then the default of the kind
     */
    private static function passwords(Device $device, array $secrets): array
    {
        $known = [
            'admin' => $secrets[$device->record()] ?? null,
            'label' => $secrets[$device->record().'#label'] ?? null,
            'factory' => $device->firstPassword(),
        ];

        return array_unique(array_filter($known, static fn (?string $one): bool => null !== $one));
    }
}
