<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\RateLimiter\RateLimiterFactory;
use Symfony\Component\Routing\Attribute\Route;
use Vorhut\Core\Voice\FileShape;
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
        private RateLimiterFactory $strangersLimiter,
    ) {
    }

    #[Route('/p/{token}/{mac}.{shape}', name: 'phone_file', requirements: [
        'token' => '[0-9a-f]{32}',
        'mac' => '[0-9A-Fa-f:.-]{12,17}',
        'shape' => FileShape::ENDINGS,
    ], methods: ['GET'])]
    public function __invoke(Request $request, string $token, string $mac): Response
    {
        $strangers = $this->strangersLimiter->create((string) $request->getClientIp());
        $tooMany = new Response('', Response::HTTP_TOO_MANY_REQUESTS, ['Retry-After' => '60']);
        if (0 === $strangers->consume(0)->getRemainingTokens()) {
            return $tooMany;
        }
        $job = $this->manager->getRepository(Job::class)->findOneBy(['fileToken' => $token]);
        // By the phone, not by the address alone: eighty may stand behind one. Of a path that is none nothing is kept but its count.
        $phone = hash('sha256', $request->getClientIp().' '.$token.' '.strtolower($mac));
        if (null !== $job && !$this->provisioningLimiter->create($phone)->consume()->isAccepted()) {
            return $tooMany;
        }
        $response = $this->served($request, $job, $mac, false);
        if (\in_array($response->getStatusCode(), [Response::HTTP_FORBIDDEN, Response::HTTP_NOT_FOUND], true)) {
            $strangers->consume();
        }

        return $response;
    }

    /** The short path, made to be typed on a keypad: within the segment of the phone only, and whoever guesses is stopped. */
    #[Route('/9/{code}/{mac}.{shape}', name: 'phone_file_short', requirements: [
        'code' => '[0-9]{12}',
        'mac' => '[0-9A-Fa-f:.-]{12,17}',
        'shape' => FileShape::ENDINGS,
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
        if ($request->isMethod('HEAD')) {
            // Whoever only looks whether somebody is there has taken nothing, and learns nothing.
            return new Response('', Response::HTTP_OK, ['Content-Type' => 'text/plain', 'Cache-Control' => 'no-store']);
        }
        $served = $this->files->serve(
            $job,
            $mac,
            (string) $request->getClientIp(),
            (string) $request->headers->get('User-Agent'),
            null !== $request->getUser(),
            $inItsSegment,
        );

        return new Response($served->body, $served->status, [
            'Content-Type' => FileShape::ofBody($served->body)->contentType(),
            'Cache-Control' => 'no-store',
        ]);
    }
}
