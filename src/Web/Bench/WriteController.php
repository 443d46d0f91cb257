<?php

declare(strict_types=1);

namespace Vorhut\Web\Bench;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Bench\WritePlan;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\WorkOrder;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;
use Vorhut\Web\Frame\JobView;
use Vorhut\Web\Frame\Window;

/** Settings put in over the network, many devices one after the other: looked at first, then done, with what became of each. */
final readonly class WriteController
{
    public function __construct(private JobPages $pages, private Orders $orders, private FormFeedback $feedback)
    {
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
                self::plans($view),
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
            $count = $this->orders->callOff($view->job, WorkOrder::WRITE, $by);
            $this->feedback->tell(new Message('{n} called off; what is under way is finished.', ['n' => $count]));

            return new RedirectResponse("/j/$slug/bench/write", Response::HTTP_SEE_OTHER);
        }
        $waiting = [];
        foreach ($this->orders->open($view->job) as $order) {
            $waiting[\is_string($order->what['device'] ?? null) ? $order->what['device'] : ''] = true;
        }
        $plans = self::plans($view);
        $count = 0;
        foreach ($request->request->all('device') as $key) {
            // Sent twice is ordered once.
            if (\is_string($key) && isset($plans[$key]) && !isset($waiting[$key])) {
                $this->orders->give($view->job, WorkOrder::WRITE, ['device' => $key, 'tests' => []], $by);
                $waiting[$key] = true;
                ++$count;
            }
        }
        $this->feedback->tell(0 === $count
            ? new Message('Nothing was chosen that is not under way already.')
            : new Message('{n} devices are written to, one after the other.', ['n' => $count]));

        return new RedirectResponse("/j/$slug/bench/write", Response::HTTP_SEE_OTHER);
    }

    /** @return array<string, WritePlan> of all devices that take something over the network and do not hold it yet */
    private static function plans(JobView $view): array
    {
        return array_filter(
            array_map(static fn (Device $device): WritePlan => WritePlan::of($view->plan, $device), $view->plan->devices),
            static fn (WritePlan $one): bool => [] !== $one->toDo() && null !== $one->device->nic()?->segment,
        );
    }
}
