<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Plan\Segment;
use Vorhut\Outpost\Remote\Pairing;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** The outposts of a job: their segments, pairing by a code, and revoking. */
final readonly class OutpostsController
{
    public function __construct(
        private JobPages $pages,
        private Pairing $pairing,
        private FormFeedback $feedback,
        private string $baseUrl,
        private string $outpostKind,
    ) {
    }

    #[Route('/j/{slug}/networks/outposts', name: 'outposts', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $view = $this->pages->open($slug);
        $outposts = [];
        foreach ($this->pairing->all($view->job) as $outpost) {
            $outposts[] = [
                'outpost' => $outpost,
                'live' => $this->pairing->isLive($outpost),
                'segments' => array_values(array_filter(
                    $view->plan->segments,
                    static fn (Segment $segment): bool => Pairing::standsOn($outpost, $segment),
                )),
            ];
        }

        return $this->pages->show($view, 'networks', $request, [
            'outposts' => $outposts,
            'server' => $this->baseUrl,
            'isSite' => 'site' === $this->outpostKind,
        ], 'networks/outposts.html.twig');
    }

    /** A code to pair by, or one that is sent away. */
    #[Route('/j/{slug}/networks/outposts', name: 'outposts_code', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function code(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        if ($request->request->has('revoke')) {
            $this->pairing->revoke($view->job, $request->request->getInt('revoke'));
        } else {
            $this->feedback->keep('code', [], [], ['code' => $this->pairing->code($view->job, $this->pages->user()->name)]);
        }

        return $this->pages->back($request, "/j/$slug/networks/outposts");
    }
}
