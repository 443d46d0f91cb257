<?php

declare(strict_types=1);

namespace Vorhut\Web\Bench;

use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\InputBag;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Application\MarkStep;
use Vorhut\Core\Bench\Keypad;
use Vorhut\Core\Bench\KeypadProfile;
use Vorhut\Core\Bench\MarkRefused;
use Vorhut\Core\Bench\NextForMe;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Bench\Stop;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Catalogue\Way;
use Vorhut\Core\Consistency\Agreed;
use Vorhut\Core\Consistency\Subject;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\DeviceLogin;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Exchange\Photos;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\Refused;
use Vorhut\Secrets\Vault;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\JobView;
use Vorhut\Web\Frame\Window;

/** The queue of stops and the run sheet of the device in hand. */
final readonly class BenchController
{
    private const SECRET_SECONDS = 90;

    /** Characters: longer texts are not typed on twelve keys. */
    private const LONGEST_TYPED = 60;

    public function __construct(
        private JobPages $pages,
        private ChangeWriter $changes,
        private JournalClock $time,
        private MarkStep $markStep,
        private Vault $vault,
        private FormFeedback $feedback,
        private ClockInterface $clock,
        private string $baseUrl,
        private Photos $photos,
    ) {
    }

    #[Route('/j/{slug}/bench', name: 'bench', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $device = $this->inHand($view, $request->query->getString('sel'));
        $stop = null === $device
            ? $view->queue()->currentFor($view->plan, $this->pages->user()->name)
            : $view->queue()->stopOf($device->key);
        $next = null === $stop
            ? null
            : NextForMe::of($view->plan, $stop, $this->pages->user()->name, $this->clock->now()->getTimestamp());

        return $this->pages->show($view, 'bench', $request, [
            'queue' => $view->queue(),
            'stop' => $stop,
            'window' => null === $stop ? null : self::window($request, $stop, $device ?? $next?->device),
            'shares' => self::shares($view),
            'pairs' => null === $device ? [] : self::pairs($view, $device),
            'device' => $device,
            'sheet' => null === $device ? null : RunSheet::of($view->plan, $device),
            'photos' => null === $device ? [] : $this->photos->of($view->job, $device->key),
            'keypads' => null === $device ? [] : $this->keypads($view, $device),
            'served' => [
                'url' => $this->url($view),
                'url-short' => $this->shortUrl($view),
                'authority-url' => $this->authorityUrl($view),
            ],
            'next' => $next,
            'secrets' => null === $device ? [] : $this->disclosedSecret($request, $view, $device->record()),
            'logins' => null === $device ? [] : DeviceLogin::of($view->plan, $device),
            'kept' => null === $device ? [] : $this->vault->purposesOf($view->job, $device->record()),
        ]);
    }

    /** @return Window<Device> the devices of a stop, around the one in hand */
    private static function window(Request $request, Stop $stop, ?Device $inHand): Window
    {
        $devices = [];
        foreach ($stop->devices() as $one) {
            $devices[$one->key] = $one;
        }
        $texts = static fn (Device $one): array => [$one->tag, $one->room, (string) $one->nic()?->mac];

        return Window::fromRequest($request, $devices, $texts, $inHand?->key);
    }

    #[Route('/j/{slug}/bench/mark', name: 'mark', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function mark(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        [$device, $step] = self::step($view->plan, $form);
        if ('up-to' === $form->getString('state')) {
            $this->markUpTo($view, $device, $step);

            return $this->pages->back($request, "/j/$slug/bench?sel=devices/".$device->key);
        }
        $mark = new StepMark(
            MarkState::tryFrom($form->getString('state')) ?? throw new BadRequestHttpException('Unknown state.'),
            self::note($device, $form),
            self::texts($form, 'typed_', $step->records),
            self::texts($form, 'read_', $step->reads),
            $form->getString('way'),
        );
        try {
            $this->markStep->mark($view->job, $view->plan, $device, $step, $mark, $this->pages->user());
        } catch (MarkRefused $e) {
            $this->feedback->keep('mark:'.$device->key.'.'.$step->code, $form->all(), $e->errors);
        } catch (Conflict|Refused $e) {
            $this->feedback->keep('mark:'.$device->key.'.'.$step->code, $form->all(), ['note' => $e->message()]);
        }

        return $this->pages->back($request, "/j/$slug/bench?sel=devices/".$device->key);
    }

    /** Marks all open steps up to one; where it ends early, the step shows why. */
    private function markUpTo(JobView $view, Device $device, Step $step): void
    {
        try {
            $ended = $this->markStep->markUpTo($view->job, $view->plan, $device, $step, $this->pages->user());
            if (null !== $ended) {
                $this->feedback->keep('mark:'.$device->key.'.'.$ended->step->code, [], $ended->errors);
            }
        } catch (Conflict|Refused $e) {
            $this->feedback->keep('mark:'.$device->key.'.'.$step->code, [], ['note' => $e->message()]);
        }
    }

    /**
     * @param InputBag<string> $form
     *
     * @return array{Device, Step} those that a form of the run sheet is about
     */
    private static function step(Plan $plan, InputBag $form): array
    {
        $device = $plan->devices[$form->getString('device')] ?? throw new NotFoundHttpException('Device not found.');

        return [$device, $device->kind->step($form->getString('step')) ?? throw new NotFoundHttpException('Step not found.')];
    }

    /**
     * @param InputBag<string> $form
     * @param list<string>     $names
     *
     * @return array<string, string> name on the sheet → as typed
     */
    private static function texts(InputBag $form, string $prefix, array $names): array
    {
        $texts = [];
        foreach ($names as $name) {
            $texts[$name] = $form->getString($prefix.str_replace('.', '_', $name));
        }

        return $texts;
    }

    /** A value without an admin page is checked by looking: only ticked ones were looked at. */
    #[Route('/j/{slug}/bench/looked', name: 'looked', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function confirmValues(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $device = $view->plan->devices[$request->request->getString('device')]
            ?? throw new NotFoundHttpException('Device not found.');
        $locals = array_values(array_filter($request->request->all('local'), is_string(...)));
        $change = RunSheet::of($view->plan, $device)->changes()->confirmValues($locals);
        try {
            if ($change->isEmpty()) {
                $this->feedback->tell(new Message('Tick what you looked at.'));
            } else {
                $this->changes->write($view->job, $change, $this->pages->user());
            }
        } catch (Conflict|Refused $e) {
            $this->feedback->tell($e->message());
        }

        return $this->pages->back($request, "/j/$slug/bench?sel=devices/".$device->key);
    }

    /**
     * Items ticked as missing from the kit list precede the typed note.
     *
     * @param InputBag<string> $form
     */
    private static function note(Device $device, InputBag $form): string
    {
        $missing = array_intersect($device->kind->kit, array_filter($form->all('missing'), is_string(...)));

        return trim(([] === $missing ? '' : 'Missing: '.implode(', ', $missing).'. ').trim($form->getString('note')));
    }

    /** A wait runs on the server: both technicians see it, and it survives a reload and another device in hand. */
    #[Route('/j/{slug}/bench/wait', name: 'wait', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function wait(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        [$device, $step] = self::step($view->plan, $form);
        $sheet = RunSheet::of($view->plan, $device);
        $by = $this->pages->user();
        $change = 'end' === $form->getString('do')
            ? $sheet->changes()->stopWait($step)
            : $sheet->changes()->beginWait($step, $by->name, $this->time->now());
        try {
            if (!$change->isEmpty()) {
                $this->changes->write($view->job, $change, $by);
            }
        } catch (Conflict|Refused) {
            // Another technician was faster: the present strip is just as good.
        }

        return $this->pages->back($request, "/j/$slug/bench?sel=devices/".$device->key);
    }

    /** A password printed on the label of this device. */
    #[Route('/j/{slug}/bench/label', name: 'label_secret', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function label(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $device = $view->plan->devices[$request->request->getString('device')]
            ?? throw new NotFoundHttpException('Device not found.');
        $secret = trim($request->request->getString('secret'));
        if ('' === $secret || mb_strlen($secret) > 120) {
            $this->feedback->keep('label:'.$device->key, [], [
                'secret' => new Message('Type the password as it is printed, at most [n character|characters].', ['n' => 120]),
            ]);
        } else {
            $this->vault->keep(
                $view->job,
                $view->plan,
                $device->record(),
                'label',
                $device->loginUser(),
                $secret,
                $this->pages->user(),
            );
        }

        return $this->pages->back($request, "/j/$slug/devices?sel=devices/".$device->key);
    }

    /** A secret, shown on demand and every showing entered in the journal. */
    #[Route('/j/{slug}/bench/secret', name: 'secret', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function secret(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $owner = $request->request->getString('owner');
        $purpose = $request->request->getString('purpose', 'admin');
        $this->vault->fill($view->job, $view->plan, $this->pages->user());
        $plan = $this->pages->open($slug)->plan;
        $secret = $this->vault->secretOf($view->job, $owner, $purpose);
        if (null !== $secret) {
            $why = new Message('Secret shown: {purpose} of {owner}.', ['purpose' => $purpose, 'owner' => $owner]);
            $this->vault->recordDisclosure($view->job, $plan, $owner, $purpose, $why, $this->pages->user());
            $this->feedback->keep('secret:'.$owner, ['purpose' => $purpose], [], [], self::SECRET_SECONDS);
        }

        return $this->pages->back($request, "/j/$slug/bench");
    }

    /**
     * The secret that was asked for a moment ago from this very page; only the asking is kept, never the secret.
     *
     * @return array<string, string> by its purpose
     */
    private function disclosedSecret(Request $request, JobView $view, string $owner): array
    {
        $purpose = ((array) ($this->feedback->of($request)['secret:'.$owner]['typed'] ?? []))['purpose'] ?? null;
        $secret = \is_string($purpose) ? $this->vault->secretOf($view->job, $owner, $purpose) : null;

        return null === $secret ? [] : [$purpose => $secret];
    }

    /**
     * Must-match rules for a value, at the step where it is typed.
     *
     * @return array<string, list<array{agreed: Agreed, others: list<Subject>}>> step, colon, name of the value → agreements
     */
    private static function pairs(JobView $view, Device $device): array
    {
        $sheet = RunSheet::of($view->plan, $device);
        $about = $view->agreementsOf($device);
        $pairs = [];
        foreach ($device->steps as $step) {
            $names = array_values(array_unique([...$step->records, ...array_merge(...array_map(
                static fn (Way $way): array => $way->copies,
                $step->ways,
            ))]));
            foreach ($sheet->slots($names) as $name => $slot) {
                foreach ($about as $agreed) {
                    $mine = array_filter(
                        $agreed->subjects,
                        static fn (Subject $one): bool => null !== $one->ref && (string) $one->ref === (string) $slot->ref,
                    );
                    if ([] !== $mine) {
                        $pairs[$step->code.':'.$name][] = [
                            'agreed' => $agreed,
                            'others' => array_values(array_diff_key($agreed->subjects, $mine)),
                        ];
                    }
                }
            }
        }

        return $pairs;
    }

    /** @return array<int, array{done: int, all: int, begun: bool}> number of the stop → how many of its devices are done */
    private static function shares(JobView $view): array
    {
        $shares = [];
        foreach ($view->queue()->stops as $stop) {
            $done = 0;
            $begun = false;
            foreach ($stop->devices() as $device) {
                $begun = $begun || [] !== $view->plan->marksOf($device->key);
                $done += RunSheet::of($view->plan, $device)->isDone() ? 1 : 0;
            }
            $shares[$stop->number] = ['done' => $done, 'all' => \count($stop->devices()), 'begun' => $begun];
        }

        return $shares;
    }

    private function inHand(JobView $view, string $selected): ?Device
    {
        [$section, $key] = explode('/', $selected, 2) + [1 => ''];
        $device = 'devices' === $section ? $view->plan->devices[$key] ?? null : null;
        if (null !== $device) {
            return $device;
        }
        foreach ($view->queue()->currentFor($view->plan, $this->pages->user()->name)?->devices() ?? [] as $one) {
            if (!RunSheet::of($view->plan, $one)->isDone()) {
                return $one;
            }
        }

        return null;
    }

    /** @return array<string, array<string, Keypad>> step and way → value name → keys to press */
    private function keypads(JobView $view, Device $device): array
    {
        $profile = KeypadProfile::find($device->kind->keypad ?? '');
        $sheets = [];
        $sheet = RunSheet::of($view->plan, $device);
        if (null !== $profile) {
            foreach ($device->steps as $step) {
                foreach ($step->ways as $way) {
                    foreach ($sheet->values($step, $way) as $value) {
                        $text = match (true) {
                            !$value->isServedHere => $value->text,
                            'url' === $value->name => $this->shortUrl($view),
                            default => null,
                        };
                        try {
                            if (null !== $text && '' !== $text && \strlen($text) <= self::LONGEST_TYPED) {
                                $sheets[$step->code.':'.$way->code][$value->name] = Keypad::shortest($text, $profile);
                            }
                        } catch (Malformed) {
                            continue;
                        }
                    }
                }
            }
        }

        return $sheets;
    }

    /** The path that is made for a keypad. */
    private function shortUrl(JobView $view): string
    {
        return FileAddress::of($view->plan, $this->baseUrl)->short($view->job->keypadCode());
    }

    private function url(JobView $view): string
    {
        return FileAddress::of($view->plan, $this->baseUrl)->long($view->job->fileToken);
    }

    /** The certificate authority for phones; it is not secret, and fetched before any other file. */
    private function authorityUrl(JobView $view): string
    {
        return $this->baseUrl.'/authority/'.substr($view->plan->job->text('filesAuthority'), 0, 16).'.pem';
    }
}
