<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Finding\Findings;
use Vorhut\Core\Finding\Questions;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Proof;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Core\Walk\Fabric;
use Vorhut\Entity\Job;

/** One job as a page sees it: the snapshot and what the core computes from it, each computed once and only when asked for. */
final class Room
{
    private ?Findings $findings = null;
    private ?Proof $proof = null;
    private ?Queue $queue = null;
    private ?Questions $questions = null;
    /** @var array<string, Fabric> */
    private array $fabrics = [];

    public function __construct(public readonly Job $job, public readonly Plan $plan)
    {
    }

    public function findings(): Findings
    {
        return $this->findings ??= Findings::of($this->plan, Findings::rules());
    }

    public function proof(): Proof
    {
        return $this->proof ??= Proof::of($this->plan);
    }

    public function queue(): Queue
    {
        return $this->queue ??= Queue::of($this->plan);
    }

    public function questions(): Questions
    {
        return $this->questions ??= Questions::of($this->plan);
    }

    public function fabric(Face $face): Fabric
    {
        return $this->fabrics[$face->value] ??= Fabric::of($this->plan, $face);
    }

    /**
     * The line of march: how far each stage is, from what is stored, and its findings by weight.
     *
     * @return list<array{stage: string, key: int, share: float, blocks: int, risk: int, note: int}>
     */
    public function march(): array
    {
        $march = [];
        foreach (Stage::cases() as $i => $stage) {
            $at = $this->findings()->at($stage);
            $count = static fn (Weight $weight): int => \count(array_filter($at, static fn ($finding): bool => $finding->weight === $weight));
            $march[] = ['stage' => $stage->value, 'key' => $i + 1, 'share' => $this->share($stage), 'blocks' => $count(Weight::Blocks), 'risk' => $count(Weight::Risk), 'note' => $count(Weight::Note)];
        }

        return $march;
    }

    private function share(Stage $stage): float
    {
        $plan = $this->plan;
        $of = static fn (int $done, int $all): float => 0 === $all ? 0.0 : $done / $all;
        $staged = array_filter($plan->devices, static fn ($device): bool => [] !== $device->kind->steps);

        return match ($stage) {
            Stage::Brief => $this->questions()->answered(),
            Stage::Networks => $of(\count(array_filter($plan->segments, fn ($segment): bool => null !== $segment->gateway && null !== $this->fabric(Face::Planned)->outpost($segment->key))), \count($plan->segments)),
            Stage::Devices => $of(\count(array_filter($plan->devices, static fn ($device): bool => null !== $device->nic()?->mac && null !== $device->nic()->address->planned || $device->kind->isRouter())), \count($plan->devices)),
            Stage::Bench => $of(
                array_sum(array_map(static fn ($device): int => RunSheet::of($plan, $device)->done(), $staged)),
                array_sum(array_map(static fn ($device): int => \count($device->kind->steps), $staged)),
            ),
            Stage::Services => $of(\count(array_filter($plan->extensions, fn ($extension): bool => Verdict::AsPlanned === $this->proof()->find('register:'.$extension->number)?->verdict)), \count(array_filter($plan->extensions, static fn ($extension): bool => null !== $extension->phone))),
            Stage::Proof => $of(\count($this->proof()->with(Verdict::AsPlanned)), \count($this->proof()->lines)),
            Stage::Handover => $of(\count(array_filter($plan->devices, fn ($device): bool => $this->isProved($device->key))), \count($plan->devices)),
        };
    }

    /** A device is proved when it has lines and all of them are as planned; its state is read from evidence, never set by hand. */
    public function isProved(string $device): bool
    {
        $lines = $this->proof()->at($device);

        return [] !== $lines && [] === array_filter($lines, static fn ($proved): bool => Verdict::AsPlanned !== $proved->verdict);
    }

    /** boxed, bench, staged, proved or contrary */
    public function stateOf(string $device): string
    {
        $sheet = RunSheet::of($this->plan, $this->plan->devices[$device]);
        foreach ($this->proof()->at($device) as $proved) {
            if (Verdict::Contrary === $proved->verdict) {
                return 'contrary';
            }
        }

        return match (true) {
            $this->isProved($device) => 'proved',
            $sheet->isDone() && [] !== $this->plan->devices[$device]->kind->steps => 'staged',
            $sheet->isBegun() => 'bench',
            default => 'boxed',
        };
    }
}
