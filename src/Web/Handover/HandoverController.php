<?php

declare(strict_types=1);

namespace Vorhut\Web\Handover;

use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Document\Schedules;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Directory;
use Vorhut\Exchange\Jobs;
use Vorhut\Exchange\Spreadsheet;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\Window;

/** The handover documents: schedules, the proof record, the job itself. */
final readonly class HandoverController
{
    /** Devices and tests that one page can hold. */
    private const AT_ONCE = 600;
    /** So many open items are shown on the page of a large job. */
    private const LEFT = 60;

    public function __construct(private JobPages $pages, private Jobs $jobs, private FormFeedback $feedback)
    {
    }

    #[Route('/j/{slug}/handover', name: 'handover', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);

        $proof = $view->proof();
        // Everything at once is for the printer; on a screen a large job is turned over segment by segment.
        $whole = $request->query->getBoolean('all')
            || \count($view->plan->devices) + \count($proof->results) <= self::AT_ONCE;
        $plan = $view->plan;
        $segments = Window::fromRequest(
            $request,
            Schedules::segments($plan),
            static fn (string $key): array => array_merge(...array_map(
                static fn (array $row): array => [$row['segment'], $row['tag'], $row['address'], $row['room']],
                Schedules::addressesOn($plan, $key),
            )),
            null,
            $whole ? \PHP_INT_MAX : 1,
        );

        return $this->pages->show($view, 'handover', $request, [
            'directories' => Directory::all($plan),
            'addresses' => array_map(static fn (string $key): array => Schedules::addressesOn($plan, $key), $segments->items),
            'window' => $segments,
            'keep' => [],
            'path' => "/j/$slug/handover",
            'whole' => $whole,
            'numbers' => $whole ? Schedules::numbers($view->plan) : [],
            'proof' => $proof,
            'results' => $whole ? $proof->results : \array_slice($proof->with(Verdict::Failed, Verdict::Outdated), 0, self::LEFT),
            'tally' => ['held' => $proof->count(Verdict::Passed), 'failed' => $proof->count(Verdict::Failed)],
            'findings' => $whole ? $view->findings()->all : \array_slice($view->findings()->all, 0, self::LEFT),
        ]);
    }

    #[Route('/j/{slug}/handover/{what}.csv', name: 'handover_csv', requirements: [
        'what' => 'addresses|numbers|proof|settings|roster',
    ], methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function csv(string $slug, string $what): Response
    {
        $view = $this->pages->open($slug);
        $rows = match ($what) {
            'addresses' => Schedules::addresses($view->plan),
            'numbers' => Schedules::numbers($view->plan),
            'settings' => Schedules::settings($view->plan),
            'roster' => Schedules::roster($view->plan),
            default => Schedules::proof($view->proof()),
        };

        return self::file(Spreadsheet::csv($rows), 'text/csv; charset=UTF-8', $slug.'-'.$what.'.csv');
    }

    #[Route('/j/{slug}/handover/directory-{device}.{form}', name: 'handover_directory', requirements: [
        'form' => 'csv|vcf|ldif',
    ], methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function directory(string $slug, string $device, string $form): Response
    {
        $plan = $this->pages->open($slug)->plan;
        $directory = Directory::of($plan, $plan->devices[$device] ?? throw new NotFoundHttpException('Device not found.'));
        $name = $slug.'-directory-'.$device.'.'.$form;

        return match ($form) {
            'vcf' => self::file($directory->vCard(), 'text/vcard; charset=UTF-8', $name),
            'ldif' => self::file($directory->ldif(), 'text/plain; charset=UTF-8', $name),
            default => self::file(Spreadsheet::csv($directory->entries), 'text/csv; charset=UTF-8', $name),
        };
    }

    #[Route('/j/{slug}/handover/job.json', name: 'handover_json', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function document(string $slug): Response
    {
        return self::export($this->jobs->export($this->pages->open($slug)->job), $slug.'.json');
    }

    /** With the secrets, sealed under a passphrase. */
    #[Route('/j/{slug}/handover/sealed.json', name: 'handover_sealed', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function sealedExport(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $job = $this->pages->open($slug)->job;
        $passphrase = $request->request->getString('passphrase');
        if (mb_strlen($passphrase) < 8) {
            $this->feedback->keep('sealed', [], ['passphrase' => new Message('At least eight characters.')]);

            return $this->pages->back($request, "/j/$slug/handover");
        }

        return self::export($this->jobs->export($job, $passphrase), $slug.'-sealed.json');
    }

    /** Record by record: of a large job the text is never held whole. */
    private static function export(JobDocument $document, string $name): Response
    {
        return new StreamedResponse(static function () use ($document): void {
            foreach ($document->chunks() as $text) {
                echo $text;
                flush();
            }
        }, 200, ['Content-Type' => 'application/json', 'Content-Disposition' => HeaderUtils::makeDisposition('attachment', $name)]);
    }

    private static function file(string $content, string $type, string $name): Response
    {
        return new Response($content, 200, [
            'Content-Type' => $type,
            'Content-Disposition' => HeaderUtils::makeDisposition('attachment', $name),
        ]);
    }
}
