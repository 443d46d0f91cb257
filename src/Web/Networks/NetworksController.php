<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Walk\Cure;
use Vorhut\Core\Walk\Walker;
use Vorhut\Web\Drawing\Stones;
use Vorhut\Web\Drawing\Tape;
use Vorhut\Web\Frame\Rooms;
use Vorhut\Web\Frame\Words;

/** Segments, router, filter, and the walk between any two things. */
final readonly class NetworksController
{
    public function __construct(private Rooms $rooms, private Words $words)
    {
    }

    #[Route('/j/{slug}/networks', name: 'networks', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->rooms->unchanged($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $room = $this->rooms->open($slug);
        $tapes = [];
        foreach ($room->plan->segments as $segment) {
            $tapes[$segment->key] = Tape::of($room->plan, $segment);
        }
        $asked = $request->query;
        $face = Face::tryFrom($asked->getString('face')) ?? Face::Set;
        $from = $asked->getString('from');
        $to = $asked->getString('to');
        $walk = null;
        $cure = null;
        $portError = null;
        $number = $asked->getString('port');
        if ('' !== $from && '' !== $to) {
            $port = null;
            try {
                $port = '' === $number || '0' === $number ? null : Port::of(Transport::tryFrom($asked->getString('proto')) ?? Transport::Tcp, ctype_digit($number) ? (int) $number : 0);
            } catch (Malformed $e) {
                $portError = $e->getMessage();
            }
            $walk = Walker::between($room->fabric($face), $from, $to, $port);
            $cure = $walk->holds() ? null : Cure::of($room->plan, $face, $from, $to, $port);
        }

        return $this->rooms->show($room, 'networks', $request, [
            'tapes' => $tapes,
            'walk' => $walk,
            'stones' => null === $walk ? null : Stones::of($walk, $this->words->say(...)),
            'cure' => $cure,
            'asked' => ['from' => $from, 'to' => $to, 'port' => $number, 'proto' => $asked->getString('proto', 'tcp'), 'face' => $face->value],
            'portError' => $portError,
        ]);
    }
}
