<?php

declare(strict_types=1);

namespace Vorhut\Core\Text;

/** The actions of a step: each sentence is one. */
final class Actions
{
    /** @return non-empty-list<string> in the order in which they are done */
    public static function in(string $text): array
    {
        $actions = preg_split('/(?<=[.!])\s+(?=\p{Lu})/u', trim($text)) ?: [];

        return [] === $actions ? [$text] : $actions;
    }
}
