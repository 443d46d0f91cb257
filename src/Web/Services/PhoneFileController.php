<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Vorhut\Core\Voice\FileShape;
use Vorhut\Provisioning\FileRequest;
use Vorhut\Provisioning\PhoneDoor;

/** Where phones fetch, as the web server has it. */
final readonly class PhoneFileController
{
    public function __construct(private PhoneDoor $door)
    {
    }

    #[Route('/p/{token}/{mac}.{shape}', name: 'phone_file', requirements: [
        'token' => '[0-9a-f]{32}',
        'mac' => '[0-9A-Fa-f:.-]{12,17}',
        'shape' => FileShape::ENDINGS,
    ], methods: ['GET'])]
    #[Route('/9/{code}/{mac}.{shape}', name: 'phone_file_short', requirements: [
        'code' => '[0-9]{12}',
        'mac' => '[0-9A-Fa-f:.-]{12,17}',
        'shape' => FileShape::ENDINGS,
    ], methods: ['GET'])]
    public function __invoke(Request $request): Response
    {
        $question = FileRequest::tryOf(
            $request->getMethod(),
            $request->getPathInfo(),
            (string) $request->getClientIp(),
            (string) $request->headers->get('User-Agent'),
            null !== $request->getUser(),
            $request->isSecure(),
        );
        if (null === $question) {
            return new Response('', Response::HTTP_NOT_FOUND);
        }
        $served = $this->door->answer($question);

        return new Response($served->body, $served->status, [
            'Content-Type' => FileShape::ofBody($served->body)->contentType(),
            'Cache-Control' => 'no-store',
        ] + (PhoneDoor::TOO_OFTEN === $served->status ? ['Retry-After' => '60'] : []));
    }
}
