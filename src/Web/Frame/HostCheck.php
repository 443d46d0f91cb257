<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Exception\SuspiciousOperationException;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\RequestEvent;

/**
 * Accepts requests under the server's own name, or on this machine: any other Host may be an attempt to make links and redirects lead
 * elsewhere, or a foreign page whose name points here. Phones, which are configured with an address, use that one.
 */
#[AsEventListener(priority: 600)]
final readonly class HostCheck
{
    private const HERE = ['localhost', '127.0.0.1', '[::1]'];

    public function __construct(private string $baseUrl)
    {
    }

    public function __invoke(RequestEvent $event): void
    {
        if ($event->isMainRequest() && !$this->isOurs($event->getRequest())) {
            $event->setResponse(new Response(
                "Vorhut is not at this address.\n",
                Response::HTTP_MISDIRECTED_REQUEST,
                ['Content-Type' => 'text/plain; charset=UTF-8'],
            ));
        }
    }

    private function isOurs(Request $request): bool
    {
        try {
            $host = $request->getHost();
        } catch (SuspiciousOperationException) {
            return false;
        }

        return \in_array($host, [...self::HERE, strtolower((string) parse_url($this->baseUrl, \PHP_URL_HOST))], true);
    }
}
