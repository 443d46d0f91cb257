<?php

declare(strict_types=1);

namespace Vorhut\Web\Brief;

use Doctrine\DBAL\Exception as DatabaseError;
use Psr\Log\LoggerInterface;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Twig\Environment;
use Vorhut\Application\CreateJob;
use Vorhut\Application\FieldErrors;
use Vorhut\Application\ImportJob;
use Vorhut\Core\Analysis\Figures;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Country;
use Vorhut\Core\Document\BadDocument;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Entity\Job;
use Vorhut\Exchange\FileChunks;
use Vorhut\Exchange\Jobs;
use Vorhut\Exchange\NotOpened;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;
use Vorhut\Web\Accounts\JobRoles;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\ProgressResponse;

/** The shelf of jobs: open one, begin one, take one in from a document. */
final readonly class JobsController
{
    /** Bytes. A job of five thousand devices is 14 MB, without evidence of several years. */
    public const LARGEST = 64_000_000;
    private const LARGEST_OUTLINE = 500_000;
    /** Devices of jobs without figures that are counted before the shelf is shown. */
    private const COUNTED = 500;

    public function __construct(
        private Jobs $jobs,
        private ImportJob $importJob,
        private CreateJob $createJob,
        private JobPages $pages,
        private FormFeedback $feedback,
        private Environment $twig,
        private Catalogue $catalogue,
        private JobRoles $roles,
        private LoggerInterface $log,
        private ProgressResponse $long,
    ) {
    }

    #[Route('/', name: 'jobs', methods: ['GET'])]
    #[IsGranted('ROLE_GUEST')]
    public function shelf(Request $request): Response
    {
        $cards = [];
        $user = $this->pages->user();
        $left = self::COUNTED;
        foreach (array_filter($this->jobs->all(), fn (Job $job): bool => $this->roles->mayLookAt($user, $job->slug)) as $job) {
            $devices = $this->pages->hasFigures($job) ? 0 : $this->jobs->devices($job);
            if ($devices > $left) {
                // Large results that changed are computed after the menu is shown: one job does not delay the others.
                $cards[] = ['job' => $job, 'later' => true, 'figures' => null, 'why' => ''];
                continue;
            }
            $left -= $devices;
            $cards[] = $this->card($job);
        }

        return new Response($this->twig->render('brief/jobs.html.twig', [
            'cards' => $cards,
            'words' => $this->catalogue->words(),
            'countries' => array_map(static fn (Country $one): string => $one->name, $this->catalogue->countries->all()),
            'country' => $this->lastCountry(),
            'feedback' => $this->feedback->of($request),
        ]));
    }

    /** Most jobs of a company are in the country of its last one. */
    private function lastCountry(): string
    {
        $user = $this->pages->user();
        $jobs = array_filter(
            $this->jobs->all(),
            fn (Job $job): bool => '' !== (string) $job->country && $this->roles->mayLookAt($user, $job->slug),
        );
        usort($jobs, static fn (Job $one, Job $other): int => $other->id <=> $one->id);

        return (string) ($jobs[0]->country ?? '');
    }

    /** One card of the shelf, by itself. */
    #[Route('/j/{slug}/card', name: 'job_card', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function refreshCard(string $slug): Response
    {
        $job = $this->jobs->find($slug) ?? throw new NotFoundHttpException('Job not found.');

        return new Response($this->twig->render('brief/card.html.twig', ['card' => $this->card($job)]));
    }

    /**
     * A job that cannot be computed has a card that says so; the others have theirs.
     *
     * @return array{job: Job, later: bool, figures: Figures|null, why: string}
     */
    private function card(Job $job): array
    {
        try {
            return ['job' => $job, 'later' => false, 'figures' => $this->pages->figures($job), 'why' => ''];
        } catch (DatabaseError|\PDOException $e) {
            throw $e;
        } catch (\Throwable $e) {
            $this->log->error('The figures of a job could not be made.', ['job' => $job->slug, 'exception' => $e]);

            return ['job' => $job, 'later' => false, 'figures' => null, 'why' => Sanitizer::text($e->getMessage())];
        }
    }

    #[Route('/new', name: 'job_new', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function create(Request $request): Response
    {
        $this->pages->checkToken($request);
        $typed = [];
        foreach (['name', 'country', 'customer', 'outline'] as $field) {
            $typed[$field] = trim($request->request->getString($field));
        }
        try {
            if (\strlen($typed['outline']) > self::LARGEST_OUTLINE) {
                throw new FieldErrors(['outline' => new Message('That is more than {n} kB: import a file.', [
                    'n' => intdiv(self::LARGEST_OUTLINE, 1000),
                ])]);
            }
            [$job, $left] = $this->createJob->create(
                $typed['name'],
                $typed['country'],
                $typed['customer'],
                $typed['outline'],
                $this->pages->user(),
            );
        } catch (FieldErrors $e) {
            $this->feedback->keep('job', $typed, $e->errors);

            return new RedirectResponse('/#new', Response::HTTP_SEE_OTHER);
        } catch (Conflict|Refused $e) {
            $this->feedback->keep('job', $typed, ['name' => $e->message()]);

            return new RedirectResponse('/#new', Response::HTTP_SEE_OTHER);
        }
        if ('' === $left) {
            return new RedirectResponse("/j/$job->slug/brief", Response::HTTP_SEE_OTHER);
        }
        // Columns whose meaning is not known, or refused rows: decided where rosters are pasted.
        $this->feedback->keep('paste', ['table' => $left], [
            'table' => new Message('The job was created without these rows. The preview shows what to decide.'),
        ]);

        return new RedirectResponse("/j/$job->slug/devices#paste", Response::HTTP_SEE_OTHER);
    }

    #[Route('/import', name: 'job_import', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function import(Request $request): Response
    {
        $this->pages->checkToken($request);

        return $this->long->of($request, fn (\Closure $tell): RedirectResponse => $this->runImport($request, $tell));
    }

    /** @param \Closure(Message, int, int): void $tell */
    private function runImport(Request $request, \Closure $tell): RedirectResponse
    {
        $file = $request->files->get('document');
        $passphrase = $request->request->getString('passphrase');
        try {
            $stream = $file instanceof UploadedFile && $file->isValid() && $file->getSize() <= self::LARGEST
                ? fopen($file->getPathname(), 'r')
                : false;
            if (false === $stream) {
                throw new BadDocument([['pointer' => '', 'message' => new Message(
                    'Choose a job document of at most {n} MB; import a larger one on the command line.',
                    ['n' => intdiv(self::LARGEST, 1_000_000)],
                )]]);
            }
            $all = intdiv((int) filesize($file->getPathname()), 1000);
            $document = JobDocument::fromChunks((static function () use ($stream, $tell, $all): \Generator {
                $read = 0;
                foreach (FileChunks::of($stream) as $chunk) {
                    $read += \strlen($chunk);
                    $tell(new Message('{n} of {all} kB are read', ['n' => intdiv($read, 1000), 'all' => $all]), intdiv($read, 1000), $all);
                    yield $chunk;
                }
            })(), $this->catalogue);
            $job = $this->importJob->import(
                $document,
                null,
                '' === $passphrase ? null : $passphrase,
                static fn (int $done, int $of) => $tell(
                    new Message('{n} of [all record is|records are] written', ['n' => $done, 'all' => $of]),
                    $done,
                    $of,
                ),
            );
        } catch (BadDocument $e) {
            $this->feedback->keep('import', [], ['document' => $e->errors]);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        } catch (NotOpened $e) {
            $this->feedback->keep('import', [], ['document' => [['pointer' => '/sealed', 'message' => $e->message()]]]);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        }

        $tell(new Message('It is looked at whether it fits together'), 0, 0);
        $figures = $this->pages->figures($job);
        $this->feedback->tell(new Message(
            'Imported: [d device|devices] in [s segment|segments]. Inconsistencies are listed as findings: {n} blocking.',
            ['d' => $figures->devices, 's' => $figures->segments, 'n' => $figures->blocks],
        ));

        return new RedirectResponse('/j/'.$job->slug.'/brief', Response::HTTP_SEE_OTHER);
    }

    #[Route('/j/{slug}/brief', name: 'brief', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function brief(Request $request, string $slug): Response
    {
        return $this->pages->notModified($request, $slug) ?? $this->pages->show($this->pages->open($slug), 'brief', $request);
    }
}
