<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Audio\PatchBay;
use Vorhut\Core\Audio\SoundNetwork;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Media\Latency;
use Vorhut\Core\Plan\Device;
use Vorhut\Web\Drawing\WaysOfSound;
use Vorhut\Web\Frame\JobPages;

/** Audio over networks: clock leaders, and the latency of each path. */
final readonly class SoundController
{
    private const DRAWN = 30;
    private const WAYS = 60;

    public function __construct(private JobPages $pages)
    {
    }

    #[Route('/j/{slug}/services/sound', name: 'sound', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $rate = max(8000, min(384000, $request->query->getInt('rate', 48000)));
        $typed = mb_substr($request->query->getString('samples'), 0, 400);
        $samples = array_map(
            static fn (string $one): int => min(10_000_000, (int) $one),
            preg_match_all('/[0-9]{1,8}/', $typed, $found) > 0 ? $found[0] : [],
        );
        $networks = SoundNetwork::all($view->plan);
        $bay = PatchBay::of($view->plan);

        return $this->pages->show($view, 'services', $request, [
            'networks' => \array_slice($networks, 0, self::DRAWN),
            'left' => max(0, \count($networks) - self::DRAWN),
            'bay' => $bay,
            'sharers' => array_filter($view->plan->devices, static fn (Device $one): bool => $one->kind->has(Role::SharesSound)),
            'drawn' => WaysOfSound::of(\array_slice($bay->ways, 0, self::WAYS)),
            'rate' => $rate,
            'samples' => $typed,
            'latency' => [] === $samples ? null : Latency::of($rate, $samples),
        ], 'services/sound.html.twig');
    }
}
