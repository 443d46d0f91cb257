<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Dialling;

use libphonenumber\NumberParseException;
use libphonenumber\PhoneNumber;
use libphonenumber\PhoneNumberFormat;
use libphonenumber\PhoneNumberUtil;
use libphonenumber\ShortNumberInfo;
use Vorhut\Core\Net\Malformed;

/** A number of the public network (ITU-T E.164), read as people of a country write it. */
final readonly class OutsideNumber implements \Stringable
{
    private function __construct(private PhoneNumber $number)
    {
    }

    /**
     * @param string $country of the site, two letters (ISO 3166-1), for numbers without a country code
     *
     * @throws Malformed
     */
    public static function fromString(string $text, string $country = ''): self
    {
        try {
            $number = PhoneNumberUtil::getInstance()->parse(trim($text), '' === $country ? null : strtoupper($country));
        } catch (NumberParseException) {
            throw Malformed::because(
                '"{text}" is not a public telephone number: write it with its country code, as +47 21 00 00 00.',
                ['text' => mb_substr(trim($text), 0, 40)],
            );
        }
        // Numbers reserved for books and films are unassigned, and not valid in the table of ranges: only the length is checked.
        if (!PhoneNumberUtil::getInstance()->isPossibleNumber($number)) {
            throw Malformed::because(
                '"{text}" is too short or too long for a number of its country.',
                ['text' => mb_substr(trim($text), 0, 40)],
            );
        }

        return new self($number);
    }

    public static function tryFromString(string $text, string $country = ''): ?self
    {
        try {
            return self::fromString($text, $country);
        } catch (Malformed) {
            return null;
        }
    }

    /** Whether a short number rings the emergency centre in a country; null where the country is not known. */
    public static function isEmergency(string $digits, string $country): ?bool
    {
        return \in_array(strtoupper($country), PhoneNumberUtil::getInstance()->getSupportedRegions(), true)
            ? ShortNumberInfo::getInstance()->isEmergencyNumber($digits, strtoupper($country))
            : null;
    }

    /** As sent: +4721000000. */
    public function __toString(): string
    {
        return PhoneNumberUtil::getInstance()->format($this->number, PhoneNumberFormat::E164);
    }

    /** As it is dialled within its country: 21 00 00 00, without the blanks. */
    public function national(): string
    {
        return preg_replace('/[^0-9*#]/', '', PhoneNumberUtil::getInstance()->format($this->number, PhoneNumberFormat::NATIONAL)) ?? '';
    }
}
