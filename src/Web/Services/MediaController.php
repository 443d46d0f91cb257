<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Media\GroupStream;
use Vorhut\Core\Media\LinkBudget;
use Vorhut\Core\Media\LinkLoad;
use Vorhut\Core\Media\PlannedStreams;
use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Media\StreamRate;
use Vorhut\Core\Media\Uplink;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Stream;
use Vorhut\Core\Power\PoeBudget;
use Vorhut\Core\Power\RoomLoad;
use Vorhut\Core\Text\Message;
use Vorhut\Web\Drawing\CordsOfStreams;
use Vorhut\Web\Drawing\LoadBar;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\Window;
use Vorhut\Web\Frame\Words;

/** The load of cables: streams on links, watts on switches. */
final readonly class MediaController
{
    /** Links that are drawn: the fullest. All of them are on the command line. */
    private const DRAWN = 16;
    /** Rooms that are shown: the warmest. */
    private const ROOMS = 40;

    public function __construct(private JobPages $pages, private Words $words)
    {
    }

    /** Streams between devices: drawn as lines, listed, and both ends of each pushed stream compared. */
    #[Route('/j/{slug}/services/streams', name: 'streams', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function streams(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $plan = $view->plan;
        $window = Window::fromRequest(
            $request,
            $plan->streams,
            static fn (Stream $one): array => [$one->name, $plan->devices[$one->sender]->tag ?? '', $one->transport],
            explode('/', $request->query->getString('sel'), 2)[1] ?? null,
            Window::SIZE,
            ['name' => static fn (Stream $one): string => $one->name],
        );
        $rates = [];
        foreach ($window->items as $one) {
            $rates[$one->key] = StreamRate::of($plan, $one);
        }
        $pushed = PlannedStreams::pushedOut($plan);

        return $this->pages->show($view, 'services', $request, [
            'window' => $window,
            'keep' => [],
            'path' => "/j/$slug/services/streams",
            'rates' => $rates,
            'drawn' => CordsOfStreams::of($plan, array_values($window->items), $rates, $this->words->say(new Message('out of the site'))),
            'groups' => array_filter(array_map(
                static fn (Stream $one): ?GroupStream => GroupStream::of($plan, $one),
                $window->items,
            )),
            'pushes' => \array_slice(PushTarget::all($plan), 0, Window::SIZE, true),
            'takers' => \array_slice(PushTarget::targets($plan), 0, Window::SIZE),
            'uplink' => Uplink::of($plan, $pushed),
        ], 'services/streams.html.twig');
    }

    #[Route('/j/{slug}/services/links', name: 'links', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function links(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $plan = $view->plan;
        $budget = LinkBudget::of($plan);
        $more = $plan->streams[$request->query->getString('more')] ?? null;
        $times = max(1, min(99, $request->query->getInt('times', 1)));
        $asked = null === $more ? $budget : LinkBudget::withMore($plan, $more->key, $times);
        $streaming = array_values(array_filter(
            $asked->links,
            static fn (LinkLoad $one): bool => $one->isOver() || $one->carriesStreams(),
        ));
        $drawn = \array_slice($streaming, 0, self::DRAWN);
        $before = array_column(array_map(static fn (LinkLoad $one): array => [$one->key, $one], $budget->links), 1, 0);

        return $this->pages->show($view, 'services', $request, [
            'budget' => $asked,
            'bars' => array_map(
                static fn (LinkLoad $one): array => [
                    'load' => $one,
                    'bar' => LoadBar::ofLink($one),
                    'before' => $before[$one->key] ?? null,
                ],
                $drawn,
            ),
            'left' => \count($asked->links) - \count($drawn),
            'more' => $more,
            'times' => $times,
            'uplink' => Uplink::of($plan, $asked->pushed),
            'switches' => array_filter($plan->devices, static fn (Device $one): bool => $one->kind->has(Role::Switches)),
        ], 'services/links.html.twig');
    }

    /** @return list<array{kind: Kind, devices: non-empty-list<Device>}> by kind, the soonest empty first */
    private static function batteries(Plan $plan): array
    {
        $by = [];
        foreach ($plan->devices as $device) {
            if (null !== $device->kind->power?->hours()) {
                $code = $device->kind->code;
                $by[$code] = ['kind' => $device->kind, 'devices' => [...($by[$code]['devices'] ?? []), $device]];
            }
        }
        usort($by, static fn (array $a, array $b): int => $a['kind']->power?->hours() <=> $b['kind']->power?->hours());

        return $by;
    }

    /** The mains voltage as entered, else that of the country; null where neither is known. */
    private static function volts(Request $request, Plan $plan): ?int
    {
        $entered = $request->query->getInt('mains');

        return 0 === $entered ? $plan->country()?->volts : max(50, min(480, $entered));
    }

    #[Route('/j/{slug}/services/power', name: 'power', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function power(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $celsius = max(-20, min(80, $request->query->getInt('celsius', 20)));
        $budgets = PoeBudget::all($view->plan, celsius: $celsius);
        $rooms = RoomLoad::all($view->plan, $budgets);
        $open = $request->query->getString('switch');

        return $this->pages->show($view, 'services', $request, [
            'budgets' => array_map(static fn (PoeBudget $one): array => ['budget' => $one, 'bar' => LoadBar::ofSwitch($one)], $budgets),
            'open' => $open,
            'celsius' => $celsius,
            'uncabled' => PoeBudget::withoutSwitch($view->plan),
            'batteries' => self::batteries($view->plan),
            'rooms' => \array_slice($rooms, 0, self::ROOMS),
            'more' => max(0, \count($rooms) - self::ROOMS),
            'mains' => self::volts($request, $view->plan),
            'circuit' => max(1, min(400, $request->query->getInt('circuit', 16))),
            'switches' => array_filter($view->plan->devices, static fn (Device $one): bool => $one->kind->has(Role::Switches)),
        ], 'services/power.html.twig');
    }
}
