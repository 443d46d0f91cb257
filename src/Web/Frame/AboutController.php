<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Twig\Environment;
use Vorhut\Core\Text\Glossary;
use Vorhut\Library\About;

/** Pages that belong to no job: the glossary, and what Vorhut is made of. */
#[IsGranted('ROLE_VIEWER')]
final readonly class AboutController
{
    public function __construct(private Environment $twig, private About $about)
    {
    }

    #[Route('/glossary', name: 'glossary', methods: ['GET'])]
    public function glossary(): Response
    {
        return new Response($this->twig->render('frame/glossary.html.twig', ['terms' => Glossary::terms()]));
    }

    #[Route('/about', name: 'about', methods: ['GET'])]
    public function about(): Response
    {
        return new Response($this->twig->render('frame/about.html.twig', [
            'version' => About::VERSION,
            'licence' => About::LICENCE,
            'php' => \PHP_VERSION,
            'components' => $this->about->components(),
        ]));
    }
}
