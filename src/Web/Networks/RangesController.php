<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Application\RunTests;
use Vorhut\Core\Analysis\DeviceState;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Network\Discovery\Sweep;
use Vorhut\Core\Network\Discovery\SweepLine;
use Vorhut\Core\Network\Discovery\SweepVerdict;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Text\Message;
use Vorhut\Exchange\Spreadsheet;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Outpost\Probe\Sweeper;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\JobView;

/** Scan lists: made from the plan or pasted, scanned from a real place, and cleaned of silent addresses. */
final readonly class RangesController
{
    /** Lines of a scan shown on the page; the file has all of them. */
    private const SHOWN = 300;

    public function __construct(
        private JobPages $pages,
        private ChangeWriter $changes,
        private RunTests $runTests,
        private FormFeedback $feedback,
    ) {
    }

    #[Route('/j/{slug}/networks/ranges', name: 'ranges', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $lists = [];
        foreach (RangeList::all($view->plan) as $list) {
            $sweep = Sweep::latest($view->plan, $list);
            $lists[] = [
                'list' => $list,
                'sweep' => $sweep,
                'because' => null === $sweep ? [] : self::because($view, $list, $sweep),
                'refused' => self::refusal($view, $list),
                'takes' => (int) ceil($list->count() / Sweeper::SOCKETS) * Sweeper::PATIENCE,
            ];
        }
        $from = $request->query->getString('from');

        return $this->pages->show($view, 'networks', $request, [
            'lists' => $lists,
            'shown' => self::SHOWN,
            'suggested' => isset($view->plan->segments[$from]) ? RangeList::suggest($view->plan, $from) : [],
            'from' => $from,
        ], 'networks/ranges.html.twig');
    }

    /** Scanned from the place it names; more than a /20 only on request. */
    #[Route('/j/{slug}/networks/ranges/{key}/ask', name: 'ranges_ask', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function ask(Request $request, string $slug, string $key): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $list = RangeList::find($view->plan, $key) ?? throw new NotFoundHttpException('List not found.');
        $n = $list->count();
        if (null === $list->from) {
            $this->feedback->keep('ask:'.$key, [], ['' => new Message('Choose the segment to scan from.')]);
        } elseif (0 === $n) {
            $this->feedback->keep('ask:'.$key, [], ['' => new Message('The list has no addresses.')]);
        } elseif ($n > RangeList::MOST || ($n > RangeList::AT_ONCE && 'yes' !== $request->request->getString('all'))) {
            $this->feedback->keep('ask:'.$key, [], ['' => new Message(
                $n > RangeList::MOST
                    ? '{n} addresses are more than anybody asks one by one: at most {most}.'
                    : '{n} addresses are more than a /20: say that you mean it.',
                ['n' => $n, 'most' => RangeList::MOST],
            )], ['confirm' => $n <= RangeList::MOST]);
        } else {
            $this->runTests->scan($view->job, $view->plan, $list, $this->pages->user()->name);
        }

        return $this->pages->back($request, "/j/$slug/networks/ranges");
    }

    /** Removes silent addresses without a planned device. */
    #[Route('/j/{slug}/networks/ranges/{key}/clean', name: 'ranges_clean', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function clean(Request $request, string $slug, string $key): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $list = RangeList::find($view->plan, $key) ?? throw new NotFoundHttpException('List not found.');
        $sweep = Sweep::latest($view->plan, $list);
        if (null !== $sweep) {
            $before = $view->plan->row('rangeLists', $key)['ranges'] ?? null;
            $after = array_map(strval(...), $sweep->withoutSilent());
            $why = new Message('{name}: silent addresses without a planned device removed, [n address|addresses] left.', [
                'name' => $list->name,
                'n' => \count($sweep->lines),
            ]);
            if ($before !== $after) {
                $this->changes->write($view->job, new Change($why, [
                    Edit::put('rangeLists', $key, 'ranges', $before, $after),
                ]), $this->pages->user());
            }
        }

        return $this->pages->back($request, "/j/$slug/networks/ranges");
    }

    #[Route('/j/{slug}/networks/ranges/{key}.csv', name: 'ranges_csv', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function csv(Request $request, string $slug, string $key): Response
    {
        $plan = $this->pages->open($slug)->plan;
        $list = RangeList::find($plan, $key) ?? throw new NotFoundHttpException('List not found.');
        $sweep = Sweep::latest($plan, $list);
        $rows = 'found' === $request->query->getString('what')
            ? array_map(static fn (SweepLine $line): array => $line->jsonSerialize(), $sweep->lines ?? [])
            : array_map(static fn (Range $range): array => [
                'first' => (string) $range->first,
                'last' => (string) $range->last,
                'addresses' => $range->count(),
            ], $list->ranges);

        return new Response(Spreadsheet::csv($rows), Response::HTTP_OK, [
            'Content-Type' => 'text/csv; charset=UTF-8',
            'Content-Disposition' => HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, "$slug-$key.csv"),
        ]);
    }

    /** Why nothing was asked at the last try, where the newest try is one that could not be made. */
    private static function refusal(JobView $view, RangeList $list): ?Message
    {
        $last = null;
        foreach ($view->plan->observations[$list->test()] ?? [] as $one) {
            $last = null === $last || $one->arrived > $last->arrived ? $one : $last;
        }

        return null !== $last && 'not-asked' === $last->outcome ? $last->detail : null;
    }

    /** @return array<string, Message> address → what the walk says of one that is missing, as far as it says anything */
    private static function because(JobView $view, RangeList $list, Sweep $sweep): array
    {
        $because = [];
        foreach (\array_slice($sweep->lines, 0, self::SHOWN) as $line) {
            if (null !== $line->expected && null !== $list->from && SweepVerdict::Missing === $line->verdict) {
                $from = OutpostKey::on($list->from);
                $broken = Walker::between($view->networkModel(Face::Set), $from, $line->expected->key, $list->port)->brokenHop();
                $why = DeviceState::Boxed === $view->stateOf($line->expected->key)
                    ? new Message('{tag} is not plugged in yet.', ['tag' => $line->expected->tag])
                    : $broken?->text;
                if (null !== $why) {
                    $because[(string) $line->address] = $why;
                }
            }
        }

        return $because;
    }
}
