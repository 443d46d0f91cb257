<?php

declare(strict_types=1);

namespace Vorhut\Lab\Part;

use Vorhut\Core\Catalogue\Play;
use Vorhut\Lab\Simulation;
use Vorhut\Lab\StandIn;
use Vorhut\Lab\Stimulus;

/** Detects the ring at one socket of one phone and closes a contact while it rings: no address, two cables. */
final readonly class Relay implements Part
{
    public function __construct(private StandIn $standIn, private Simulation $job, private Play $play)
    {
    }

    public function shows(): array
    {
        $rings = $this->job->standIn($this->standIn->state->get($this->play->text('hears')))?->isRinging() ?? false;

        return ['lamp' => $rings && $this->hears() ? 'follows the ring' : 'dark'];
    }

    public function refuses(string $local, string $value): ?string
    {
        return null;
    }

    public function feels(Stimulus $touch): bool
    {
        $isRing = Stimulus::RINGS === $touch->what && $touch->with === $this->standIn->state->get($this->play->text('hears'));
        if (!$isRing || !$this->hears()) {
            return false;
        }

        return true === $this->job->standIn($this->standIn->state->get($this->play->text('drives')))
            ?->feels(new Stimulus(Stimulus::CONTACT, 'closed', $touch->seconds));
    }

    /** The phone gives its ring where the cable is. */
    private function hears(): bool
    {
        $state = $this->standIn->state;
        $phone = $this->job->standIn($state->get($this->play->text('hears')));

        return null !== $phone && $phone->state->get($this->play->text('output')) === $state->get($this->play->text('socket'));
    }
}
