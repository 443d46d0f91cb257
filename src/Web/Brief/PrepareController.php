<?php

declare(strict_types=1);

namespace Vorhut\Web\Brief;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Application\FieldErrors;
use Vorhut\Application\PrepareDevice;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** The form for one device in hand on the start page. */
final readonly class PrepareController
{
    public function __construct(private PrepareDevice $prepareDevice, private JobPages $pages, private FormFeedback $feedback)
    {
    }

    /** The role that counts is that in the job which the device goes into. */
    #[Route('/prepare', name: 'prepare', defaults: ['slug' => PrepareDevice::SLUG], methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function prepare(Request $request): Response
    {
        $this->pages->checkToken($request);
        $typed = [];
        foreach (['kind', 'label', 'network'] as $field) {
            $typed[$field] = trim($request->request->getString($field));
        }
        try {
            [$job, $device] = $this->prepareDevice->prepare($typed['kind'], $typed['label'], $typed['network'], $this->pages->user());
        } catch (FieldErrors $e) {
            $this->feedback->keep('prepare', $typed, $e->errors);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        } catch (Conflict|Refused $e) {
            $this->feedback->keep('prepare', $typed, ['kind' => $e->message()]);

            return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
        }

        return new RedirectResponse("/j/$job->slug/bench?sel=devices/$device->key", Response::HTTP_SEE_OTHER);
    }
}
