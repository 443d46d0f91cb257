<?php

declare(strict_types=1);

namespace Vorhut\Web\Bench;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Application\WriteDevice;
use Vorhut\Core\Bench\WritePlan;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\WorkOrder;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\Window;

/** Settings put in over the network, many devices one after the other: looked at first, then done, with what became of each. */
final readonly class WriteController
{
    public function __construct(
        private JobPages $pages,
        private Orders $orders,
        private FormFeedback $feedback,
        private WriteDevice $writeDevice,
    ) {
    }

    #[Route('/j/{slug}/bench/write', name: 'write', methods: ['GET'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);

        return $this->pages->show($view, 'bench', $request, [
            'window' => Window::fromRequest(
                $request,
                WriteDevice::plans($view->plan),
                static fn (WritePlan $one): array => [$one->device->tag, $one->device->room, $one->device->kind->name],
                null,
            ),
            'keep' => [],
            'path' => "/j/$slug/bench/write",
            'written' => $this->orders->latest($view->job, WorkOrder::WRITE),
        ], 'bench/write.html.twig');
    }

    #[Route('/j/{slug}/bench/write', name: 'write_many', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function write(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $by = $this->pages->user()->name;
        if ('stop' === $request->request->getString('do')) {
            $count = $this->writeDevice->stop($view->job, $by);
            $this->feedback->tell(new Message('{n} cancelled. Those already running will finish.', ['n' => $count]));

            return new RedirectResponse("/j/$slug/bench/write", Response::HTTP_SEE_OTHER);
        }
        $chosen = array_values(array_filter($request->request->all('device'), is_string(...)));
        // Sent twice is ordered once.
        $count = $this->writeDevice->order($view->job, $view->plan, $chosen, $by);
        $this->feedback->tell(0 === $count
            ? new Message('Nothing was chosen that is not under way already.')
            : new Message('[n device is|devices are] written to, one after the other.', ['n' => $count]));

        return new RedirectResponse("/j/$slug/bench/write", Response::HTTP_SEE_OTHER);
    }
}
