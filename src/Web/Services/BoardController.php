<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Adoption;
use Vorhut\Core\Voice\PbxTable;
use Vorhut\Entity\WorkOrder;
use Vorhut\Exchange\Spreadsheet;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Provisioning\Freshness;
use Vorhut\Secrets\Vault;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** Actions on the provisioning board: unknown phones added, files fetched again, numbers exported for a PBX. */
final readonly class BoardController
{
    public function __construct(
        private JobPages $pages,
        private ChangeWriter $changes,
        private Vault $vault,
        private Orders $orders,
        private Freshness $freshness,
        private FormFeedback $feedback,
    ) {
    }

    #[Route('/j/{slug}/services/adopt', name: 'adopt', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function adopt(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        $mac = trim($form->getString('mac'));
        try {
            $fetch = $view->board()->strangerOf(Mac::fromString($mac))
                ?? throw new Malformed('No phone with this MAC is waiting any more.');
            $change = Adoption::change($view->plan, Mac::fromString($mac), $form->getString('as'), $fetch->text('address'));
            $this->changes->write($view->job, $change, $this->pages->user());
            $this->vault->fill($view->job, $this->pages->open($slug)->plan, $this->pages->user());
            $this->feedback->tell($change->why);
        } catch (Malformed|Conflict|Refused $e) {
            $this->feedback->keep('adopt:'.$mac, ['as' => $form->getString('as')], ['as' => $e->message()]);
        }

        return new RedirectResponse("/j/$slug/services#board", Response::HTTP_SEE_OTHER);
    }

    /** Those whose file says something else by now are told to take it again, each by its own page. */
    #[Route('/j/{slug}/services/refetch', name: 'refetch', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function refetch(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $by = $this->pages->user()->name;
        if ('stop' === $request->request->getString('do')) {
            $count = $this->orders->callOff($view->job, WorkOrder::REFETCH, $by);
            $this->feedback->tell(new Message('{n} cancelled. Those already running will finish.', ['n' => $count]));

            return new RedirectResponse("/j/$slug/services#files", Response::HTTP_SEE_OTHER);
        }
        $count = $this->orders->refetch($view->job, array_keys($this->freshness->of($view->job, $view->plan)->refetchable()), $by);
        $this->feedback->tell(0 === $count
            ? new Message('Nothing was chosen that is not under way already.')
            : new Message('[n phone is|phones are] told to fetch the file again.', ['n' => $count]));

        return new RedirectResponse("/j/$slug/services#files", Response::HTTP_SEE_OTHER);
    }

    /** The numbers of a PBX as it reads them in, with their secrets; that they went out is written down. */
    #[Route('/j/{slug}/services/pbx-table', name: 'pbx_table', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function table(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $pbx = $view->plan->devices[$request->request->getString('pbx')] ?? null;
        if (null === $pbx) {
            $this->feedback->tell(new Message('Choose the PBX first; without one there is nowhere to register.'));

            return new RedirectResponse("/j/$slug/services#numbers", Response::HTTP_SEE_OTHER);
        }
        $this->vault->fill($view->job, $view->plan, $this->pages->user());
        $plan = $this->pages->open($slug)->plan;
        $secrets = $this->vault->open($view->job);
        $rows = PbxTable::rows($plan, $pbx, static fn (string $account): string => $secrets[$account] ?? '');
        foreach ($plan->accounts as $account) {
            if ($account->registrar === $pbx->key) {
                $why = new Message('Secrets of [n number|numbers] shown: the table for {tag}.', ['n' => \count($rows), 'tag' => $pbx->tag]);
                $this->vault->recordDisclosure($view->job, $plan, 'accounts/'.$account->key, 'sip', $why, $this->pages->user());
                break;
            }
        }

        return new Response(Spreadsheet::csv($rows), 200, [
            'Content-Type' => 'text/csv; charset=UTF-8',
            'Content-Disposition' => \sprintf('attachment; filename="%s-%s.csv"', $slug, $pbx->key),
        ]);
    }
}
