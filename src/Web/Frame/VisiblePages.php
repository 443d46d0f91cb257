<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Vorhut\Core\Text\VisibleText;

/** No text of others turns the direction of a page, or hides in it. */
#[AsEventListener]
final class VisiblePages
{
    public function __invoke(ResponseEvent $event): void
    {
        $response = $event->getResponse();
        $isPage = str_contains((string) $response->headers->get('Content-Type', 'text/html'), 'html');
        if (!$isPage || $response instanceof StreamedResponse) {
            return;
        }
        $content = (string) $response->getContent();
        if (null !== VisibleText::firstHidden($content)) {
            $response->setContent(VisibleText::of($content));
        }
    }
}
