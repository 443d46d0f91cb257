<?php

declare(strict_types=1);

namespace Vorhut\Lab\Part;

use Vorhut\Core\Catalogue\Play;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\StandIn;
use Vorhut\Lab\Stimulus;

/**
 * Two devices that find each other: one names the other, the other is up, the required settings match, and with multicast discovery only,
 * they share a segment. A panel and its bar, a streamer and its controller, a server and its projector, a card and its racks.
 */
final readonly class Links implements Part
{
    public function __construct(private StandIn $standIn, private Simulation $job, private Play $play)
    {
    }

    public function shows(): array
    {
        $why = $this->why();

        return [$this->play->text('to') => $why ?? 'linked'];
    }

    public function refuses(string $local, string $value): ?string
    {
        return null;
    }

    public function feels(Stimulus $touch): bool
    {
        return false;
    }

    /** @return string|null why they are not linked */
    private function why(): ?string
    {
        $mine = $this->standIn->state;
        $waits = $this->play->text('waits', 'not linked');
        $other = $this->job->standIn($mine->get($this->play->text('to')));
        if (null === $other) {
            return $waits;
        }
        if (!$this->standIn->isUp() || !$other->isUp() || $this->standIn->upFor() < $this->play->number('after', 0)) {
            return $waits;
        }
        if ('same' === $this->play->text('segment') && !$this->job->shareAWire($this->standIn, $other)) {
            return $waits.': another segment';
        }
        foreach ($this->play->pairs('needs') as $local => $wanted) {
            if ($mine->get($local) !== $wanted) {
                return $waits;
            }
        }
        foreach ($this->play->pairs('equal') as $local => $theirs) {
            // The name over there may hang on a value over here: the input that the cable is in.
            $there = preg_replace_callback('/\{(\w+)\}/', static fn (array $name): string => $mine->get($name[1]), $theirs) ?? '';
            if ('' === $mine->get($local) || $mine->get($local) !== $other->state->get($there)) {
                return $waits;
            }
        }

        return null;
    }
}
