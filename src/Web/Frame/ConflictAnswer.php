<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;

/** Whatever page a conflict or a refusal comes from: nothing was written, the page is shown anew as it stands now, and says why. */
#[AsEventListener]
final readonly class ConflictAnswer
{
    public function __construct(private JobPages $pages, private FormFeedback $feedback)
    {
    }

    public function __invoke(ExceptionEvent $event): void
    {
        $conflict = $event->getThrowable();
        if ($conflict instanceof Conflict || $conflict instanceof Refused) {
            $this->feedback->tell($conflict->message());
            $event->setResponse($this->pages->back($event->getRequest(), '/'));
        }
    }
}
