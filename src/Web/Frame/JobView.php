<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Vorhut\Core\Analysis\AgreementBoard;
use Vorhut\Core\Analysis\Analysis;
use Vorhut\Core\Analysis\Board;
use Vorhut\Core\Analysis\DeviceState;
use Vorhut\Core\Analysis\Figures;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\Kept;
use Vorhut\Core\Analysis\NotKept;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Analysis\Questions;
use Vorhut\Core\Analysis\Seen;
use Vorhut\Core\Analysis\StageProgress;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Consistency\Agreed;
use Vorhut\Core\Consistency\Agreements;
use Vorhut\Core\Network\Reachability\RuleUse;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Entity\Job;

/** One job as a page sees it: the snapshot and what the core computes from it, each computed once and only when asked for. */
final class JobView
{
    private readonly Analysis $analysis;
    /** @var array<string, list<Agreed>> device → what it has to agree on */
    private array $agreed = [];

    public function __construct(public readonly Job $job, public readonly Plan $plan, public readonly Kept $kept = new NotKept())
    {
        $this->analysis = new Analysis($plan, $kept);
    }

    public function findings(): Findings
    {
        return $this->analysis->findings();
    }

    public function proof(): Proof
    {
        return $this->analysis->proof();
    }

    public function queue(): Queue
    {
        return $this->analysis->queue();
    }

    /** @return array<string, Seen> */
    public function observedPaths(): array
    {
        return $this->analysis->observedPaths();
    }

    /**
     * @param list<TestResult> $results
     *
     * @return array<string, Outcome> test → its prediction
     */
    public function foreseen(array $results): array
    {
        return $this->analysis->foreseen($results);
    }

    public function ruleUse(): RuleUse
    {
        return $this->analysis->ruleUse();
    }

    public function questions(): Questions
    {
        return $this->analysis->questions();
    }

    public function networkModel(Face $face): NetworkModel
    {
        return $this->analysis->networkModel($face);
    }

    public function board(): Board
    {
        return $this->analysis->board();
    }

    public function agreementBoard(): AgreementBoard
    {
        return $this->analysis->agreementBoard();
    }

    /** @return list<Agreed> what a device has to agree on with others */
    public function agreementsOf(Device $device): array
    {
        return $this->agreed[$device->key] ??= Agreements::ofDevice($this->plan, $device)->all;
    }

    /**
     * The settings of a device as they stand together on the page: of each port, then by purpose.
     *
     * @return list<array{title: string, port: string|null, slots: list<SettingSlot>}>
     */
    public function settingGroups(Device $device): array
    {
        $groups = [];
        $several = \count($device->activeNics()) > 1;
        foreach ($this->plan->settings()->slots($device) as $slot) {
            $title = match (true) {
                null === $slot->port => $slot->setting->group,
                $several => $slot->port,
                default => 'network',
            };
            $groups[$title] ??= ['title' => $title, 'port' => $several ? $slot->port : null, 'slots' => []];
            $groups[$title]['slots'][] = $slot;
        }
        // Ports first: that is what one looks for.
        usort(
            $groups,
            static fn (array $a, array $b): int => (null === $a['slots'][0]->port ? 1 : 0) <=> (null === $b['slots'][0]->port ? 1 : 0),
        );

        return $groups;
    }

    /**
     * Settings that can be shown as columns of the roster, by their local name: those that the kinds of this job have.
     *
     * @return array<string, Setting>
     */
    public function columns(): array
    {
        $columns = [];
        $shapes = [];
        foreach ($this->plan->devices as $device) {
            // Of a kind, and of the ports that it has here, one speaks for all.
            $shapes[$device->kind->code.' '.implode(' ', array_map(static fn (Nic $nic): string => $nic->name, $device->nics))] ??= $device;
        }
        foreach ($shapes as $device) {
            foreach ($this->plan->settings()->slots($device) as $slot) {
                if (null === $slot->setting->secret && null === $slot->account && 'address' !== $slot->setting->name) {
                    $isMain = null !== $slot->port && $slot->port === $device->nic()?->name;
                    $columns[$isMain ? $slot->setting->name : $slot->local] ??= $slot->setting;
                }
            }
        }
        ksort($columns);

        return $columns;
    }

    public function slot(Device $device, string $local): ?SettingSlot
    {
        return $this->plan->settings()->slot($device, $local);
    }

    public function sheet(Device $device): RunSheet
    {
        return RunSheet::of($this->plan, $device);
    }

    /** @return list<StageProgress> */
    public function progress(): array
    {
        return $this->analysis->progress();
    }

    public function figures(): Figures
    {
        return $this->analysis->figures();
    }

    public function isProved(string $device): bool
    {
        return $this->analysis->isProved($device);
    }

    public function stateOf(string $device): DeviceState
    {
        return $this->analysis->stateOf($device);
    }
}
