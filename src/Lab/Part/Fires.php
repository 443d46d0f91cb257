<?php

declare(strict_types=1);

namespace Vorhut\Lab\Part;

use Vorhut\Core\Catalogue\Play;
use Vorhut\Lab\StandIn;
use Vorhut\Lab\Stimulus;

/** Sounds or flashes when its contact closes, for the set time, if its contact input is enabled. */
final readonly class Fires implements Part
{
    private const AT = 'fired at';

    public function __construct(private StandIn $standIn, private Play $play)
    {
    }

    public function shows(): array
    {
        $at = $this->standIn->state->extra[self::AT] ?? null;
        $for = (float) $this->standIn->state->get($this->play->text('for'));

        return ['alert' => match (true) {
            null === $at => 'quiet',
            $this->standIn->time() < (float) $at + $for => 'fires',
            default => \sprintf('quiet, fired for %d s', (int) $for),
        }];
    }

    public function refuses(string $local, string $value): ?string
    {
        return null;
    }

    public function feels(Stimulus $touch): bool
    {
        if (
            Stimulus::CONTACT !== $touch->what
            || 'closed' !== $touch->with
            || !$this->standIn->isUp()
            || $this->standIn->state->get($this->play->text('contact')) !== $this->play->text('mode')
        ) {
            return false;
        }
        $this->standIn->state->extra[self::AT] = (string) $this->standIn->time();

        return true;
    }
}
