<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Lighting\LookSpan;
use Vorhut\Core\Lighting\LookTimeline;
use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Web\Drawing\LookLanes;
use Vorhut\Web\Frame\JobPages;

/** Light: universes as rulers of 512 slots, and what a scene store shows when. */
final readonly class LightController
{
    /** Universes that are drawn at a time. */
    private const DRAWN = 24;
    private const EVENTS = 40;

    public function __construct(private JobPages $pages)
    {
    }

    #[Route('/j/{slug}/services/light', name: 'light', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $patch = Patch::of($view->plan);
        $stores = array_filter($view->plan->devices, static fn (Device $one): bool => null !== $one->kind->setting('sceneName'));
        $store = $stores[$request->query->getString('store')] ?? (false === ($first = reset($stores)) ? null : $first);
        $text = mb_substr($request->query->getString('events'), 0, 4000);
        $looks = self::looks($view->plan, $store, $text);

        return $this->pages->show($view, 'services', $request, [
            'patch' => $patch,
            'drawn' => \array_slice($patch->universes, 0, self::DRAWN, true),
            'stores' => $stores,
            'store' => $store,
            'events' => $text,
            ...$looks,
            'lanes' => LookLanes::of($looks['looks']),
        ], 'services/light.html.twig');
    }

    /** @return array{looks: list<LookSpan>, objection: Message|null} */
    private static function looks(Plan $plan, ?Device $store, string $text): array
    {
        $events = \array_slice(preg_split('/[\r\n;]+/', $text) ?: [], 0, self::EVENTS);
        try {
            return ['looks' => null === $store || '' === trim($text) ? [] : LookTimeline::of($plan, $store, $events), 'objection' => null];
        } catch (Malformed $e) {
            return ['looks' => [], 'objection' => $e->message()];
        }
    }
}
