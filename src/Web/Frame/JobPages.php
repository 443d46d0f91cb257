<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Psr\Cache\CacheItemPoolInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;
use Symfony\Component\Security\Csrf\CsrfToken;
use Symfony\Component\Security\Csrf\CsrfTokenManagerInterface;
use Twig\Environment;
use Vorhut\Core\Analysis\Figures;
use Vorhut\Core\Bench\BusyStrip;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Jobs;
use Vorhut\Journal\History;
use Vorhut\Journal\HistoryLine;
use Vorhut\Journal\HistoryPatterns;
use Vorhut\Journal\Records;
use Vorhut\Journal\UndoStack;
use Vorhut\Outpost\Orders\Orders;

/** Opens the room of a job for a controller, and shows a stage in the frame that all stages share. */
final readonly class JobPages
{
    /** Milliseconds from one look for changes to the next. */
    private const PULSE = 1500;
    private const BENCH_PULSE = 700;
    private const SLOW_PULSE = 6000;
    /** Seconds for which a page that refreshes itself takes an older result. */
    private const PATIENT = 5;
    /** … and seconds for the first look after a change. */
    private const FIRST_LOOK = 120;
    private const BEHIND = '.behind';
    /** Devices from which on a job is large. */
    private const LARGE = 500;

    public function __construct(
        private Jobs $jobs,
        private Records $records,
        private History $history,
        private UndoStack $undoStack,
        private Orders $orders,
        private Environment $twig,
        private FormFeedback $feedback,
        private TokenStorageInterface $tokens,
        private CsrfTokenManagerInterface $csrf,
        private CacheItemPoolInterface $cache,
        private LockFactory $locks,
        private ClockInterface $clock,
        private RequestStack $requests,
    ) {
    }

    /** The job of an address, without its plan. */
    public function job(string $slug): Job
    {
        return $this->jobs->find($slug) ?? throw new NotFoundHttpException('Job not found.');
    }

    public function open(string $slug): JobView
    {
        return $this->view($this->job($slug));
    }

    /** What the shelf says of a job, without its plan where nothing has changed. */
    public function figures(Job $job): Figures
    {
        return $this->cache($job)->get('figures', fn (): Figures => $this->view($job)->figures());
    }

    /** Whether its figures are there without computing anything. */
    public function hasFigures(Job $job): bool
    {
        return $this->cache($job)->has('figures');
    }

    private function view(Job $job): JobView
    {
        $kept = $this->cache($job);

        return new JobView($job, $this->records->plan($job), $kept);
    }

    private function cache(Job $job): StampedCache
    {
        $since = $this->requests->getCurrentRequest()?->headers->get('X-Since');
        // Marks and values of other users are shown at once, with the earlier results; the next refresh requests new ones.
        $patient = match (true) {
            null === $since => 0,
            str_ends_with($since, self::BEHIND) => self::PATIENT,
            default => self::FIRST_LOOK,
        };

        return new StampedCache($this->cache, $this->locks, $this->clock, $job, $patient);
    }

    public function user(): User
    {
        $user = $this->tokens->getToken()?->getUser();

        return $user instanceof User ? $user : throw new AccessDeniedHttpException();
    }

    /** Every form carries the session's token. */
    public function checkToken(Request $request): void
    {
        if (!$this->csrf->isTokenValid(new CsrfToken('work', (string) $request->request->get('_token')))) {
            throw new AccessDeniedHttpException('The page is too old to write from it. Load it again.');
        }
    }

    /** An open page asks now and then whether anything changed since the revision it shows. */
    public function notModified(Request $request, string $slug): ?Response
    {
        $since = $request->headers->get('X-Since');
        if (null === $since) {
            return null;
        }
        $job = $this->job($slug);

        return $since === self::since($job, $this->orders->open($job)) ? new Response('', Response::HTTP_NO_CONTENT) : null;
    }

    /** @param list<WorkOrder> $orders that are open, with how far each has come */
    private static function since(Job $job, array $orders): string
    {
        $said = implode('|', array_map(static fn (WorkOrder $order): string => (string) $order->result, $orders));

        return $job->revision.'.'.\count($orders).('' === trim($said, '|') ? '' : '.'.hash('crc32b', $said));
    }

    /** @param array<string, mixed> $with */
    public function show(JobView $view, string $stage, Request $request, array $with = [], ?string $template = null): Response
    {
        $by = $this->user();
        $selected = $request->query->getString('sel');
        $orders = $this->orders->open($view->job);
        $past = $request->query->getInt('past');
        $isRead = $request->isMethodSafe();
        $here = $isRead ? $request->getRequestUri() : $this->back($request, "/j/{$view->job->slug}/$stage")->getTargetUrl();
        // Requested before the state of the page is determined.
        $view->findings();

        $template ??= "$stage/page.html.twig";
        $fragments = Fragments::of($this->twig->render($template, $with + [
            'help' => PageHelp::of($template),
            'view' => $view,
            'job' => $view->job,
            'plan' => $view->plan,
            'stage' => $stage,
            'progress' => $view->progress(),
            'feedback' => $this->feedback->of($request),
            'sel' => $selected,
            'history' => HistoryLine::fold($this->history->lines(
                $view->job,
                HistoryPatterns::patterns($view->plan, $selected),
                $past > 0 ? $past : null,
            )),
            'past' => $past,
            'undoable' => $this->undoStack->undoable($view->job, $by),
            'redoable' => $this->undoStack->redoable($view->job, $by),
            'orders' => $orders,
            'failed' => match ($stage) {
                'proof' => $this->orders->failedOrders($view->job),
                'networks' => $this->orders->failedOrders($view->job, 3, WorkOrder::SWEEP),
                default => [],
            },
            'strip' => BusyStrip::of($view->plan),
            'now' => $this->clock->now()->getTimestamp(),
            // Results of an older state are requested again at the next refresh.
            'since' => self::since($view->job, $orders).($view->kept->isBehind() ? self::BEHIND : ''),
            // Forms come back to the page as it was before; the page refreshes itself with its feedback.
            'here' => FormFeedback::without($here),
            // A preview that answers a form stands still: its address takes no GET.
            'live' => $isRead ? $here : null,
            // A page of a large job is work: many who have it open must not all ask at every change. At the bench two hands
            // meet, and few look.
            'pulse' => match (true) {
                'bench' === $stage => self::BENCH_PULSE,
                \count($view->plan->devices) > self::LARGE => self::SLOW_PULSE,
                default => self::PULSE,
            },
        ]));
        $shown = $request->headers->get('X-Parts');

        return new Response((null === $shown ? null : $fragments->since($shown, 'pulse')) ?? $fragments->page());
    }

    /** Back to the page that the form stood on; only ever to a page of our own. */
    public function back(Request $request, string $else): RedirectResponse
    {
        $back = (string) $request->request->get('_back');

        // A path of ours, in characters that an address has: no line break leads anywhere.
        $isOurs = 1 === preg_match('#^/[^/\\\\\x00-\x20\x7f][^\x00-\x20\x7f]*$#D', $back);

        return new RedirectResponse($isOurs ? $back : $else, Response::HTTP_SEE_OTHER);
    }
}
