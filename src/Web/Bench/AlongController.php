<?php

declare(strict_types=1);

namespace Vorhut\Web\Bench;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Twig\Environment;
use Vorhut\Application\OfflineAnswer;
use Vorhut\Application\OfflineMark;
use Vorhut\Application\SyncOfflineMarks;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Plan\Row;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\Window;
use Vorhut\Web\Frame\Words;

/**
 * Run sheets of a stop for use without a connection: the page works from the browser's own store, marks have the time at which they were
 * made, and are sent later, in order. A mark that conflicts with another user's is shown, never lost.
 */
final readonly class AlongController
{
    /** So many sheets on one page: what one takes along has to be small. */
    private const SHEETS = 24;
    private const MOST = 500;

    public function __construct(
        private JobPages $pages,
        private SyncOfflineMarks $syncOfflineMarks,
        private Environment $twig,
        private Words $words,
        private string $projectDir,
    ) {
    }

    /** The service worker: caches the offline pages. It must be served from the root to control all of it. */
    #[Route('/along.js', name: 'along_worker', methods: ['GET'])]
    public function worker(): Response
    {
        return new Response((string) file_get_contents($this->projectDir.'/assets/worker.js'), Response::HTTP_OK, [
            'Content-Type' => 'text/javascript; charset=UTF-8',
            'Cache-Control' => 'no-cache',
        ]);
    }

    #[Route('/j/{slug}/bench/along', name: 'along', methods: ['GET'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function page(Request $request, string $slug): Response
    {
        $view = $this->pages->open($slug);
        $number = $request->query->getInt('stop');
        $stop = $view->queue()->currentFor($view->plan, $this->pages->user()->name);
        foreach ($view->queue()->stops as $one) {
            $stop = $one->number === $number ? $one : $stop;
        }
        $sheets = [];
        $window = Window::of($stop?->devices() ?? [], $request->query->getInt('page'), null, self::SHEETS);
        foreach ($window->items as $device) {
            $sheets[] = RunSheet::of($view->plan, $device);
        }

        return new Response($this->twig->render('bench/along.html.twig', [
            'job' => $view->job,
            'plan' => $view->plan,
            'stop' => $stop,
            'stops' => $view->queue()->stops,
            'day' => $view->queue()->day,
            'sheets' => $sheets,
            'window' => $window,
        ]));
    }

    /** Marks that were made offline, in the order in which they were made; each is answered for itself. */
    #[Route('/j/{slug}/bench/along', name: 'along_marks', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function marks(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $rows = json_decode($request->request->getString('marks'), true, 8);
        $marks = array_map(
            static fn (mixed $row): OfflineMark => OfflineMark::fromRow(new Row(\is_array($row) ? $row : [])),
            \is_array($rows) ? \array_slice(array_values($rows), 0, self::MOST) : [],
        );
        $answers = $this->syncOfflineMarks->sync($this->pages->job($slug), $marks, $this->pages->user());

        return new JsonResponse(['answers' => array_map(fn (OfflineAnswer $answer): array => [
            'id' => $answer->id,
            'why' => null === $answer->why ? null : $this->words->say($answer->why),
            'contradicts' => $answer->contradicts,
        ], $answers)]);
    }
}
