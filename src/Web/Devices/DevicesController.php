<?php

declare(strict_types=1);

namespace Vorhut\Web\Devices;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Document\RosterPaste;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Journal;
use Vorhut\Web\Frame\Rooms;
use Vorhut\Web\Frame\Slips;

/** The roster, pasted and edited in place, and the addresses given to it. */
final readonly class DevicesController
{
    private const LARGEST = 500_000;

    public function __construct(private Rooms $rooms, private Journal $journal, private Slips $slips)
    {
    }

    #[Route('/j/{slug}/devices', name: 'devices', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->rooms->unchanged($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $room = $this->rooms->open($slug);

        return $this->rooms->show($room, 'devices', $request, ['allocation' => Allocation::of($room->plan, $request->query->getBoolean('afresh')), 'allocating' => $request->query->has('allocate')]);
    }

    /** Every row's fate first; nothing is written before the same text comes back with "take it". */
    #[Route('/j/{slug}/devices/paste', name: 'paste', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function paste(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $text = substr($request->request->getString('table'), 0, self::LARGEST);
        $paste = RosterPaste::of($room->plan, $text);
        if ('take' === $request->request->getString('do') && !$paste->change()->isEmpty()) {
            try {
                $this->journal->write($room->job, $paste->change(), $this->rooms->user()->name);

                // What could not be taken stays in the box, to be mended.
                $left = $paste->refusedText();
                '' === $left ? $this->slips->tell((string) $paste->change()->why) : $this->slips->keep('paste', ['table' => $left], [], ['rows' => RosterPaste::of($this->rooms->open($slug)->plan, $left)->rows]);

                return new RedirectResponse("/j/$slug/devices".('' === $left ? '' : '#paste'), Response::HTTP_SEE_OTHER);
            } catch (Conflict $e) {
                $this->slips->keep('paste', ['table' => $text], ['table' => $e->getMessage()], ['rows' => $paste->rows]);

                return new RedirectResponse("/j/$slug/devices#paste", Response::HTTP_SEE_OTHER);
            }
        }
        $this->slips->keep('paste', ['table' => $text], '' === trim($text) ? ['table' => 'Paste some rows first.'] : [], ['rows' => $paste->rows]);

        return new RedirectResponse("/j/$slug/devices#paste", Response::HTTP_SEE_OTHER);
    }

    #[Route('/j/{slug}/devices/allocate', name: 'allocate', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function allocate(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $change = Allocation::of($room->plan, $request->request->getBoolean('afresh'))->change();
        $this->journal->write($room->job, $change, $this->rooms->user()->name);
        $this->slips->tell((string) $change->why);

        return new RedirectResponse("/j/$slug/devices", Response::HTTP_SEE_OTHER);
    }
}
