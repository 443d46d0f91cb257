<?php

declare(strict_types=1);

namespace Vorhut\Core\Text;

final readonly class GlossaryTerm
{
    public function __construct(public Message $term, public Message $meaning)
    {
    }
}
