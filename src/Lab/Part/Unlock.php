<?php

declare(strict_types=1);

namespace Vorhut\Lab\Part;

use Vorhut\Core\Catalogue\Play;
use Vorhut\Lab\StandIn;
use Vorhut\Lab\Stimulus;

/** Settings behind a lock: opened for good with credentials that one has to apply for, or for some days, after which it shuts again. */
final readonly class Unlock implements Part
{
    private const DAY = 86400;
    private const SINCE = 'unlocked since';

    public function __construct(private StandIn $standIn, private Play $play)
    {
    }

    public function shows(): array
    {
        $left = $this->secondsLeft();

        return ['lock' => match (true) {
            null === $left => $this->isOpen() ? 'open' : 'locked',
            $left > 0 => \sprintf('open for %d days', (int) ceil($left / self::DAY)),
            default => 'locked',
        }];
    }

    public function refuses(string $local, string $value): ?string
    {
        $guarded = explode('.', $local)[0] === $this->play->text('guards');

        return $guarded && !$this->isOpen() ? 'locked' : null;
    }

    public function feels(Stimulus $touch): bool
    {
        if (Stimulus::UNLOCK !== $touch->what) {
            return false;
        }
        $state = $this->standIn->state;
        $temporary = $this->play->text('temporary') === $touch->with;
        // For good only with the credentials that came for this device.
        if (!$temporary && $touch->with !== $state->firstPassword) {
            return false;
        }
        $state->put($this->play->text('setting'), $temporary ? $this->play->text('temporary') : 'yes');
        $state->extra[self::SINCE] = (string) $this->standIn->time();

        return true;
    }

    private function isOpen(): bool
    {
        $left = $this->secondsLeft();

        return null === $left ? 'yes' === $this->standIn->state->get($this->play->text('setting')) : $left > 0;
    }

    /** Of a lock that is open for a while, in seconds of its own time; null for one that is not. */
    private function secondsLeft(): ?float
    {
        $state = $this->standIn->state;
        if ($state->get($this->play->text('setting')) !== $this->play->text('temporary')) {
            return null;
        }

        return (float) ($state->extra[self::SINCE] ?? 0) + $this->play->number('days', 30) * self::DAY - $this->standIn->time();
    }
}
