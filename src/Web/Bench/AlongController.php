<?php

declare(strict_types=1);

namespace Vorhut\Web\Bench;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Twig\Environment;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Plan\Mark;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Journal;
use Vorhut\Journal\Refused;
use Vorhut\Secrets\Vault;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\Window;
use Vorhut\Web\Frame\Words;

/**
 * Run sheets of a stop, taken along to where there is no connection: the page works from the browser's own store, marks carry the time at
 * which they were made, and are sent later, in order. What contradicts a mark that somebody else made meanwhile is shown, never lost.
 */
final readonly class AlongController
{
    /** So many sheets on one page: what one takes along has to be small. */
    private const SHEETS = 24;
    private const MOST = 500;
    /** Seconds by which the clock of a telephone may be ahead. */
    private const AHEAD = 120;
    /** Days that a mark may have been on the way. */
    private const DAYS = 14;

    public function __construct(
        private JobPages $pages,
        private Journal $journal,
        private Vault $vault,
        private Environment $twig,
        private Words $words,
        private string $projectDir,
    ) {
    }

    /** The browser's helper: keeps the pages that were taken along. It has to come from the root to serve all of it. */
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

    /** Marks that were made on the way, in the order in which they were made; each is answered for itself. */
    #[Route('/j/{slug}/bench/along', name: 'along_marks', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function marks(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $plan = $view->plan;
        $marks = json_decode($request->request->getString('marks'), true, 8);
        $answers = [];
        if (\is_array($marks)) {
            foreach (\array_slice($marks, 0, self::MOST) as $mark) {
                $row = new Row(\is_array($mark) ? $mark : []);
                $why = $this->take($slug, $view->job, $plan, $row);
                $answers[] = ['id' => $row->text('id'), 'why' => null === $why ? null : $this->words->say($why)];
            }
        }

        return new JsonResponse(['answers' => $answers]);
    }

    /**
     * Null when it stands now, or stood before; else why it does not.
     *
     * @param Plan $plan as it stands; after a mark that was taken, with it
     */
    private function take(string $slug, Job $job, Plan &$plan, Row $mark): ?Message
    {
        $device = $plan->devices[$mark->text('device')] ?? null;
        $step = $device?->kind->step($mark->text('step'));
        $state = $mark->text('state');
        if (null === $device || null === $step || !\in_array($state, ['done', 'skipped', 'failed', 'blocked'], true)) {
            return new Message('This step is not there any more.');
        }
        $by = $this->pages->user();
        $at = $this->time($mark->text('at'));
        $note = mb_substr(trim($mark->text('note')), 0, 1000);
        $sheet = RunSheet::of($plan, $device);
        $there = $sheet->mark($step);
        if (null !== $there && $there->by === $by->name && $there->state === $state && $there->at === $at) {
            return null;
        }
        if (null !== $there && !$mark->bool('force')) {
            return self::contradiction($there);
        }
        if ('done' !== $state && '' === $note) {
            return new Message('Write why.');
        }
        if ('done' === $state && $step->does(Effect::Secures)) {
            $this->vault->fill($job, $plan, $by);
            $plan = $this->again($slug);
            $sheet = RunSheet::of($plan, $device);
        }
        try {
            $change = $sheet->markChange($step, $state, $note, $by->name, $at);
            $this->journal->write($job, $change, $by);
            $plan = $plan->with($change);
        } catch (Conflict|Refused $e) {
            $plan = $this->again($slug);

            return $e->message();
        }

        return null;
    }

    private function again(string $slug): Plan
    {
        return $this->pages->open($slug)->plan;
    }

    private static function contradiction(Mark $there): Message
    {
        return new Message('{name} marked it {state} at {at}.', [
            'name' => $there->by,
            'state' => new Message($there->state),
            'at' => $there->at,
        ]);
    }

    /** The time at which it was made, as far as one can believe it. */
    private function time(string $text): string
    {
        $now = (int) strtotime($this->journal->now());
        $at = 1 === preg_match('/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d+)?Z$/D', $text) ? (int) strtotime($text) : 0;

        return $at > $now + self::AHEAD || $at < $now - self::DAYS * 86400 ? $this->journal->now() : gmdate('Y-m-d\TH:i:s\Z', $at);
    }
}
