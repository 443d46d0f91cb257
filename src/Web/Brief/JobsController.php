<?php

declare(strict_types=1);

namespace Vorhut\Web\Brief;

use Doctrine\DBAL\Exception as DatabaseError;
use Psr\Log\LoggerInterface;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Twig\Environment;
use Vorhut\Core\Analysis\Figures;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Document\BadDocument;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Scrubbed;
use Vorhut\Entity\Job;
use Vorhut\Exchange\Jobs;
use Vorhut\Exchange\NotOpened;
use Vorhut\Web\Doors\JobRoles;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** The shelf of jobs: open one, begin one, take one in from a document. */
final readonly class JobsController
{
    /** Bytes. A job of five thousand devices is 14 MB, and as much as one request can hold in its memory. */
    public const LARGEST = 16_000_000;

    public function __construct(
        private Jobs $jobs,
        private JobPages $pages,
        private FormFeedback $feedback,
        private Environment $twig,
        private Catalogue $catalogue,
        private JobRoles $roles,
        private LoggerInterface $log,
    ) {
    }

    #[Route('/', name: 'jobs', methods: ['GET'])]
    #[IsGranted('ROLE_GUEST')]
    public function shelf(Request $request): Response
    {
        $cards = [];
        $user = $this->pages->user();
        foreach (array_filter($this->jobs->all(), fn (Job $job): bool => $this->roles->mayLookAt($user, $job->slug)) as $job) {
            $cards[] = ['job' => $job] + $this->figures($job);
        }

        return new Response($this->twig->render('brief/jobs.html.twig', ['cards' => $cards, 'feedback' => $this->feedback->of($request)]));
    }

    /**
     * A job that cannot be computed has a card that says so; the others have theirs.
     *
     * @return array{figures: Figures|null, why: string}
     */
    private function figures(Job $job): array
    {
        try {
            return ['figures' => $this->pages->figures($job), 'why' => ''];
        } catch (DatabaseError|\PDOException $e) {
            throw $e;
        } catch (\Throwable $e) {
            $this->log->error('The figures of a job could not be made.', ['job' => $job->slug, 'exception' => $e]);

            return ['figures' => null, 'why' => Scrubbed::text($e->getMessage())];
        }
    }

    #[Route('/new', name: 'job_new', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function create(Request $request): Response
    {
        $this->pages->checkToken($request);
        $name = trim($request->request->getString('name'));
        if ('' === $name || mb_strlen($name) > 200) {
            $this->feedback->keep('job', ['name' => $name], [
                'name' => '' === $name
                    ? new Message('A job needs a name.')
                    : new Message('That is longer than {n} characters.', ['n' => 200]),
            ]);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        }

        return new RedirectResponse('/j/'.$this->jobs->create($name)->slug.'/brief', Response::HTTP_SEE_OTHER);
    }

    #[Route('/import', name: 'job_import', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function import(Request $request): Response
    {
        $this->pages->checkToken($request);
        $file = $request->files->get('document');
        $passphrase = $request->request->getString('passphrase');
        try {
            if (!$file instanceof UploadedFile || !$file->isValid() || $file->getSize() > self::LARGEST) {
                throw new BadDocument([[
                    'pointer' => '',
                    'message' => new Message('Choose a job document of at most 16 MB; a larger one is taken in at the console.'),
                ]]);
            }
            $job = $this->jobs->import(
                JobDocument::fromJson((string) file_get_contents($file->getPathname()), $this->catalogue),
                null,
                '' === $passphrase ? null : $passphrase,
            );
        } catch (BadDocument $e) {
            $this->feedback->keep('import', [], ['document' => $e->errors]);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        } catch (NotOpened $e) {
            $this->feedback->keep('import', [], ['document' => [['pointer' => '/sealed', 'message' => $e->said()]]]);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        }

        $figures = $this->pages->figures($job);
        $this->feedback->tell(new Message(
            'Taken in: {d} devices on {s} segments. What does not fit together in it stands among the findings: {n} block.',
            ['d' => $figures->devices, 's' => $figures->segments, 'n' => $figures->blocks],
        ));

        return new RedirectResponse('/j/'.$job->slug.'/brief', Response::HTTP_SEE_OTHER);
    }

    #[Route('/j/{slug}/brief', name: 'brief', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function brief(Request $request, string $slug): Response
    {
        return $this->pages->unchanged($request, $slug) ?? $this->pages->show($this->pages->open($slug), 'brief', $request);
    }
}
