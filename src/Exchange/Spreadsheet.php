<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Symfony\Component\Serializer\Encoder\CsvEncoder;

/** A table as a file for any spreadsheet (RFC 4180). Formulas stay text: a tag may begin with = or +. */
final class Spreadsheet
{
    /** @param list<array<string, mixed>> $rows the names of the first are the head */
    public static function csv(array $rows): string
    {
        return (new CsvEncoder())->encode($rows, 'csv', [CsvEncoder::ESCAPE_FORMULAS_KEY => true, CsvEncoder::END_OF_LINE => "\r\n"]);
    }
}
