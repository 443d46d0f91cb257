<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Symfony\Contracts\Translation\TranslatorInterface;
use Vorhut\Application\PasteTable;
use Vorhut\Core\Analysis\Board;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Document\NumbersPaste;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Adoption;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\FileShape;
use Vorhut\Core\Voice\Numbers;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Entity\WorkOrder;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\History;
use Vorhut\Journal\Refused;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Provisioning\FileServer;
use Vorhut\Provisioning\Freshness;
use Vorhut\Secrets\FileCertificates;
use Vorhut\Secrets\Vault;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\JobView;
use Vorhut\Web\Frame\ProgressResponse;
use Vorhut\Web\Frame\Window;

/** Numbers, registrar entries, the provisioning board, and who rings. */
final readonly class ServicesController
{
    /** How each relation is read, between the two hands. */
    private const RELATIONS = [
        'equal' => 'is the same as',
        'member-of' => 'is one of',
        'at-most' => 'is at most',
        'at-least' => 'is at least',
        'different' => 'is another than',
        'complementary' => 'goes with',
        'same-segment' => 'is on one segment with',
        'different-segment' => 'is on another segment than',
        'distinct' => 'is another than',
    ];

    /** So many bytes of a table are read at once. */
    private const LARGEST = 1_000_000;

    public function __construct(
        private JobPages $pages,
        private ChangeWriter $changes,
        private History $history,
        private Vault $vault,
        private FormFeedback $feedback,
        private FileServer $files,
        private TranslatorInterface $translator,
        private ProgressResponse $long,
        private FileCertificates $certificates,
        private Freshness $freshness,
        private Orders $orders,
        private string $filesListen,
        private PasteTable $pasteTable,
    ) {
    }

    #[Route('/j/{slug}/services', name: 'services', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $from = $view->plan->extensionNumbered($request->query->getString('from'));
        $digits = preg_replace('/[^0-9*#]/', '', $request->query->getString('digits')) ?? '';

        $selected = $request->query->getString('sel');
        $plan = $view->plan;

        return $this->pages->show($view, 'services', $request, [
            'agreed' => $view->agreementBoard(),
            'relations' => self::RELATIONS,
            'window' => Window::fromRequest(
                $request,
                $plan->extensions,
                static fn (Extension $one): array => [
                    $one->number,
                    $one->name,
                    $one->location,
                    implode(' ', array_map(static fn (string $key): string => $plan->devices[$key]->tag ?? '', $plan->ringing($one))),
                ],
                str_starts_with($selected, 'extensions/') ? substr($selected, 11) : null,
                Window::SIZE,
                [
                    'number' => static fn (Extension $one): string => $one->number,
                    'name' => static fn (Extension $one): string => $one->name,
                    'phone' => static fn (Extension $one): string => $plan->devices[$one->phone ?? '']->tag ?? '',
                    'account' => static fn (Extension $one): string => $plan->accountOf($one->key)->user ?? '',
                    'mac' => static fn (Extension $one): string => (string) $plan->accountOf($one->key)?->macEntered,
                    'voicemail' => static fn (Extension $one): int => $one->voicemail ? 1 : 0,
                    'place' => static fn (Extension $one): string => $one->location,
                ],
            ),
            'keep' => [],
            'path' => "/j/$slug/services",
            'board' => $view->board(),
            'adoptions' => $this->adoptions($view),
            'files' => $this->freshness->of($view->job, $plan, $view->board()),
            'refetched' => $this->orders->latest($view->job, WorkOrder::REFETCH),
            'refetching' => \count(array_filter(
                $this->orders->open($view->job),
                static fn (WorkOrder $one): bool => WorkOrder::REFETCH === $one->kind,
            )),
            'certificate' => $this->certificates->of($view->job),
            'now' => time(),
            'door' => (int) substr((string) strrchr($this->filesListen, ':'), 1),
            'dial' => null === $from || '' === $digits ? null : Dial::of($view->networkModel(Face::Set), $from, $digits),
            'asked' => ['from' => $request->query->getString('from'), 'digits' => $digits],
            'pbxes' => array_filter($view->plan->devices, static fn ($device): bool => $device->kind->has(Role::Registrar)),
        ]);
    }

    /** @return array<string, array<string, Device|Kind>> MAC of a stranger → what it may be */
    private function adoptions(JobView $view): array
    {
        $choices = [];
        // More than can be reviewed: a client with a thousand MACs is not a phone.
        foreach (\array_slice($view->board()->strangers, 0, 40) as $one) {
            $choices[$one->text('mac')] = Adoption::choices($view->plan, $one->text('agent'));
        }

        return $choices;
    }

    #[Route('/j/{slug}/services/bulk', name: 'bulk', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function bulk(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        try {
            $pbx = $view->plan->devices[$form->getString('pbx')]
                ?? throw new Malformed('Choose the PBX first; without one there is nowhere to register.');
            $change = Numbers::bulk($view->plan, trim($form->getString('start')), $pbx->key, $form->getBoolean('voicemail'));
            $this->changes->write($view->job, $change, $this->pages->user());
            $this->vault->fill($view->job, $this->pages->open($slug)->plan, $this->pages->user());
            $this->feedback->tell($change->why);
        } catch (Malformed|Conflict $e) {
            $this->feedback->keep('bulk', $form->all(), ['start' => $e->message()]);
        }

        return new RedirectResponse("/j/$slug/services", Response::HTTP_SEE_OTHER);
    }

    #[Route('/j/{slug}/services/terminal', name: 'terminal', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function terminal(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        $typed = ['number' => trim($form->getString('number')), 'device' => trim($form->getString('device'))];
        $number = $view->plan->extensionNumbered($typed['number']);
        $device = $view->plan->deviceTagged($typed['device']);
        $errors = array_filter([
            'number' => null === $number ? new Message('This job has no number {number}.', $typed) : null,
            'device' => match (true) {
                null === $device => new Message('The roster has no device "{device}".', $typed),
                null !== $number && \in_array($device->key, $view->plan->ringing($number), true) => new Message(
                    '{device} rings for {number} already.',
                    $typed,
                ),
                default => null,
            },
        ]);
        if ([] === $errors && null !== $number && null !== $device) {
            $change = new Change(new Message('{device} rings for {number} too.', ['device' => $device->tag, 'number' => $number->number]), [
                Edit::add('terminals', Numbers::terminal($view->plan, $number->key, $device->key)),
            ]);
            try {
                $this->changes->write($view->job, $change, $this->pages->user());
                $this->feedback->tell($change->why);
            } catch (Conflict|Refused $e) {
                $errors = ['device' => $e->message()];
            }
        }
        if ([] !== $errors) {
            $this->feedback->keep('terminal', $typed, $errors);
        }

        return new RedirectResponse("/j/$slug/services#terminals", Response::HTTP_SEE_OTHER);
    }

    /** Every row's fate first; nothing is written before the same text comes back with "take it". */
    #[Route('/j/{slug}/services/numbers', name: 'numbers_paste', methods: ['POST'])]
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
        $pbx = $view->plan->devices[$request->request->getString('pbx')] ?? null;
        $back = new RedirectResponse("/j/$slug/services#numbers", Response::HTTP_SEE_OTHER);
        if (\strlen($text) > self::LARGEST || '' === trim($text)) {
            $this->feedback->keep('numbers', '' === trim($text) ? ['table' => $text] : [], ['table' => '' === trim($text)
                ? new Message('Paste some rows first.')
                : new Message('That is more than {n} kB: paste it in parts. Nothing was taken.', ['n' => intdiv(self::LARGEST, 1000)])]);

            return $back;
        }
        $read = static fn (int $n, int $all) => $tell(new Message('{n} of [all row|rows] read', ['n' => $n, 'all' => $all]), $n, $all);
        $typed = ['table' => $text, 'pbx' => $pbx->key ?? ''];
        try {
            $paste = NumbersPaste::of($view->plan, $text, $pbx->key ?? '', $read);
        } catch (Malformed $e) {
            $this->feedback->keep('numbers', $typed, ['table' => $e->message()]);

            return $back;
        }
        if ('take' === $request->request->getString('do') && !$paste->change()->isEmpty()) {
            try {
                $tell(new Message('[n value is|values are] written', ['n' => \count($paste->change()->edits)]), 0, 0);
                $text = $this->pasteTable->store($view->job, $paste, $this->pages->user());
                $this->feedback->tell($paste->change()->why);
                $typed['table'] = $text;
                $paste = NumbersPaste::of($this->pages->open($slug)->plan, $text, $pbx->key ?? '');
            } catch (Conflict|Refused $e) {
                $this->feedback->keep('numbers', $typed, ['table' => $e->message()], ['rows' => $paste->rows]);

                return $back;
            }
        }
        if ('' !== trim($text)) {
            $this->feedback->keep('numbers', $typed, [], ['rows' => $paste->rows]);
        }

        return $back;
    }

    /** The file as it would be served now, its secrets blotted out. */
    #[Route('/j/{slug}/services/file/{device}', name: 'file_preview', methods: ['GET'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function file(string $slug, string $device): Response
    {
        $view = $this->pages->open($slug);
        $one = $view->plan->devices[$device] ?? null;
        $served = null === $one ? null : $this->files->file($view->job, $view->plan, $one);

        $reason = null === $served ? new Message('Device not found.') : ($served->reason ?? new Message('It has no file.'));
        $text = 200 === $served?->status
            ? FileShape::mask($served->body)
            : $reason->render($this->translator->trans(...), $this->translator->getLocale());

        return new Response(
            $text.$this->sinceItWasTaken($view, $one).(200 === $served?->status ? $this->values($view, $one) : ''),
            200,
            ['Content-Type' => 'text/plain; charset=UTF-8'],
        );
    }

    /** The values for the template of its kind, by their names there; without secrets. */
    private function values(JobView $view, ?Device $device): string
    {
        if (null === $device) {
            return '';
        }
        $text = "\n".$this->translator->trans('What its template is given:')."\n";
        foreach (ProvisioningFile::of($view->plan, $device, '······', '······')->values as $name => $value) {
            $text .= \sprintf("  %-18s %s\n", $name, $value);
        }

        return $text;
    }

    /** What the file says by now that it did not say when the phone last took it. */
    private function sinceItWasTaken(JobView $view, ?Device $device): string
    {
        $fetch = null === $device ? null : $view->board()->fetchOf($device->key);
        if (null === $device || null === $fetch) {
            return '';
        }
        $at = ['at' => $fetch->text('at')];
        $then = $this->history->planAt($view->job, $view->plan, $fetch->text('at'));
        $lines = null === $then
            ? [new Message('Very much was changed since it was taken, at {at}: let it be taken anew.', $at)]
            : ProvisioningFile::changedSince($then, $view->plan, $device);
        $said = array_map(fn (Message $one): string => $one->render($this->translator->trans(...), $this->translator->getLocale()), [
            [] === $lines
                ? new Message('It was taken at {at}, and says the same since.', $at)
                : new Message('It was taken at {at}. Since then:', $at),
            ...$lines,
        ]);

        return "\n\n".implode("\n  ", $said)."\n";
    }
}
