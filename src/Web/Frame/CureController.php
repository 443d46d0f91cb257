<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Authorization\AuthorizationCheckerInterface;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Findings;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Walk\Cure;
use Vorhut\Entity\WorkOrder;
use Vorhut\Journal\Journal;
use Vorhut\Outpost\Orders;

/** Applies a cure: by the same code path as typing. Where it concerns what is in a device that can be written to, the outpost is sent to write it. */
final readonly class CureController
{
    public function __construct(private Rooms $rooms, private Journal $journal, private Orders $orders, private Slips $slips, private AuthorizationCheckerInterface $may)
    {
    }

    #[Route('/j/{slug}/cure', name: 'cure', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function __invoke(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $form = $request->request;
        $cure = '' !== $form->getString('finding')
            ? $room->findings()->keyed($form->getString('finding'))?->cure
            : Cure::of($room->plan, Face::tryFrom($form->getString('face')) ?? Face::Set, $form->getString('from'), $form->getString('to'), '' === $form->getString('port') ? null : Port::fromString($form->getString('port')));
        if (null === $cure) {
            $this->slips->tell('This cure is not needed any more.');

            return $this->rooms->back($request, "/j/$slug/proof");
        }
        if (!$this->may->isGranted('ROLE_LEAD') && [] !== array_filter($cure->edits, static fn (Edit $edit): bool => !self::isOfADevice($edit))) {
            $this->slips->tell('This cure changes the plan; it is for the lead engineer.');

            return $this->rooms->back($request, "/j/$slug/proof");
        }
        $this->journal->write($room->job, $cure, $this->rooms->user()->name);
        $lines = '' === $form->getString('line') ? [] : [$form->getString('line')];
        foreach ($this->written($room->plan, $cure) as $device) {
            $this->orders->give($room->job, WorkOrder::WRITE, ['device' => $device, 'lines' => $lines], $this->rooms->user()->name);
        }

        return $this->rooms->back($request, "/j/$slug/proof");
    }

    /** What the cure would mend and break, before it is applied. */
    #[Route('/j/{slug}/cure/preview', name: 'cure_preview', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function preview(Request $request, string $slug): Response
    {
        $room = $this->rooms->open($slug);
        $finding = $room->findings()->keyed($request->query->getString('finding'));
        $after = null === $finding?->cure ? null : Findings::of($room->plan->with($finding->cure), Findings::rules());
        $keys = static fn (Findings $findings): array => array_map(static fn (Finding $one): string => $one->key(), $findings->all);

        return $this->rooms->show($room, 'cure', $request, [
            'finding' => $finding,
            'mends' => null === $after ? [] : array_filter($room->findings()->all, static fn (Finding $one): bool => !\in_array($one->key(), $keys($after), true)),
            'breaks' => null === $after ? [] : array_filter($after->all, static fn (Finding $one): bool => !\in_array($one->key(), $keys($room->findings()), true)),
        ]);
    }

    private static function isOfADevice(Edit $edit): bool
    {
        return ('values' === $edit->section && 'planned' !== $edit->field) || ('accounts' === $edit->section && 'macEntered' === $edit->field);
    }

    /** @return list<string> devices whose inside the cure is about and that take settings over the network */
    private function written(Plan $plan, Change $cure): array
    {
        $devices = [];
        foreach ($cure->edits as $edit) {
            if ('values' === $edit->section && str_starts_with($edit->key, 'nics/') && \in_array($edit->field, ['set', 'seen'], true)) {
                $nic = $plan->nics[substr(explode('#', $edit->key)[0], 5)] ?? null;
                if (null !== $nic && $plan->devices[$nic->device]->kind->writable) {
                    $devices[$nic->device] = $nic->device;
                }
            }
        }

        return array_values($devices);
    }
}
