<?php

declare(strict_types=1);

namespace Vorhut\Web\Devices;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Application\AddDevices;
use Vorhut\Application\FieldErrors;
use Vorhut\Application\PasteTable;
use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Document\RosterBulk;
use Vorhut\Core\Document\RosterColumns;
use Vorhut\Core\Document\RosterPaste;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Exchange\LabelFormat;
use Vorhut\Exchange\LabelSheet;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\JobView;
use Vorhut\Web\Frame\ProgressResponse;
use Vorhut\Web\Frame\Window;

/** The roster, pasted and edited in place, and the addresses given to it. */
final readonly class DevicesController
{
    private const LARGEST = 1_500_000;
    /** Rows of a preview, of the good and of the refused. */
    private const LOOKED_AT = 100;
    /** Headings whose meaning is remembered. */
    private const REMEMBERED = 200;

    public function __construct(
        private JobPages $pages,
        private ChangeWriter $changes,
        private FormFeedback $feedback,
        private string $baseUrl,
        private EntityManagerInterface $manager,
        private ProgressResponse $long,
        private PasteTable $pasteTable,
        private AddDevices $addDevices,
    ) {
    }

    #[Route('/j/{slug}/devices', name: 'devices', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);

        $columns = $view->columns();
        $shown = array_values(array_filter(
            $request->query->all('cols'),
            static fn (mixed $name): bool => \is_string($name) && isset($columns[$name]),
        ));

        $selected = $request->query->getString('sel');

        return $this->pages->show($view, 'devices', $request, [
            'window' => Window::fromRequest(
                $request,
                $view->plan->devices,
                self::texts(...),
                str_starts_with($selected, 'devices/') ? substr($selected, 8) : null,
                Window::SIZE,
                self::orders($view, $shown),
            ),
            'keep' => ['cols' => $shown],
            'path' => "/j/$slug/devices",
            'sheets' => LabelFormat::cases(),
            'columns' => $columns,
            'shown' => $shown,
            'words' => $view->plan->catalogue->words(),
            'meanings' => self::meanings($view->plan),
            'allocation' => Allocation::of($view->plan, $request->query->getBoolean('afresh')),
            'allocating' => $request->query->has('allocate'),
        ]);
    }

    /** @return list<string> by what a device is looked for in the roster */
    private static function texts(Device $device): array
    {
        $texts = [$device->tag, $device->room, $device->kind->name, $device->serial];
        foreach ($device->nics as $nic) {
            $texts = [...$texts, (string) $nic->mac, (string) $nic->setting('address')->planned, (string) $nic->setting('address')->set];
        }

        return $texts;
    }

    /**
     * @param list<string> $shown names of settings that have a column
     *
     * @return array<string, \Closure(Device): (int|string)> by what the roster can be put in order
     */
    private static function orders(JobView $view, array $shown): array
    {
        $segments = $view->plan->segments;
        $orders = [
            'tag' => static fn (Device $device): string => $device->tag,
            'state' => static fn (Device $device): string => $view->stateOf($device->key)->value,
            'address' => static fn (Device $device): int|string => Ipv4::tryFromString(
                $device->nic()?->setting('address')->planned ?? '',
            )->number ?? '',
            'mac' => static fn (Device $device): string => (string) $device->nic()?->mac,
            'segment' => static fn (Device $device): string => $segments[$device->nic()->segment ?? '']->name ?? '',
            'room' => static fn (Device $device): string => $device->room,
            'kind' => static fn (Device $device): string => $device->kind->name,
        ];
        foreach ($shown as $name) {
            $orders[$name] = static fn (Device $device): string => (string) $view->slot($device, $name)?->value->planned;
        }

        return $orders;
    }

    /** The next device often is of the same kind, room and segment: the form keeps them. */
    #[Route('/j/{slug}/devices/add', name: 'device_add', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function add(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $typed = ['kind' => '', 'tag' => '', 'room' => '', 'segment' => '', 'label' => '', 'count' => ''];
        foreach ($typed as $field => $empty) {
            $typed[$field] = trim($request->request->getString($field));
        }
        try {
            $new = $this->addDevices->add($view->job, $view->plan, $typed, $this->pages->user());
            $this->feedback->keep('device', ['tag' => '', 'label' => '', 'count' => ''] + $typed, ['' => $new->change->why]);
        } catch (FieldErrors $e) {
            $this->feedback->keep('device', $typed, $e->errors);
        } catch (Conflict|Refused $e) {
            $this->feedback->keep('device', $typed, ['tag' => $e->message()]);
        }

        return new RedirectResponse("/j/$slug/devices#add", Response::HTTP_SEE_OTHER);
    }

    /** Every row's fate first; nothing is written before the same text comes back with "take it". */
    #[Route('/j/{slug}/devices/paste', name: 'paste', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function paste(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);

        return $this->long->of($request, fn (\Closure $tell): RedirectResponse => $this->runPaste($request, $slug, $tell));
    }

    /** @param \Closure(Message, int, int): void $tell */
    private function runPaste(Request $request, string $slug, \Closure $tell): RedirectResponse
    {
        $view = $this->pages->open($slug);
        $text = $request->request->getString('table');
        if (\strlen($text) > self::LARGEST) {
            // Nothing is dropped without notice, and a text of this length is not kept in a session either.
            $this->feedback->keep('paste', [], ['table' => new Message(
                'That is more than {n} kB: paste it in parts, or import a file. Nothing was taken.',
                ['n' => intdiv(self::LARGEST, 1000)],
            )]);

            return new RedirectResponse("/j/$slug/devices#paste", Response::HTTP_SEE_OTHER);
        }
        $means = [];
        foreach ($request->request->all('means') as $heading => $meaning) {
            if (\is_string($meaning) && '' !== $meaning) {
                // A heading may hold brackets, which mean something in the name of a field.
                $means[rawurldecode((string) $heading)] = $meaning;
            }
        }
        $means = $this->rememberHeadings($means);
        $read = static fn (int $n, int $all) => $tell(new Message('{n} of [all row|rows] read', ['n' => $n, 'all' => $all]), $n, $all);
        $typed = ['table' => $text, 'means' => $means];
        $back = new RedirectResponse("/j/$slug/devices#paste", Response::HTTP_SEE_OTHER);
        try {
            $paste = RosterPaste::of($view->plan, $text, $means, $read);
        } catch (Malformed $e) {
            $this->feedback->keep('paste', $typed, ['table' => $e->message()]);

            return $back;
        }
        if ('take' === $request->request->getString('do') && !$paste->change()->isEmpty()) {
            try {
                $good = \count($paste->change()->edits);
                $tell(new Message('[n value is|values are] written', ['n' => $good]), 0, 0);
                // What could not be taken stays in the box, to be corrected.
                $left = $this->pasteTable->store($view->job, $paste, $this->pages->user());
                if ('' === $left) {
                    $this->feedback->tell($paste->change()->why);

                    return new RedirectResponse("/j/$slug/devices", Response::HTTP_SEE_OTHER);
                }
                $rest = RosterPaste::of($this->pages->open($slug)->plan, $left, $means);
                $this->feedback->keep('paste', ['table' => $left] + $typed, [], self::preview($rest));

                return $back;
            } catch (Conflict|Refused $e) {
                $this->feedback->keep('paste', $typed, ['table' => $e->message()], self::preview($paste));

                return $back;
            }
        }
        $errors = match (true) {
            '' === trim($text) => ['table' => new Message('Paste some rows first.')],
            [] !== $paste->unknown => [
                'table' => new Message(
                    'Choose a meaning for these columns, or leave them out: {columns}.',
                    ['columns' => implode(', ', $paste->unknown)],
                ),
            ],
            default => [],
        };
        $this->feedback->keep('paste', $typed, $errors, self::preview($paste));

        return $back;
    }

    /** @return array<string, mixed> a preview: a long paste is neither shown nor kept whole */
    private static function preview(RosterPaste $paste): array
    {
        $rows = $paste->worthALook(self::LOOKED_AT);

        return [
            'rows' => $rows,
            'good' => $paste->good(),
            'all' => \count($paste->rows),
            'refused' => $paste->refused(),
            'changed' => $paste->changed,
            'unknown' => $paste->unknown,
        ];
    }

    /**
     * A meaning chosen for a heading is remembered until another one is chosen.
     *
     * @param array<string, string> $said
     *
     * @return array<string, string>
     */
    private function rememberHeadings(array $said): array
    {
        $user = $this->pages->user();
        $known = array_filter($said, static fn (string $heading): bool => mb_strlen($heading) <= 120, \ARRAY_FILTER_USE_KEY)
            + ($user->pastedColumns ?? []);
        if ($known !== ($user->pastedColumns ?? [])) {
            $user->pastedColumns = \array_slice($known, 0, self::REMEMBERED, true);
            $this->manager->flush();
        }

        return $said + $known;
    }

    /** @return array<string, string> what an unknown column may be said to hold → how that is called */
    private static function meanings(Plan $plan): array
    {
        $all = RosterColumns::of($plan)->all();

        return ['-' => '–'] + array_combine($all, $all);
    }

    /** One value for all that the filter shows: looked at first, then taken as one change. */
    #[Route('/j/{slug}/devices/many', name: 'many', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function many(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        $typed = ['field' => $form->getString('field'), 'value' => $form->getString('value')];
        $back = $this->pages->back($request, "/j/$slug/devices");
        try {
            $many = RosterBulk::of(
                $view->plan,
                array_filter(
                    $view->plan->devices,
                    static fn (Device $one): bool => Window::holds(self::texts($one), $form->getString('q')),
                ),
                $typed['field'],
                $typed['value'],
            );
            if ('take' === $form->getString('do') && [] !== $many->changes) {
                $this->changes->write($view->job, $many->change(), $this->pages->user());
                $this->feedback->tell($many->change()->why);

                return $back;
            }
            $errors = [] === $many->changes ? ['value' => new Message('All of them have it, or none of them can.')] : [];
            $this->feedback->keep('many', $typed, $errors, [
                'changes' => \array_slice($many->changes, 0, 20),
                'count' => \count($many->changes),
            ]);
        } catch (Malformed|Conflict|Refused $e) {
            $this->feedback->keep('many', $typed, ['value' => $e->message()]);
        }

        return $back;
    }

    /** Labels of the devices that are named, or of all, on a sheet or strip. */
    #[Route('/j/{slug}/devices/labels.pdf', name: 'labels', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function labels(Request $request, string $slug): Response
    {
        $plan = $this->pages->open($slug)->plan;
        $tags = array_values(array_filter($request->query->all('of'), is_string(...)));
        $format = LabelFormat::tryFrom($request->query->getString('sheet')) ?? LabelFormat::Sheet24;
        $pdf = LabelSheet::pdf($plan, $format, $this->baseUrl."/j/$slug/bench?sel=devices/", $tags);

        return new Response($pdf, Response::HTTP_OK, [
            'Content-Type' => 'application/pdf',
            'Content-Disposition' => HeaderUtils::makeDisposition('inline', $slug.'-labels.pdf'),
        ]);
    }

    #[Route('/j/{slug}/devices/allocate', name: 'allocate', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function allocate(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $change = Allocation::of($view->plan, $request->request->getBoolean('afresh'))->change();
        $this->changes->write($view->job, $change, $this->pages->user());
        $this->feedback->tell($change->why);

        return new RedirectResponse("/j/$slug/devices", Response::HTTP_SEE_OTHER);
    }
}
