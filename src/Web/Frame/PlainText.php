<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\RequestEvent;

/**
 * Input must be text. Bytes other than UTF-8, single surrogates among them, are not sent by browsers: they are refused here, before one of
 * many readers fails on them.
 */
#[AsEventListener(priority: 512)]
final class PlainText
{
    /** In bytes; what every server understands (RFC 9110 §4.1). It stands again in many links of the page that it asks for. */
    private const LONGEST = 8000;

    public function __invoke(RequestEvent $event): void
    {
        $request = $event->getRequest();
        if (\strlen($request->getRequestUri()) > self::LONGEST) {
            $event->setResponse(new Response(
                "That address is longer than any of ours.\n",
                Response::HTTP_REQUEST_URI_TOO_LONG,
                ['Content-Type' => 'text/plain; charset=UTF-8'],
            ));

            return;
        }
        $isText = self::isText($request->request->all()) && self::isText($request->query->all())
            && mb_check_encoding(rawurldecode($request->getPathInfo()), 'UTF-8');
        if (!$isText) {
            $event->setResponse(new Response(
                "The data sent is not text (UTF-8). Nothing was changed.\n",
                Response::HTTP_BAD_REQUEST,
                ['Content-Type' => 'text/plain; charset=UTF-8'],
            ));
        }
    }

    private static function isText(mixed $value): bool
    {
        if (\is_array($value)) {
            foreach ($value as $key => $one) {
                if (!self::isText($key) || !self::isText($one)) {
                    return false;
                }
            }

            return true;
        }

        return !\is_string($value) || mb_check_encoding($value, 'UTF-8');
    }
}
