<?php

declare(strict_types=1);

namespace Vorhut\Web\Proof;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Twig\Environment;
use Vorhut\Application\RunTests;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\WorkOrder;
use Vorhut\Journal\LabSwitch;
use Vorhut\Lab\InjectedFault;
use Vorhut\Outpost\Orders\ManualAnswers;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Outpost\Probe\LabState;
use Vorhut\Secrets\Vault;
use Vorhut\Web\Drawing\MatrixDrawing;
use Vorhut\Web\Drawing\WalkDrawing;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\JobView;
use Vorhut\Web\Frame\Window;
use Vorhut\Web\Frame\Words;

/** Prediction held against observation, test by test. */
final readonly class ProofController
{
    public function __construct(
        private JobPages $pages,
        private Words $words,
        private Orders $orders,
        private RunTests $runTests,
        private Vault $vault,
        private FormFeedback $feedback,
        private LabSwitch $labSwitch,
        private ManualAnswers $answers,
        private LabState $lab,
        private Environment $twig,
    ) {
    }

    #[Route('/j/{slug}/proof', name: 'proof', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $proof = $view->proof();
        $open = $this->openTest($proof, $request->query->getString('sel'));
        $walk = null === $open ? null : self::walk($view, $open);

        $window = Window::fromRequest(
            $request,
            array_filter($view->plan->devices, static fn (Device $device): bool => [] !== $proof->at($device->key)),
            static fn (Device $device): array => [$device->tag, $device->room],
            $open?->test->to,
            Window::SIZE,
            [
                'tag' => static fn (Device $device): string => $device->tag,
                'room' => static fn (Device $device): string => $device->room,
                'state' => static fn (Device $device): string => $view->stateOf($device->key)->value,
            ],
        );
        $results = array_values(array_filter(
            $proof->results,
            static fn (TestResult $result): bool => isset($window->items[$result->test->to]),
        ));

        $foreseen = $view->foreseen($results);
        // Unpredicted results come first: there the network differs from the plan.
        $isUnpredicted = static fn (TestResult $one): bool => $one->isUnpredicted($foreseen[$one->test->key]);
        usort($results, static fn (TestResult $one, TestResult $other): int => $isUnpredicted($other) <=> $isUnpredicted($one));

        return $this->pages->show($view, 'proof', $request, [
            'proof' => $proof,
            'results' => $results,
            'tally' => [Verdict::Passed, Verdict::Failed, Verdict::Outdated, Verdict::NotRun],
            'window' => $window,
            'keep' => [],
            'path' => "/j/$slug/proof",
            'foreseen' => $foreseen,
            'matrix' => MatrixDrawing::of($view->plan, $results, $foreseen, $this->words->say(...)),
            'open' => $open,
            'walk' => $walk['walk'] ?? null,
            'face' => $walk['face'] ?? null,
            'hops' => null === $walk ? null : WalkDrawing::of($walk['walk'], $this->words->say(...)),
            // Where the device must not answer, a broken walk is what is required.
            'cure' => null === $walk || $open->test->mustNotAnswer()
                || $walk['walk']->holds() ? null : Cure::of($view->plan, $walk['face'], $walk['from'], $walk['to'], $walk['walk']->port),
            'ends' => $walk,
            'faults' => InjectedFault::cases(),
        ]);
    }

    /** Which devices of the lab are still starting. */
    #[Route('/j/{slug}/proof/lab', name: 'proof_lab', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function lab(string $slug): Response
    {
        $view = $this->pages->open($slug);
        $state = $view->job->rehearsed ? $this->lab->of($view->job, $view->plan) : null;

        return new Response($this->twig->render('proof/lab.html.twig', ['slug' => $slug, 'state' => $state]));
    }

    #[Route('/j/{slug}/proof/run', name: 'prove', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function run(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $tests = match ($request->request->getString('which')) {
            'open' => $view->proof()->open($view->job->isRehearsing(), $view->job->rehearsed),
            'one' => null === ($one = $view->proof()->find($request->request->getString('test'))) ? [] : [$one],
            'calls' => array_filter($view->proof()->results, static fn (TestResult $one): bool => $one->test->isCallToTry()
                && $one->test->canBeAsked($view->job->rehearsed)),
            default => array_filter(
                $view->proof()->results,
                static fn (TestResult $one): bool => $one->test->canBeAsked($view->job->rehearsed),
            ),
        };
        $this->vault->fill($view->job, $view->plan, $this->pages->user());
        $keys = array_map(static fn (TestResult $result): string => $result->test->key, array_values($tests));
        if ([] === $keys) {
            $this->feedback->tell(new Message('There is nothing left to run.'));
        } else {
            $this->runTests->order($view->job, $view->plan, $keys, $this->pages->user()->name);
        }

        return $this->pages->back($request, "/j/$slug/proof");
    }

    /** What a person answers. */
    #[Route('/j/{slug}/proof/answer', name: 'answer', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function answer(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        $test = $form->getString('test');
        try {
            $this->answers->take(
                $view->job,
                $view->plan,
                $test,
                $form->getString('word'),
                $form->getString('number'),
                $form->getString('note'),
                $this->pages->user()->name,
            );
        } catch (Malformed $e) {
            $this->feedback->keep('answer:'.$test, $form->all(), ['note' => $e->message()]);
        }

        return $this->pages->back($request, "/j/$slug/proof");
    }

    #[Route('/j/{slug}/proof/rehearse', name: 'rehearse', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function rehearse(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $this->labSwitch->turn($view->job, 'on' === $request->request->getString('lab'), $this->pages->user());

        return $this->pages->back($request, "/j/$slug/proof");
    }

    #[Route('/j/{slug}/proof/fault', name: 'fault', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function fault(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $fault = InjectedFault::tryFrom($request->request->getString('fault'));
        $device = $view->plan->devices[$request->request->getString('device')] ?? null;
        if (null === $fault || null === $device || !$view->job->rehearsed) {
            $this->feedback->tell(new Message('Choose a fault and a device, with the lab switched on.'));

            return new RedirectResponse("/j/$slug/proof", Response::HTTP_SEE_OTHER);
        }
        $this->orders->give($view->job, WorkOrder::FAULT, ['fault' => $fault->value, 'device' => $device->key], $this->pages->user()->name);
        $this->feedback->tell(new Message('{fault} is played at {tag}.', [
            'fault' => new Message(str_replace('-', ' ', $fault->value)),
            'tag' => $device->tag,
        ]));

        return $this->pages->back($request, "/j/$slug/proof");
    }

    private function openTest(Proof $proof, string $selected): ?TestResult
    {
        return str_starts_with($selected, 'tests/') ? $proof->find(substr($selected, 6)) : null;
    }

    /**
     * The walk behind a test. A test with an unexpected result is walked by the values *seen*, since those set already failed to explain
     * it; any other by the values set.
     *
     * @return array{walk: Walk, face: Face, from: string, to: string}|null
     */
    private static function walk(JobView $view, TestResult $result): ?array
    {
        $port = $result->test->port ?? $result->test->walk()?->port;
        $from = $result->test->from;
        $to = $result->test->to;
        if (!isset($view->plan->devices[$to]) || $result->test->isByHand()) {
            return null;
        }
        $face = Verdict::Failed === $result->verdict ? Face::Seen : Face::Set;
        $walk = Walker::between($view->networkModel($face), $from, $to, $port);
        // A call runs over several ways; where its own broke, that one is shown.
        $computed = $result->test->walk();
        if (null !== $computed && !$computed->holds() && $walk->holds()) {
            return ['walk' => $computed, 'face' => Face::Set, 'from' => $from, 'to' => $to];
        }

        return ['walk' => $walk, 'face' => $face, 'from' => $from, 'to' => $to];
    }
}
