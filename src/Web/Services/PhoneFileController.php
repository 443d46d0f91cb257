<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\RateLimiter\RateLimiterFactory;
use Symfony\Component\Routing\Attribute\Route;
use Vorhut\Entity\Job;
use Vorhut\Provisioning\FileServer;

/** Where phones fetch: no login, an unguessable path, a MAC of the roster, a limit on how often. */
final readonly class PhoneFileController
{
    public function __construct(
        private EntityManagerInterface $manager,
        private FileServer $files,
        private RateLimiterFactory $provisioningLimiter,
        private RateLimiterFactory $guessingLimiter,
    ) {
    }

    #[Route('/p/{token}/{mac}.xml', name: 'phone_file', requirements: [
        'token' => '[0-9a-f]{32}',
        'mac' => '[0-9A-Fa-f:.-]{12,17}',
    ], methods: ['GET'])]
    public function __invoke(Request $request, string $token, string $mac): Response
    {
        if (!$this->provisioningLimiter->create($request->getClientIp().$token)->consume()->isAccepted()) {
            return new Response('', Response::HTTP_TOO_MANY_REQUESTS, ['Retry-After' => '60']);
        }

        return $this->served($request, $this->manager->getRepository(Job::class)->findOneBy(['fileToken' => $token]), $mac, false);
    }

    /** The short path, made to be typed on a keypad: within the segment of the phone only, and whoever guesses is stopped. */
    #[Route('/9/{code}/{mac}.xml', name: 'phone_file_short', requirements: [
        'code' => '[0-9]{12}',
        'mac' => '[0-9A-Fa-f:.-]{12,17}',
    ], methods: ['GET'])]
    public function short(Request $request, string $code, string $mac): Response
    {
        $wrong = $this->guessingLimiter->create((string) $request->getClientIp());
        if (0 === $wrong->consume(0)->getRemainingTokens()) {
            return new Response('', Response::HTTP_TOO_MANY_REQUESTS, ['Retry-After' => '60']);
        }
        $found = null;
        foreach ($this->manager->getRepository(Job::class)->findAll() as $job) {
            $found = hash_equals($job->keypadCode(), $code) ? $job : $found;
        }
        $response = $this->served($request, $found, $mac, true);
        if (Response::HTTP_OK !== $response->getStatusCode()) {
            $wrong->consume();
        }

        return $response;
    }

    private function served(Request $request, ?Job $job, string $mac, bool $inItsSegment): Response
    {
        if (null === $job) {
            return new Response('', Response::HTTP_NOT_FOUND);
        }
        $served = $this->files->serve(
            $job,
            $mac,
            (string) $request->getClientIp(),
            (string) $request->headers->get('User-Agent'),
            null !== $request->getUser(),
            $inItsSegment,
        );

        return new Response($served->body, $served->status, ['Content-Type' => 'application/xml', 'Cache-Control' => 'no-store']);
    }
}
