<?php

declare(strict_types=1);

namespace Vorhut\Web\Proof;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Proof\Proof;
use Vorhut\Core\Proof\Proved;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Core\Walk\Cure;
use Vorhut\Core\Walk\Walk;
use Vorhut\Core\Walk\Walker;
use Vorhut\Entity\WorkOrder;
use Vorhut\Lab\Fault;
use Vorhut\Outpost\Orders;
use Vorhut\Secrets\Vault;
use Vorhut\Web\Drawing\Loom;
use Vorhut\Web\Drawing\Stones;
use Vorhut\Web\Frame\Room;
use Vorhut\Web\Frame\Rooms;
use Vorhut\Web\Frame\Slips;
use Vorhut\Web\Frame\Words;

/** Prediction held against observation, line by line. */
final readonly class ProofController
{
    public function __construct(private Rooms $rooms, private Words $words, private Orders $orders, private Vault $vault, private Slips $slips, private EntityManagerInterface $manager)
    {
    }

    #[Route('/j/{slug}/proof', name: 'proof', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->rooms->unchanged($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $room = $this->rooms->open($slug);
        $proof = $room->proof();
        $open = $this->opened($proof, $request->query->getString('sel'));
        $walk = null === $open ? null : self::walk($room, $open);

        return $this->rooms->show($room, 'proof', $request, [
            'proof' => $proof,
            'loom' => Loom::of($room->plan, $proof),
            'open' => $open,
            'walk' => $walk['walk'] ?? null,
            'face' => $walk['face'] ?? null,
            'stones' => null === $walk ? null : Stones::of($walk['walk'], $this->words->say(...)),
            'cure' => null === $walk || $walk['walk']->holds() ? null : Cure::of($room->plan, $walk['face'], $walk['from'], $walk['to'], $walk['walk']->port),
            'ends' => $walk,
            'faults' => Fault::cases(),
        ]);
    }

    #[Route('/j/{slug}/proof/run', name: 'prove', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function run(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $lines = match ($request->request->getString('which')) {
            'open' => $room->proof()->with(Verdict::Contrary, Verdict::Stale, Verdict::NotYet),
            'one' => null === ($one = $room->proof()->find($request->request->getString('line'))) ? [] : [$one],
            default => $room->proof()->lines,
        };
        $this->vault->fill($room->job, $room->plan, $this->rooms->user()->name);
        $keys = array_map(static fn (Proved $proved): string => $proved->line->key, $lines);
        [] === $keys ? $this->slips->tell('There is nothing left to run.') : $this->orders->give($room->job, WorkOrder::PROVE, ['lines' => $keys], $this->rooms->user()->name);

        return $this->rooms->back($request, "/j/$slug/proof");
    }

    #[Route('/j/{slug}/proof/rehearse', name: 'rehearse', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function rehearse(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $room->job->rehearsed = 'on' === $request->request->getString('lab');
        ++$room->job->revision;
        $this->manager->flush();

        return $this->rooms->back($request, "/j/$slug/proof");
    }

    #[Route('/j/{slug}/proof/fault', name: 'fault', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function fault(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $fault = Fault::tryFrom($request->request->getString('fault'));
        $device = $room->plan->devices[$request->request->getString('device')] ?? null;
        if (null === $fault || null === $device || !$room->job->rehearsed) {
            $this->slips->tell('Choose a fault and a device, with the lab switched on.');

            return new RedirectResponse("/j/$slug/proof", Response::HTTP_SEE_OTHER);
        }
        $this->orders->give($room->job, WorkOrder::FAULT, ['fault' => $fault->value, 'device' => $device->key], $this->rooms->user()->name);
        $this->slips->tell(\sprintf('%s is played at %s.', $fault->value, $device->tag));

        return $this->rooms->back($request, "/j/$slug/proof");
    }

    private function opened(Proof $proof, string $selected): ?Proved
    {
        return str_starts_with($selected, 'lines/') ? $proof->find(substr($selected, 6)) : null;
    }

    /**
     * The walk behind a line. A contrary line is walked by what was *seen*, since what was set already failed to explain it; anything else by what was set.
     *
     * @return array{walk: Walk, face: Face, from: string, to: string}|null
     */
    private static function walk(Room $room, Proved $proved): ?array
    {
        $port = $proved->line->port ?? $proved->line->walk?->port;
        $from = $proved->line->from;
        $to = $proved->line->to;
        if (!isset($room->plan->devices[$to])) {
            return null;
        }
        $face = Verdict::Contrary === $proved->verdict ? Face::Seen : Face::Set;
        $walk = Walker::between($room->fabric($face), $from, $to, $port);
        // A call runs over several ways; where its own broke, that one is shown.
        $computed = $proved->line->walk;
        if (null !== $computed && !$computed->holds() && $walk->holds()) {
            return ['walk' => $computed, 'face' => Face::Set, 'from' => $from, 'to' => $to];
        }

        return ['walk' => $walk, 'face' => $face, 'from' => $from, 'to' => $to];
    }
}
