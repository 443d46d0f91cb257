<?php

declare(strict_types=1);

namespace Vorhut\Web\Devices;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\KindVersion;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\ShelfKind;
use Vorhut\Exchange\KindShelf;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\Refused;
use Vorhut\Library\KindSource;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\JobView;

/** Kinds of devices: which this job uses, what it says differently, and what the company keeps for all its jobs. */
final readonly class KindsController
{
    private const CODE = '[a-z0-9][a-z0-9-]{0,59}';

    public function __construct(
        private JobPages $pages,
        private ChangeWriter $changes,
        private JournalClock $time,
        private KindSource $source,
        private KindShelf $shelf,
        private FormFeedback $feedback,
    ) {
    }

    #[Route('/j/{slug}/kinds', name: 'kinds', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $used = array_count_values(array_map(static fn ($device): string => $device->kind->code, $view->plan->devices));
        $own = $this->own($view);
        $kinds = $view->plan->catalogue->kinds();
        uasort($kinds, static fn (Kind $a, Kind $b): int => [
            !isset($own[$a->code]), -($used[$a->code] ?? 0), $a->name,
        ] <=> [!isset($own[$b->code]), -($used[$b->code] ?? 0), $b->name]);

        return $this->pages->show($view, 'devices', $request, [
            'kinds' => $kinds,
            'used' => $used,
            'own' => $own,
            'onShelf' => array_filter(
                $this->shelf->newest(),
                static fn (ShelfKind $one): bool => ($own[$one->code]['source'] ?? null) !== $one->source,
            ),
        ], 'devices/kinds.html.twig');
    }

    #[Route('/j/{slug}/kinds/new', name: 'kind_new', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function begin(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $this->pages->open($slug);
        $code = trim($request->request->getString('code'));
        $why = KindSource::whyNotACode($code);
        if (null !== $why) {
            $this->feedback->keep('kind:new', ['code' => $code], ['code' => $why]);

            return new RedirectResponse("/j/$slug/kinds", Response::HTTP_SEE_OTHER);
        }

        return new RedirectResponse("/j/$slug/kinds/$code", Response::HTTP_SEE_OTHER);
    }

    #[Route('/j/{slug}/kinds/{code}', name: 'kind', requirements: ['code' => self::CODE], methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function kind(Request $request, string $slug, string $code): Response
    {
        $view = $this->pages->open($slug);
        $typed = $this->feedback->of($request)['kind:'.$code]['typed'] ?? [];
        $text = \is_array($typed) && \is_string($typed['source'] ?? null) ? $typed['source'] : null;
        $shelf = $this->shelf->newest()[$code] ?? null;
        $version = null;
        try {
            if (null !== $text) {
                $version = $this->source->version($view->plan, $code, $text);
            } elseif (null !== $shelf && $request->query->getBoolean('shelf')) {
                $version = KindVersion::of($view->plan, $code, Catalogue::decode($shelf->source), $this->source->ships($code));
            }
        } catch (Malformed) {
            // Said where it was typed.
        }

        return $this->pages->show($view, 'devices', $request, [
            'code' => $code,
            'kind' => $view->plan->catalogue->kind($code),
            'text' => $text ?? $this->source->of($view->plan, $code),
            'row' => $this->own($view)[$code] ?? null,
            'ships' => null !== $this->source->ships($code),
            'version' => $version,
            'fromShelf' => null === $text && null !== $version ? $shelf : null,
            'onShelf' => $shelf,
            'fieldHelp' => $this->source->help(),
            'users' => array_filter($view->plan->devices, static fn ($device): bool => $device->kind->code === $code),
        ], 'devices/kind.html.twig');
    }

    #[Route('/j/{slug}/kinds/{code}', name: 'kind_write', requirements: ['code' => self::CODE], methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function write(Request $request, string $slug, string $code): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $do = $request->request->getString('do');
        $to = "/j/$slug/kinds/$code";
        $text = $request->request->getString('source');
        try {
            if ('drop' === $do) {
                $this->drop($view, $code);

                return $this->pages->back($request, "/j/$slug/kinds");
            }
            if ('put' === $do) {
                $this->put($view, $code);

                return $this->pages->back($request, $to);
            }
            [$version, $from] = 'shelf' === $do
                ? $this->fromShelf($view, $code, $request->request->getInt('version'))
                : [$this->source->version($view->plan, $code, $text), ''];
            if ([] !== $version->wrong) {
                $this->feedback->keep('kind:'.$code, ['source' => $text], ['source' => $version->wrong]);
            } elseif ('look' === $do || !$version->isNew()) {
                $this->feedback->keep('kind:'.$code, ['source' => $text], []);
            } else {
                $this->changes->write($view->job, $version->change($from), $this->pages->user());
                $this->feedback->tell(new Message('Version {n} is in use for [all device|devices].', [
                    'n' => $version->number,
                    'all' => $version->users,
                ]));
            }
        } catch (Malformed $e) {
            $this->feedback->keep('kind:'.$code, ['source' => $text], ['source' => [$e->message()]]);
        } catch (Conflict|Refused $e) {
            $this->feedback->keep('kind:'.$code, ['source' => $text], ['source' => [$e->message()]]);
        }

        return $this->pages->back($request, $to);
    }

    /** @return array<string, array<string, mixed>> code → the row */
    private function own(JobView $view): array
    {
        $own = [];
        foreach ($view->plan->rows('ownKinds') as $row) {
            $own[Row::keyOf($row)] = $row;
        }

        return $own;
    }

    /**
     * @return array{KindVersion, string} and where it is from
     *
     * @throws Malformed
     */
    private function fromShelf(JobView $view, string $code, int $number): array
    {
        $shelf = $this->shelf->version($code, $number)
            ?? throw Malformed::because('The company library has no version {n} of {code}.', ['n' => $number, 'code' => $code]);

        return [
            KindVersion::of($view->plan, $code, Catalogue::decode($shelf->source), $this->source->ships($code)),
            'shelf, version '.$shelf->version,
        ];
    }

    /** The job's own one goes; where one ships under that code, the devices have that one again. */
    private function drop(JobView $view, string $code): void
    {
        $row = $view->plan->row('ownKinds', $code);
        if (null === $row) {
            return;
        }
        $this->changes->write(
            $view->job,
            new Change(new Message('Kind {code} was removed from this job.', ['code' => $code]), [
                Edit::remove('ownKinds', $row),
            ]),
            $this->pages->user(),
        );
    }

    private function put(JobView $view, string $code): void
    {
        $row = $view->plan->row('ownKinds', $code);
        if (null !== $row) {
            $shelf = $this->shelf->put($code, (new Row($row))->text('source'), $this->pages->user()->name, $this->time->now());
            $this->feedback->tell(new Message('On the shelf as version {n}: other jobs can take it.', ['n' => $shelf->version]));
        }
    }
}
