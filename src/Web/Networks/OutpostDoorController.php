<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\RateLimiter\RateLimiterFactory;
use Symfony\Component\Routing\Attribute\Route;
use Vorhut\Entity\Outpost;
use Vorhut\Outpost\Remote\Assignments;
use Vorhut\Outpost\Remote\Pairing;
use Vorhut\Outpost\Remote\ServerClient;

/** The endpoint of outposts: with a code once, with their token afterwards. No session, no cookie; guessing is limited. */
final readonly class OutpostDoorController
{
    /** Bytes of one delivery. */
    private const MOST = 8_000_000;
    private const DEPTH = 32;

    public function __construct(
        private Pairing $pairing,
        private Assignments $assignments,
        private RateLimiterFactory $guessingLimiter,
    ) {
    }

    #[Route('/o/pair', name: 'outpost_pair', methods: ['POST'])]
    public function pair(Request $request): Response
    {
        $wrong = $this->guessingLimiter->create('outpost '.$request->getClientIp());
        $body = self::body($request);
        $code = \is_string($body['code'] ?? null) ? $body['code'] : '';
        $name = \is_string($body['name'] ?? null) ? $body['name'] : '';
        $paired = 0 === $wrong->consume(0)->getRemainingTokens() ? null : $this->pairing->pair($code, $name);
        if (null === $paired) {
            $wrong->consume();

            return new JsonResponse(['error' => 'This code opens nothing.'], Response::HTTP_FORBIDDEN);
        }
        [$outpost, $token] = $paired;

        return new JsonResponse(['token' => $token, 'job' => $outpost->job->name]);
    }

    #[Route('/o/work', name: 'outpost_work', methods: ['POST'])]
    public function work(Request $request): Response
    {
        $outpost = $this->authenticate($request);
        if (null === $outpost) {
            return new Response('', Response::HTTP_FORBIDDEN);
        }
        $adapters = self::body($request)['adapters'] ?? [];
        $this->pairing->recordContact($outpost, \is_array($adapters) ? array_values($adapters) : []);
        $work = $this->assignments->next($outpost);

        return null === $work ? new Response('', Response::HTTP_NO_CONTENT) : new JsonResponse($work);
    }

    #[Route('/o/evidence', name: 'outpost_evidence', methods: ['POST'])]
    public function evidence(Request $request): Response
    {
        $outpost = $this->authenticate($request);
        if (null === $outpost) {
            return new Response('', Response::HTTP_FORBIDDEN);
        }
        $body = self::body($request);
        $rows = $body['rows'] ?? [];

        return new JsonResponse(['new' => $this->assignments->deliver(
            $outpost,
            \is_int($body['order'] ?? null) ? $body['order'] : 0,
            \is_array($rows) ? array_values($rows) : [],
            true === ($body['end'] ?? null),
            \is_string($body['said'] ?? null) ? $body['said'] : '',
        )]);
    }

    /** An outpost is recognised by its token, and a delivery by its signature: altered data is rejected. */
    private function authenticate(Request $request): ?Outpost
    {
        $token = 1 === preg_match('/^Bearer ([0-9a-f]{48})$/D', (string) $request->headers->get('Authorization'), $found) ? $found[1] : '';
        $signature = ServerClient::signature($token, $request->getContent());

        $isSigned = '' !== $token && hash_equals($signature, (string) $request->headers->get('X-Signature'));

        return $isSigned ? $this->pairing->find($token) : null;
    }

    /** @return array<mixed> */
    private static function body(Request $request): array
    {
        $body = \strlen($request->getContent()) > self::MOST ? null : json_decode($request->getContent(), true, self::DEPTH);

        return \is_array($body) ? $body : throw new BadRequestHttpException('The delivery is too large, nested too deep, or not JSON.');
    }
}
