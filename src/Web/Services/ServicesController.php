<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Proof\Board;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\Numbers;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Journal;
use Vorhut\Provisioning\FileServer;
use Vorhut\Secrets\Vault;
use Vorhut\Web\Frame\Rooms;
use Vorhut\Web\Frame\Slips;

/** Numbers, registrar entries, the provisioning board, and who rings. */
final readonly class ServicesController
{
    public function __construct(private Rooms $rooms, private Journal $journal, private Vault $vault, private Slips $slips, private FileServer $files)
    {
    }

    #[Route('/j/{slug}/services', name: 'services', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->rooms->unchanged($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $room = $this->rooms->open($slug);
        $from = $room->plan->extensionNumbered($request->query->getString('from'));
        $digits = preg_replace('/[^0-9*#]/', '', $request->query->getString('digits')) ?? '';

        return $this->rooms->show($room, 'services', $request, [
            'board' => Board::of($room->plan),
            'dial' => null === $from || '' === $digits ? null : Dial::of($room->fabric(Face::Set), $from, $digits),
            'asked' => ['from' => $request->query->getString('from'), 'digits' => $digits],
            'pbxes' => array_filter($room->plan->devices, static fn ($device): bool => $device->kind->isRegistrar()),
        ]);
    }

    #[Route('/j/{slug}/services/bulk', name: 'bulk', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function bulk(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $form = $request->request;
        try {
            $pbx = $room->plan->devices[$form->getString('pbx')] ?? throw new Malformed('Choose the PBX first; without one there is nowhere to register.');
            $change = Numbers::bulk($room->plan, trim($form->getString('start')), $pbx->key, $form->getBoolean('voicemail'));
            $this->journal->write($room->job, $change, $this->rooms->user()->name);
            $this->vault->fill($room->job, $this->rooms->open($slug)->plan, $this->rooms->user()->name);
            $this->slips->tell((string) $change->why);
        } catch (Malformed|Conflict $e) {
            $this->slips->keep('bulk', $form->all(), ['start' => $e->getMessage()]);
        }

        return new RedirectResponse("/j/$slug/services", Response::HTTP_SEE_OTHER);
    }

    /** Plans the phones for our own files: which server, and no user name. */
    #[Route('/j/{slug}/services/point', name: 'point', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function point(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $edits = [];
        foreach ($room->plan->devices as $device) {
            foreach ($device->kind->isPhone() ? ['provisioning' => 'vorhut', 'provisioningUser' => ''] : [] as $field => $value) {
                if ($device->value($field)->planned !== $value) {
                    $edits[] = Edit::value('devices/'.$device->key, $field, Face::Planned, $device->value($field)->planned, $value);
                }
            }
        }
        $this->journal->write($room->job, new Change(new Message('Phones are planned for files from here.'), $edits), $this->rooms->user()->name);
        $this->vault->fill($room->job, $room->plan, $this->rooms->user()->name);

        return new RedirectResponse("/j/$slug/services", Response::HTTP_SEE_OTHER);
    }

    /** The file as it would be served now, its secrets blotted out. */
    #[Route('/j/{slug}/services/file/{device}', name: 'file_preview', methods: ['GET'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function file(string $slug, string $device): Response
    {
        $room = $this->rooms->open($slug);
        $one = $room->plan->devices[$device] ?? null;
        $served = null === $one ? null : $this->files->file($room->job, $room->plan, $one);

        return new Response(null === $served || 200 !== $served->status ? 'There is no file for it yet: extension, registrar entry and secrets come first.' : (string) preg_replace('/(secret|password)="[^"]+"/', '$1="······"', $served->body), 200, ['Content-Type' => 'text/plain; charset=UTF-8']);
    }
}
