<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** What findings state, without the words in which they state it. */
final class Facts
{
    /** @return array<string, string> code → severity, then the values in the order of the sentence */
    public static function of(Plan $plan, string ...$codes): array
    {
        $facts = [];
        foreach (Findings::of($plan, ShippedRules::all())->all as $one) {
            if (\in_array($one->code, $codes, true)) {
                $facts[$one->code] = $one->severity->value.self::values($one->what);
            }
        }

        return $facts;
    }

    private static function values(Message $what): string
    {
        preg_match_all('/[{\[](\w+)/', $what->text, $places);
        $text = '';
        foreach (array_unique($places[1]) as $name) {
            $value = $what->with[$name] ?? '';
            $text .= " $name=$value";
        }

        return $text;
    }
}
