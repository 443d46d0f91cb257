<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Web\Drawing\AddressTape;
use Vorhut\Web\Drawing\NetworkMap;
use Vorhut\Web\Drawing\WalkDrawing;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\Window;
use Vorhut\Web\Frame\Words;

/** Segments, router, filter, and the walk between any two things. */
final readonly class NetworksController
{
    /** So many address tapes are shown on one page. */
    private const TAPES = 12;

    public function __construct(private JobPages $pages, private Words $words)
    {
    }

    #[Route('/j/{slug}/networks', name: 'networks', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $selected = $request->query->getString('sel');
        $window = Window::fromRequest(
            $request,
            $view->plan->segments,
            static fn (Segment $segment): array => [$segment->name, (string) $segment->network, (string) $segment->vlan],
            str_starts_with($selected, 'segments/') ? substr($selected, 9) : null,
            self::TAPES,
            [
                'name' => static fn (Segment $segment): string => $segment->name,
                'network' => static fn (Segment $segment): int => $segment->network->address->number,
                'vlan' => static fn (Segment $segment): int|string => $segment->vlan ?? '',
            ],
        );
        $tapes = [];
        foreach ($window->items as $segment) {
            $tapes[$segment->key] = AddressTape::of($view->plan, $segment, $this->words->say(...), self::zoomRange($request, $segment));
        }
        $asked = $request->query;
        $face = Face::tryFrom($asked->getString('face')) ?? Face::Set;
        $boxed = 'box' === $asked->getString('face');
        $from = self::end($view->plan, $asked->getString('from'));
        $to = self::end($view->plan, $asked->getString('to'));
        $walk = null;
        $cures = [];
        $portError = null;
        $number = $asked->getString('port');
        if ('' !== $from && '' !== $to) {
            $port = null;
            try {
                $port = Port::parse($asked->getString('proto'), $number);
            } catch (Malformed $e) {
                $portError = $e->message();
            }
            $walk = Walker::between($boxed ? NetworkModel::outOfTheBox($view->plan) : $view->networkModel($face), $from, $to, $port);
            $cures = $boxed || $walk->holds() ? [] : Cure::some($view->plan, $face, $from, $to, $port);
        }

        return $this->pages->show($view, 'networks', $request, [
            'tapes' => $tapes,
            'map' => NetworkMap::of($view->plan),
            'window' => $window,
            'keep' => [],
            'path' => "/j/$slug/networks",
            'walk' => $walk,
            'hops' => null === $walk ? null : WalkDrawing::of($walk, $this->words->say(...)),
            'cure' => $cures[0] ?? null,
            'others' => \array_slice($cures, 1),
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

    /** The part of the tape that is looked at closely: `zoom=FIRST-LAST`, of the segment that has it. */
    private static function zoomRange(Request $request, Segment $segment): ?Range
    {
        try {
            $range = Range::fromString($request->query->getString('zoom'));
        } catch (Malformed) {
            return null;
        }

        return $segment->network->contains($range->first) && $segment->network->contains($range->last) ? $range : null;
    }

    /** An end of a walk as it was picked or typed: a key, a tag, or the name of a segment for the outpost there. */
    private static function end(Plan $plan, string $text): string
    {
        $segment = $plan->segmentNamed($text);

        return null === $segment ? $plan->deviceTagged(trim($text))->key ?? $text : OutpostKey::on($segment->key);
    }
}
