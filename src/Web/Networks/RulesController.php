<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Analysis\RulesProof;
use Vorhut\Core\Network\Reachability\RequiredFirewallRules;
use Vorhut\Core\Network\Reachability\RulesTable;
use Vorhut\Core\Network\Reachability\WhatIf;
use Vorhut\Core\Network\Walk\DeadRules;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;
use Vorhut\Exchange\Spreadsheet;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** The filter rules that the job needs: looked at, handed out, asked what they would change, and put into the plan. */
final readonly class RulesController
{
    public function __construct(private JobPages $pages, private ChangeWriter $changes, private FormFeedback $feedback)
    {
    }

    #[Route('/j/{slug}/networks/rules', name: 'rules', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $byAddress = 'address' === $request->query->getString('by');
        $wanted = RequiredFirewallRules::of($view->plan, $byAddress);
        $proof = $request->query->has('tests') ? RulesProof::of($view->plan, $wanted) : RulesProof::ofFlows($wanted);
        $what = $request->query->has('ask') ? WhatIf::of($view->plan, Face::Set, $wanted->change()) : null;

        return $this->pages->show($view, 'networks', $request, [
            'wanted' => $wanted,
            'rows' => RulesTable::rows($view->plan, $wanted),
            'missing' => $wanted->missing(),
            'proof' => $proof,
            'dead' => DeadRules::of($view->networkModel(Face::Set)),
            'by' => $byAddress ? 'address' : 'segment',
            'what' => $what,
        ], 'networks/rules.html.twig');
    }

    #[Route('/j/{slug}/networks/rules.{form}', name: 'rules_file', requirements: ['form' => 'csv|txt'], methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function file(Request $request, string $slug, string $form): Response
    {
        $plan = $this->pages->open($slug)->plan;
        $wanted = RequiredFirewallRules::of($plan, 'address' === $request->query->getString('by'));

        return new Response(
            'csv' === $form ? Spreadsheet::csv(RulesTable::rows($plan, $wanted)) : implode("\n", RulesTable::text($plan, $wanted))."\n",
            Response::HTTP_OK,
            [
                'Content-Type' => ('csv' === $form ? 'text/csv' : 'text/plain').'; charset=UTF-8',
                'Content-Disposition' => HeaderUtils::makeDisposition(HeaderUtils::DISPOSITION_ATTACHMENT, $slug.'-rules.'.$form),
            ],
        );
    }

    #[Route('/j/{slug}/networks/rules', name: 'rules_take', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function take(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $wanted = RequiredFirewallRules::of($view->plan, 'address' === $request->request->getString('by'));
        if ($request->request->getInt('rules') !== \count($wanted->rules)) {
            $this->feedback->tell(new Message('The job has changed meanwhile: look at the rules once more.'));

            return $this->pages->back($request, "/j/$slug/networks/rules");
        }
        $this->changes->write($view->job, $wanted->change(), $this->pages->user());

        return $this->pages->back($request, "/j/$slug/networks/rules");
    }
}
