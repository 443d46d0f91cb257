<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\Option;

/** What every command that computes from a document is given. */
final class DocumentInput
{
    #[Argument('a job document, or - for standard input')]
    public string $file;
    #[Option('text or json')]
    public string $format = 'text';
}
