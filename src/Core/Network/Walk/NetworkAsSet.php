<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;

/** The network as it was set up, else as planned: one model for all rules of a context. */
final class NetworkAsSet
{
    public static function of(RuleContext $context): NetworkModel
    {
        return $context->once(NetworkModel::class, self::model(...)) ?? self::model($context->plan);
    }

    private static function model(Plan $plan): NetworkModel
    {
        return NetworkModel::of($plan, Face::Set);
    }
}
