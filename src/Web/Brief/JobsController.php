<?php

declare(strict_types=1);

namespace Vorhut\Web\Brief;

use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Twig\Environment;
use Vorhut\Core\Document\BadDocument;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Kind\Kinds;
use Vorhut\Exchange\Jobs;
use Vorhut\Web\Frame\Rooms;
use Vorhut\Web\Frame\Slips;

/** The shelf of jobs: open one, begin one, take one in from a document. */
final readonly class JobsController
{
    private const LARGEST = 8_000_000;

    public function __construct(private Jobs $jobs, private Rooms $rooms, private Slips $slips, private Environment $twig, private Kinds $kinds)
    {
    }

    #[Route('/', name: 'jobs', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function shelf(Request $request): Response
    {
        $cards = [];
        foreach ($this->jobs->all() as $job) {
            $cards[] = ['job' => $job, 'room' => $this->rooms->open($job->slug)];
        }

        return new Response($this->twig->render('brief/jobs.html.twig', ['cards' => $cards, 'slips' => $this->slips->of($request)]));
    }

    #[Route('/new', name: 'job_new', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function create(Request $request): Response
    {
        $this->rooms->checkToken($request);
        $name = trim($request->request->getString('name'));
        if ('' === $name || mb_strlen($name) > 200) {
            $this->slips->keep('job', ['name' => $name], ['name' => '' === $name ? 'A job needs a name.' : 'That is longer than 200 characters.']);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        }

        return new RedirectResponse('/j/'.$this->jobs->create($name)->slug.'/brief', Response::HTTP_SEE_OTHER);
    }

    #[Route('/import', name: 'job_import', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function import(Request $request): Response
    {
        $this->rooms->checkToken($request);
        $file = $request->files->get('document');
        $passphrase = $request->request->getString('passphrase');
        try {
            if (!$file instanceof UploadedFile || !$file->isValid() || $file->getSize() > self::LARGEST) {
                throw new BadDocument([['pointer' => '', 'message' => 'Choose a job document of at most 8 MB.']]);
            }
            $job = $this->jobs->import(JobDocument::fromJson((string) file_get_contents($file->getPathname()), $this->kinds), null, '' === $passphrase ? null : $passphrase);
        } catch (BadDocument $e) {
            $this->slips->keep('import', [], ['document' => $e->errors]);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        } catch (\InvalidArgumentException $e) {
            $this->slips->keep('import', [], ['document' => [['pointer' => '/sealed', 'message' => $e->getMessage()]]]);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        }

        return new RedirectResponse('/j/'.$job->slug.'/brief', Response::HTTP_SEE_OTHER);
    }

    #[Route('/j/{slug}/brief', name: 'brief', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function brief(Request $request, string $slug): Response
    {
        return $this->rooms->unchanged($request, $slug) ?? $this->rooms->show($this->rooms->open($slug), 'brief', $request);
    }
}
