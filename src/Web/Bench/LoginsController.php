<?php

declare(strict_types=1);

namespace Vorhut\Web\Bench;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Plan\FurtherLogin;
use Vorhut\Secrets\Secrets;
use Vorhut\Secrets\Vault;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** Logins of a device in addition to the one of its kind: added and removed. */
final readonly class LoginsController
{
    public function __construct(private JobPages $pages, private Vault $vault, private FormFeedback $feedback)
    {
    }

    #[Route('/j/{slug}/bench/login', name: 'login_note', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function note(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $form = $request->request;
        $device = $view->plan->devices[$form->getString('device')] ?? throw new NotFoundHttpException('Device not found.');
        $back = "/j/$slug/bench?sel=devices/".$device->key;
        if ('drop' === $form->getString('do')) {
            $this->vault->drop($view->job, $view->plan, $device->record(), $form->getString('purpose'), $this->pages->user());

            return $this->pages->back($request, $back);
        }
        $made = 'make' === $form->getString('do') ? Secrets::generate(Vault::SIP_LENGTH) : null;
        $typed = ['purpose' => $form->getString('purpose'), 'user' => $form->getString('user'), 'heldBy' => $form->getString('heldBy')];
        $login = FurtherLogin::tryFrom($typed['purpose'], $typed['user'], $typed['heldBy'], $made ?? $form->getString('secret'));
        if ($login instanceof FurtherLogin) {
            $this->vault->note($view->job, $view->plan, $device->record(), $login, $this->pages->user());
        } else {
            $this->feedback->keep('login:'.$device->key, $typed, $login);
        }

        return $this->pages->back($request, $back);
    }
}
