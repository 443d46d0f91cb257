<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Analysis\Seen;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Network\Discovery\Findable;
use Vorhut\Core\Network\Reachability\Crossing;
use Vorhut\Core\Network\Reachability\ReachabilityMatrix;
use Vorhut\Core\Network\Reachability\RequiredFlows;
use Vorhut\Core\Network\Reachability\WhatIf;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\EditNotation;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\JobView;
use Vorhut\Web\Frame\Window;

/** Reachability, segment by segment and, when opened, device by device; and the effect of a change on it. */
final readonly class ReachController
{
    /** Columns that stand side by side. */
    private const PLACES = 16;
    /** Devices that stand under an opened crossing. */
    private const OPENED = 200;

    public function __construct(private JobPages $pages)
    {
    }

    #[Route('/j/{slug}/networks/reach', name: 'reach', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $face = Face::tryFrom($request->query->getString('face')) ?? Face::Set;
        $matrix = new ReachabilityMatrix($view->networkModel($face));
        $places = $matrix->places();
        uasort($places, static fn (Segment $a, Segment $b): int => $a->network->address->number <=> $b->network->address->number);
        $window = Window::fromRequest(
            $request,
            $places,
            static fn (Segment $segment): array => [$segment->name, (string) $segment->network, (string) $segment->vlan],
            null,
            self::PLACES,
        );
        [$what, $error] = $this->whatIf($view, $face, $request->query->getString('edit'), $matrix);

        return $this->pages->show($view, 'networks', $request, [
            'matrix' => $this->table($view, $matrix, array_values($window->items)),
            'window' => $window,
            'keep' => ['face' => $face->value],
            'path' => "/j/$slug/networks/reach",
            'opened' => self::openCrossing($view, $matrix, $request->query->getString('from'), $request->query->getString('to')),
            'face' => $face->value,
            'edit' => $request->query->getString('edit'),
            'editError' => $error,
            'what' => $what,
        ], 'networks/reach.html.twig');
    }

    /**
     * @param list<Segment> $places
     *
     * @return array{
     *     places: list<Segment>, all: Crossing,
     *     rows: list<array{segment: Segment, cells: list<array{verdict: string, crossing: Crossing, seen: Seen|null}>}>,
     * }
     */
    private function table(JobView $view, ReachabilityMatrix $matrix, array $places): array
    {
        $rows = [];
        $all = new Crossing();
        $segments = $view->plan->segments;
        uasort($segments, static fn (Segment $a, Segment $b): int => $a->network->address->number <=> $b->network->address->number);
        $failing = self::failing($view->plan, $matrix);
        $seen = $view->observedPaths();
        foreach ($segments as $segment) {
            $cells = [];
            $sum = new Crossing();
            foreach ($places as $place) {
                $crossing = $matrix->crossing($place->key, $segment->key);
                $sum = $sum->and($crossing);
                $pair = $place->key.'>'.$segment->key;
                $cells[] = ['crossing' => $crossing, 'seen' => $seen[$pair] ?? null, 'verdict' => match (true) {
                    0 === $crossing->all() => 'none',
                    isset($failing[$pair]) => 'wanted',
                    $crossing->holds === $crossing->all() => 'holds',
                    0 === $crossing->holds => 'closed',
                    default => 'open',
                }];
            }
            if (0 < $sum->all()) {
                $rows[] = ['segment' => $segment, 'cells' => $cells];
                $all = $all->and($sum);
            }
        }

        return ['places' => $places, 'all' => $all, 'rows' => $rows];
    }

    /** @return array<string, true> pairs of segments between which something that the job needs does not answer */
    private static function failing(Plan $plan, ReachabilityMatrix $matrix): array
    {
        $failing = [];
        foreach (RequiredFlows::of($plan) as $flow) {
            if (null !== $flow->outside || $flow->isTest || !$flow->isServed) {
                continue;
            }
            $device = $plan->devices[$flow->to];
            $place = null !== OutpostKey::segment($flow->from)
                ? substr($flow->from, 9)
                : $plan->devices[$flow->from]->nic()->segment ?? '';
            if (!$matrix->cell($place, $device, $device->service($flow->port))->holds()) {
                $failing[$place.'>'.($device->nic()->segment ?? '')] = true;
            }
        }

        return $failing;
    }

    /** @return array<string, mixed>|null the cells of one crossing, device by device and service by service */
    private static function openCrossing(JobView $view, ReachabilityMatrix $matrix, string $from, string $to): ?array
    {
        $place = $matrix->places()[$from] ?? null;
        $segment = $view->plan->segments[$to] ?? null;
        if (null === $place || null === $segment) {
            return null;
        }
        $rows = [];
        foreach ($matrix->devicesOn($segment->key) as $device) {
            $cells = [];
            foreach (ReachabilityMatrix::servicesOf($device) as $service) {
                $test = "reach:{$place->key}>{$device->key}:".$service?->port;
                $cells[] = [
                    'service' => $service,
                    'cell' => $matrix->cell($place->key, $device, $service),
                    'result' => $view->proof()->find($test),
                ];
            }
            $rows[] = [
                'device' => $device,
                'cells' => $cells,
                'ways' => \count($rows) < self::OPENED ? Findable::all($matrix->model, $place->key, $device) : [],
            ];
        }

        return ['from' => $place, 'to' => $segment, 'rows' => $rows];
    }

    /** @return array{WhatIf|null, Message|null} */
    private function whatIf(JobView $view, Face $face, string $line, ReachabilityMatrix $matrix): array
    {
        if ('' === trim($line)) {
            return [null, null];
        }
        try {
            $edits = [];
            foreach (preg_split('/[\r\n]+/', trim($line)) ?: [] as $one) {
                $after = $view->plan->with(new Change(new Message(''), $edits));
                $edits = [...$edits, ...EditNotation::read($after, $one)];
            }

            return [WhatIf::of($view->plan, $face, new Change(new Message('What if: {line}', ['line' => $line]), $edits), $matrix), null];
        } catch (Malformed $e) {
            return [null, $e->message()];
        }
    }
}
