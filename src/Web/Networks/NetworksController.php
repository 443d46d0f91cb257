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
use Vorhut\Core\Walk\NetworkModel;
use Vorhut\Core\Walk\Walker;
use Vorhut\Web\Drawing\AddressTape;
use Vorhut\Web\Drawing\WalkDrawing;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\Words;

/** Segments, router, filter, and the walk between any two things. */
final readonly class NetworksController
{
    public function __construct(private JobPages $pages, private Words $words)
    {
    }

    #[Route('/j/{slug}/networks', name: 'networks', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->unchanged($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $tapes = [];
        foreach ($view->plan->segments as $segment) {
            $tapes[$segment->key] = AddressTape::of($view->plan, $segment, $this->words->say(...));
        }
        $asked = $request->query;
        $face = Face::tryFrom($asked->getString('face')) ?? Face::Set;
        $boxed = 'box' === $asked->getString('face');
        $from = $asked->getString('from');
        $to = $asked->getString('to');
        $walk = null;
        $cure = null;
        $portError = null;
        $number = $asked->getString('port');
        if ('' !== $from && '' !== $to) {
            $port = null;
            try {
                $port = '' === $number
                    || '0' === $number
                        ? null
                        : Port::of(
                            Transport::tryFrom($asked->getString('proto')) ?? Transport::Tcp,
                            ctype_digit($number) ? (int) $number : 0,
                        );
            } catch (Malformed $e) {
                $portError = $e->said();
            }
            $walk = Walker::between($boxed ? NetworkModel::outOfTheBox($view->plan) : $view->networkModel($face), $from, $to, $port);
            $cure = $boxed || $walk->holds() ? null : Cure::of($view->plan, $face, $from, $to, $port);
        }

        return $this->pages->show($view, 'networks', $request, [
            'tapes' => $tapes,
            'walk' => $walk,
            'stones' => null === $walk ? null : WalkDrawing::of($walk, $this->words->say(...)),
            'cure' => $cure,
            'asked' => [
                'from' => $from,
                'to' => $to,
                'port' => $number,
                'proto' => $asked->getString('proto', 'tcp'),
                'face' => $boxed ? 'box' : $face->value,
            ],
            'portError' => $portError,
        ]);
    }
}
