<?php

declare(strict_types=1);

namespace Vorhut\Web\Bench;

use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\AccessDeniedHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Authorization\AuthorizationCheckerInterface;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Picture;
use Vorhut\Exchange\Jobs;
use Vorhut\Exchange\Photos;
use Vorhut\Journal\JournalClock;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** Photos of a step: stored without their location, shown, and deleted by their owner. */
final readonly class PhotoController
{
    public function __construct(
        private JobPages $pages,
        private Jobs $jobs,
        private Photos $photos,
        private JournalClock $time,
        private FormFeedback $feedback,
        private AuthorizationCheckerInterface $may,
    ) {
    }

    #[Route('/j/{slug}/bench/photo', name: 'photo_take', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function take(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $view = $this->pages->open($slug);
        $device = $view->plan->devices[$request->request->getString('device')]
            ?? throw new NotFoundHttpException('Device not found.');
        $step = $device->kind->step($request->request->getString('step')) ?? throw new NotFoundHttpException('Step not found.');
        $file = $request->files->get('photo');
        try {
            if (!$file instanceof UploadedFile) {
                throw Malformed::because('Choose a photo first.');
            }
            if (!$file->isValid()) {
                throw Malformed::because('The photo did not arrive whole; it may be too large.');
            }
            $this->photos->keep(
                $view->job,
                $device->key,
                $step->code,
                Picture::fromBytes((string) file_get_contents($file->getPathname())),
                $this->pages->user(),
                $this->time->now(),
            );
        } catch (Malformed|ParseError $e) {
            $this->feedback->keep('photo:'.$device->key.'.'.$step->code, [], ['photo' => $e->message()]);
        }

        return $this->pages->back($request, "/j/$slug/bench?sel=devices/".$device->key);
    }

    #[Route('/j/{slug}/photo/{id}', name: 'photo', requirements: ['id' => '\d{1,10}'], methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function photo(string $slug, int $id): Response
    {
        $job = $this->jobs->find($slug) ?? throw new NotFoundHttpException('Job not found.');
        $photo = $this->photos->find($job, $id) ?? throw new NotFoundHttpException('Photo not found.');

        return new Response($photo['bytes'], Response::HTTP_OK, [
            'Content-Type' => $photo['type'],
            'Content-Disposition' => 'inline; filename="photo-'.$id.'"',
        ]);
    }

    #[Route('/j/{slug}/photo/{id}', name: 'photo_drop', requirements: ['id' => '\d{1,10}'], methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function drop(Request $request, string $slug, int $id): Response
    {
        $this->pages->checkToken($request);
        $job = $this->jobs->find($slug) ?? throw new NotFoundHttpException('Job not found.');
        $photo = $this->photos->find($job, $id);
        $user = $this->pages->user();
        if (null !== $photo && $photo['login'] !== $user->login && !$this->may->isGranted('ROLE_LEAD')) {
            throw new AccessDeniedHttpException('This photo was taken by another user.');
        }
        $this->photos->drop($job, $id);
        $this->feedback->tell(new Message('The photo is gone.'));

        return $this->pages->back($request, "/j/$slug/bench");
    }
}
