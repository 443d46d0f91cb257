<?php

declare(strict_types=1);

namespace Vorhut\Lab\Part;

use Vorhut\Core\Catalogue\Play;
use Vorhut\Lab\StandIn;
use Vorhut\Lab\Stimulus;

/** A number that a key allows, made for the hardware id of this very device. */
final readonly class Licence implements Part
{
    /** Under this word it shows what a key has to be made for. */
    public const ID = 'hardware id';
    private const ALLOWED = 'licensed';

    public function __construct(private StandIn $standIn, private Play $play)
    {
    }

    public function shows(): array
    {
        return [self::ID => $this->hardwareId(), 'licensed' => (string) $this->allowance()];
    }

    public function refuses(string $local, string $value): ?string
    {
        return $local === $this->play->text('setting') && (int) $value > $this->allowance()
            ? \sprintf('licensed for %d', $this->allowance())
            : null;
    }

    public function feels(Stimulus $touch): bool
    {
        if (Stimulus::LICENCE !== $touch->what) {
            return false;
        }
        $number = (int) explode('-', $touch->with)[0];
        if ($number < 1 || !hash_equals(self::key($this->hardwareId(), $this->play->text('code'), $number), $touch->with)) {
            return false;
        }
        $this->standIn->state->extra[self::ALLOWED] = (string) $number;

        return true;
    }

    /** What the maker of this stand-in would mail: good for one device, one thing, one number. */
    public static function key(string $hardwareId, string $code, int $number): string
    {
        return $number.'-'.strtoupper(substr(hash('sha256', $hardwareId.'/'.$code.'/'.$number), 0, 12));
    }

    private function hardwareId(): string
    {
        return strtoupper(substr(hash('sha256', 'hardware '.$this->standIn->state->device), 0, 10));
    }

    private function allowance(): int
    {
        return max((int) $this->play->number('included', 0), (int) ($this->standIn->state->extra[self::ALLOWED] ?? 0));
    }
}
