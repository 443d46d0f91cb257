<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** How a device writes names and values down: in what it says of itself, and in what it is told. */
enum BodyShape: string
{
    case Form = 'form';
    case Json = 'json';
    case Lines = 'lines';
    case Xml = 'xml';

    /** The media type (RFC 6838). */
    public function mediaType(): string
    {
        return match ($this) {
            self::Form => 'application/x-www-form-urlencoded',
            self::Json => 'application/json',
            self::Lines => 'text/plain',
            self::Xml => 'application/xml',
        };
    }
}
