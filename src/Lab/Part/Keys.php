<?php

declare(strict_types=1);

namespace Vorhut\Lab\Part;

use Vorhut\Core\Catalogue\Play;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\StandIn;
use Vorhut\Lab\Stimulus;

/** A panel on the wall: each of its keys calls a scene of what it is wired to. */
final readonly class Keys implements Part
{
    public function __construct(private StandIn $standIn, private Simulation $job, private Play $play)
    {
    }

    public function shows(): array
    {
        return [];
    }

    public function refuses(string $local, string $value): ?string
    {
        return null;
    }

    public function feels(Stimulus $touch): bool
    {
        $scene = $this->standIn->state->get($this->play->text('scene').'.'.$touch->with);

        return Stimulus::KEY === $touch->what && '' !== $scene
            && true === $this->job->standIn($this->standIn->state->get($this->play->text('of')))
                ?->feels(new Stimulus(Stimulus::KEY, $scene));
    }
}
