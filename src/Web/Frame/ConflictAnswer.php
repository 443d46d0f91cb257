<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Vorhut\Journal\Conflict;

/** Whatever page a conflict comes from: nothing was written, the page is shown anew as it stands now, and says who was quicker. */
#[AsEventListener]
final readonly class ConflictAnswer
{
    public function __construct(private Rooms $rooms, private Slips $slips)
    {
    }

    public function __invoke(ExceptionEvent $event): void
    {
        $conflict = $event->getThrowable();
        if ($conflict instanceof Conflict) {
            $this->slips->tell($conflict->getMessage());
            $event->setResponse($this->rooms->back($event->getRequest(), '/'));
        }
    }
}
