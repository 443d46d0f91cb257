<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Web\Drawing\WalkDrawing;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\Window;
use Vorhut\Web\Frame\Words;

/** The recorded IPv6 settings, and their walk. */
final readonly class Version6Controller
{
    public function __construct(private JobPages $pages, private Words $words)
    {
    }

    #[Route('/j/{slug}/networks/ipv6', name: 'ipv6', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $plan = $view->plan;
        $asked = $request->query;
        $from = $plan->deviceTagged($asked->getString('from'));
        $to = $plan->deviceTagged($asked->getString('to'));
        $number = $asked->getString('port');
        $walk = $wrong = null;
        if (null !== $from && null !== $to) {
            try {
                $port = Port::parse($asked->getString('proto'), $number);
                $walk = Walker::between(NetworkModel::ofVersion6($plan, Face::Set), $from->key, $to->key, $port);
            } catch (Malformed $e) {
                $wrong = $e->message();
            }
        }

        return $this->pages->show($view, 'networks', $request, [
            'window' => Window::fromRequest(
                $request,
                array_filter($plan->nics, static fn (Nic $nic): bool => null !== $nic->address6
                    || (!$nic->passive && null !== ($plan->segments[$nic->segment ?? ''] ?? null)?->network6)),
                static fn (Nic $nic): array => [$plan->devices[$nic->device]->tag ?? '', (string) $nic->address6, (string) $nic->gateway6],
                null,
            ),
            'keep' => [],
            'path' => "/j/$slug/networks/ipv6",
            'walk' => $walk,
            'hops' => null === $walk ? null : WalkDrawing::of($walk, $this->words->say(...)),
            'cure' => null,
            'others' => [],
            'asked' => [
                'from' => $from->tag ?? $asked->getString('from'),
                'to' => $to->tag ?? $asked->getString('to'),
                'port' => $number,
                'proto' => $asked->getString('proto', 'tcp'),
            ],
            'portError' => $wrong,
        ], 'networks/ipv6.html.twig');
    }
}
