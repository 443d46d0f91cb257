<?php

declare(strict_types=1);

namespace Vorhut\Lab\Part;

use Vorhut\Core\Catalogue\Play;
use Vorhut\Lab\StandIn;
use Vorhut\Lab\Stimulus;

/**
 * Stores scenes. While the lighting data cable is plugged in it is being programmed: holding a key stores the present levels. Without it
 * keys recall stored scenes, and holding does nothing. While the network sends it acts as a node: it outputs that, and holding a key stores
 * nothing.
 */
final readonly class Scenes implements Part
{
    private const CABLE = 'light data';
    private const PLAYS = 'plays';
    private const STORED = 'stored ';

    public function __construct(private StandIn $standIn, private Play $play)
    {
    }

    public function shows(): array
    {
        $extra = $this->standIn->state->extra;
        $stored = [];
        foreach ($extra as $name => $look) {
            if (str_starts_with($name, self::STORED)) {
                $stored[] = substr($name, \strlen(self::STORED)).' '.$look;
            }
        }
        sort($stored, \SORT_NATURAL);

        return [
            'mode' => match ($extra[self::CABLE] ?? '') {
                '' => 'standalone',
                'network' => 'node',
                default => 'programming',
            },
            'plays' => $extra[self::PLAYS] ?? '',
            'stored' => implode(', ', $stored),
        ];
    }

    public function refuses(string $local, string $value): ?string
    {
        return null;
    }

    public function feels(Stimulus $touch): bool
    {
        $extra = &$this->standIn->state->extra;
        $cable = $extra[self::CABLE] ?? '';
        $stored = self::STORED.$touch->with;
        switch ($touch->what) {
            case Stimulus::PLUG:
                // Together with the input: the name of a scene at the desk, or that the network sends.
                $extra[self::CABLE] = $touch->with;

                return true;
            case Stimulus::PULL:
                unset($extra[self::CABLE]);

                return true;
            case Stimulus::HOLD:
                $long = (float) $this->standIn->state->get($this->play->text('hold'));
                if ('' === $cable || 'network' === $cable || $touch->seconds < $long || !ctype_digit($touch->with)) {
                    return false;
                }
                $extra[$stored] = $cable;

                return true;
            case Stimulus::KEY:
                if ('' !== $cable || !isset($extra[$stored])) {
                    return false;
                }
                // The same key again puts it out.
                $extra[self::PLAYS] = ($extra[self::PLAYS] ?? '') === $extra[$stored] ? '' : $extra[$stored];

                return true;
        }

        return false;
    }
}
