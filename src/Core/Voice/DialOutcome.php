<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

/** Where a dialled number ends. */
enum DialOutcome: string
{
    case Device = 'device';
    case Group = 'group';
    case Voicemail = 'voicemail';
    case Menu = 'menu';
    case Fax = 'fax';
    case Feature = 'feature';
    case Outside = 'outside';
    /** A provider switches the call: its rules are not known here. */
    case Provider = 'provider';
    case NotReached = 'not-reached';
    case Refused = 'refused';
    /** An emergency number: never dialled. */
    case Barred = 'barred';

    /** Whether a person, or a machine in a person's place, answers. */
    public function isAnswer(): bool
    {
        return match ($this) {
            self::Device, self::Group, self::Menu, self::Fax, self::Outside => true,
            self::Voicemail, self::Feature, self::Provider, self::NotReached, self::Refused, self::Barred => false,
        };
    }

    public function label(): string
    {
        return match ($this) {
            self::Device => 'rings',
            self::Group => 'a group rings',
            self::Voicemail => 'voicemail answers, no device rings',
            self::Menu => 'a menu answers',
            self::Fax => 'a fax machine answers',
            self::Feature => 'a feature of the PBX',
            self::Outside => 'goes outside',
            self::Provider => 'goes to a provider, whose rules are not known here',
            self::NotReached => 'no device rings',
            self::Refused => 'refused',
            self::Barred => 'barred: an emergency number is never dialled as a test',
        };
    }
}
