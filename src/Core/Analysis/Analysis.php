<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Consistency\Agreements;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Reachability\RuleUse;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Proof\Verdict;

/** Everything that is computed from one snapshot: each part at most once, and only on demand. */
final class Analysis
{
    /** How many sets of tests keep their computed results: one per open window of the list. */
    private const SETS = 256;

    private readonly RuleContext $parts;
    private ?Findings $findings = null;
    private ?Questions $questions = null;
    private ?Board $board = null;
    /** @var list<StageProgress>|null */
    private ?array $progress = null;
    /** @var array<string, NetworkModel> */
    private array $models = [];
    /** @var array<string, DeviceState>|null device → state */
    private ?array $states = null;

    public function __construct(public readonly Plan $plan, private readonly Kept $kept = new NotKept())
    {
        $this->parts = new RuleContext($plan);
    }

    /** The network as one face of the plan has it. */
    public function networkModel(Face $face): NetworkModel
    {
        return Face::Set === $face ? NetworkAsSet::of($this->parts) : $this->models[$face->value] ??= NetworkModel::of($this->plan, $face);
    }

    public function queue(): Queue
    {
        return $this->parts->once(Queue::class, Queue::of(...)) ?? Queue::of($this->plan);
    }

    public function proof(): Proof
    {
        return Proof::inContext($this->parts);
    }

    public function agreements(): Agreements
    {
        return $this->parts->once(Agreements::class, Agreements::of(...)) ?? Agreements::of($this->plan);
    }

    public function agreementBoard(): AgreementBoard
    {
        return $this->kept->get('agreements', fn (): AgreementBoard => AgreementBoard::of($this->agreements()));
    }

    public function findings(): Findings
    {
        return $this->findings ??= $this->kept->get(
            'findings',
            fn (): Findings => Findings::of($this->plan, ShippedRules::all(), $this->parts),
        );
    }

    /** @return array<string, Seen> "from>to" of segments → observations of the tests there */
    public function observedPaths(): array
    {
        return $this->kept->get('seen', fn (): array => Seen::of($this->proof(), $this->plan));
    }

    /**
     * Predictions of these tests: one walk each, so those requested together are cached.
     *
     * @param list<TestResult> $results
     *
     * @return array<string, Outcome> test → its predicted outcome
     */
    public function foreseen(array $results): array
    {
        $keys = array_map(static fn (TestResult $result): string => $result->test->key, $results);
        $compute = static fn (): array => array_combine(
            $keys,
            array_map(static fn (TestResult $result): Outcome => $result->test->expectedOutcome(), $results),
        );
        $kept = $this->kept->get('foreseen-'.crc32(implode(' ', $keys)) % self::SETS, $compute);

        // Two sets may share a place.
        return array_keys($kept) === $keys ? $kept : $compute();
    }

    public function ruleUse(): RuleUse
    {
        return $this->kept->get('rule-use', fn (): RuleUse => RuleUse::of(NetworkAsSet::of($this->parts)));
    }

    public function questions(): Questions
    {
        return $this->questions ??= Questions::of($this->plan);
    }

    public function board(): Board
    {
        return $this->board ??= Board::of($this->plan, $this->proof());
    }

    /** @return list<StageProgress> the progress of each stage, from stored data, in the order of the work */
    public function progress(): array
    {
        return $this->progress ??= $this->kept->get('progress', fn (): array => array_map(function (Stage $stage): StageProgress {
            $count = array_fill_keys(array_map(static fn (Severity $one): string => $one->value, Severity::cases()), 0);
            foreach ($this->findings()->at($stage) as $finding) {
                ++$count[$finding->severity->value];
            }

            return new StageProgress(
                $stage,
                $this->share($stage),
                $count[Severity::Blocks->value],
                $count[Severity::Risk->value],
                $count[Severity::Note->value],
            );
        }, Stage::cases()));
    }

    /** A device is proved when it has tests and all of them are as planned; its state is read from evidence, never set by hand. */
    public function isProved(string $device): bool
    {
        $tests = $this->proof()->at($device);

        return [] !== $tests
            && [] === array_filter($tests, static fn (TestResult $result): bool => Verdict::Passed !== $result->verdict);
    }

    public function stateOf(string $device): DeviceState
    {
        $this->states ??= $this->kept->get('deviceStates', fn (): array => array_map($this->state(...), $this->plan->devices));

        return $this->states[$device] ?? DeviceState::Boxed;
    }

    private function state(Device $device): DeviceState
    {
        foreach ($this->proof()->at($device->key) as $result) {
            if (Verdict::Failed === $result->verdict) {
                return DeviceState::Failed;
            }
        }
        $sheet = RunSheet::of($this->plan, $device);

        return match (true) {
            $this->isProved($device->key) => DeviceState::Proved,
            $sheet->isDone() && [] !== $device->kind->steps => DeviceState::Staged,
            $sheet->isBegun() => DeviceState::Bench,
            default => DeviceState::Boxed,
        };
    }

    public function figures(): Figures
    {
        return new Figures(
            \count($this->plan->devices),
            \count($this->plan->segments),
            \count(array_filter($this->findings()->all, static fn (Finding $one): bool => Severity::Blocks === $one->severity)),
            \count($this->proof()->results),
            $this->proof()->count(Verdict::Passed),
            $this->proof()->count(Verdict::Failed),
            $this->proof()->rehearsalCount(),
            $this->plan->isPractice(),
        );
    }

    private function share(Stage $stage): float
    {
        return match ($stage) {
            Stage::Brief => $this->questions()->answeredShare(),
            Stage::Networks => self::part($this->plan->segments, fn (Segment $segment): bool => null !== $segment->gateway
                && null !== $this->networkModel(Face::Planned)->outpost($segment->key)),
            Stage::Devices => self::part($this->plan->devices, static fn (Device $device): bool => $device->kind->has(Role::Forwards)
                || (null !== $device->nic()?->mac && null !== $device->nic()->setting('address')->planned)),
            Stage::Bench => $this->steps(),
            Stage::Services => self::part(
                array_filter($this->plan->extensions, static fn (Extension $extension): bool => null !== $extension->phone),
                fn (Extension $one): bool => $this->isRegistered($one),
            ),
            Stage::Proof => self::part(
                $this->proof()->results,
                static fn (TestResult $result): bool => Verdict::Passed === $result->verdict,
            ),
            Stage::Handover => self::part($this->plan->devices, fn (Device $device): bool => $this->isProved($device->key)),
        };
    }

    /** The phone itself is; without a phone that could say so, its account was accepted. */
    private function isRegistered(Extension $extension): bool
    {
        $state = $this->board()->stateOf((string) $extension->phone);

        return null === $state
            ? Verdict::Passed === $this->proof()->find('register:'.$extension->number)?->verdict
            : \in_array($state, ['registered', 'called'], true);
    }

    private function steps(): float
    {
        $done = $all = 0;
        foreach ($this->plan->devices as $device) {
            $done += [] === $device->kind->steps ? 0 : RunSheet::of($this->plan, $device)->doneCount();
            $all += \count($device->steps);
        }

        return 0 === $all ? 0.0 : $done / $all;
    }

    /**
     * @template T
     *
     * @param array<T>          $all
     * @param \Closure(T): bool $isDone
     */
    private static function part(array $all, \Closure $isDone): float
    {
        return [] === $all ? 0.0 : \count(array_filter($all, $isDone)) / \count($all);
    }
}
