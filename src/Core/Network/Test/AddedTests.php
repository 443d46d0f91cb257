<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Test;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Text\Message;

/** Tests that a person added to the plan. */
final readonly class AddedTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Reach];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach ($plan->tests as $added) {
            $to = $plan->deviceTagged($added->to);
            if (TestKind::Reach->value === $added->what && null !== $to && isset($plan->segments[$added->from])) {
                $port = Port::fromString('' === $added->port ? '80/tcp' : $added->port);
                $covers = new Message('Added by hand. {note}', ['note' => $added->note]);
                $tests[] = AccessTests::reach($predictions, $plan, $to, $added->from, $port, $covers, $added->mustAnswer);
            }
        }

        return $tests;
    }
}
