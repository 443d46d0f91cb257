<?php

declare(strict_types=1);

namespace Vorhut\Web\Brief;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Application\CopyJob;
use Vorhut\Application\DeleteJob;
use Vorhut\Application\FieldErrors;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** Copies and deletes a job, from its Brief. */
final readonly class CopyController
{
    public function __construct(
        private JobPages $pages,
        private FormFeedback $feedback,
        private CopyJob $copyJob,
        private DeleteJob $deleteJob,
    ) {
    }

    /** A new job: whoever leads only this one cannot make any. */
    #[Route('/j/{slug}/copy', name: 'job_copy', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function copy(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        if ('lead' !== $this->pages->user()->role) {
            throw new AccessDeniedException('Only lead engineers create jobs.');
        }
        $name = trim($request->request->getString('copy'));
        try {
            $copy = $this->copyJob->copy($this->pages->open($slug)->job, $name);
        } catch (FieldErrors $e) {
            $this->feedback->keep('copy', ['copy' => $name], $e->errors);

            return new RedirectResponse("/j/$slug/brief#copy", Response::HTTP_SEE_OTHER);
        }

        return new RedirectResponse("/j/$copy->slug/brief", Response::HTTP_SEE_OTHER);
    }

    #[Route('/j/{slug}/delete', name: 'job_delete', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function delete(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $typed = trim($request->request->getString('delete'));
        try {
            $this->deleteJob->delete(
                $this->pages->open($slug)->job,
                $typed,
                $this->pages->user()->login,
                (string) $request->getClientIp(),
            );
        } catch (FieldErrors $e) {
            $this->feedback->keep('delete', ['delete' => $typed], $e->errors);

            return new RedirectResponse("/j/$slug/brief#delete", Response::HTTP_SEE_OTHER);
        }

        return new RedirectResponse('/', Response::HTTP_SEE_OTHER);
    }
}
