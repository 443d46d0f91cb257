<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Trunk;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Switching;

/** A provider's trunk has no inbound route to the fax server. */
final class FaxWithoutInboundRoute implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        foreach ($plan->trunks as $trunk) {
            $far = $plan->devices[$trunk->far ?? ''] ?? null;
            if (null === $far?->kind->setting('faxTransport') || !self::comesIn($plan, $trunk->pbx) || self::isReached($plan, $trunk)) {
                continue;
            }
            yield new Finding(
                'fax-without-inbound-route',
                Severity::Risk,
                Stage::Services,
                [$far->record(), 'trunks/'.$trunk->key],
                new Message('No inbound route goes to {tag}.', ['tag' => $far->tag]),
                new Message('Outside callers cannot send a fax to this site.'),
                new Message('Add an inbound route to {tag} for each fax number.', ['tag' => $far->tag]),
            );
        }
    }

    /** Whether a provider hands calls in to a PBX at all. */
    private static function comesIn(Plan $plan, string $pbx): bool
    {
        foreach ($plan->inboundRoutes as $route) {
            $trunk = $plan->trunks[$route->trunk] ?? null;
            if (null !== $trunk && null === $trunk->far && $trunk->pbx === $pbx) {
                return true;
            }
        }

        return false;
    }

    private static function isReached(Plan $plan, Trunk $fax): bool
    {
        foreach ($plan->inboundRoutes as $route) {
            $trunk = $plan->trunks[$route->trunk] ?? null;
            $routing = null === $trunk || $trunk->pbx !== $fax->pbx ? null : Switching::of($plan)->forwarded($trunk->pbx, $route->to);
            if (\in_array($fax->key, $routing->route->trunks ?? [], true) || ($routing->ring[0]->phone ?? null) === $fax->far) {
                return true;
            }
        }

        return false;
    }
}
