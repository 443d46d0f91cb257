<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Plan\Translation;
use Vorhut\Core\Plan\TranslationKind;
use Vorhut\Core\Text\Message;

/** A translation cannot work: no device inside, an outside address that is not its router's, or no interface. */
final class TranslationLeadsNowhere implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->translations as $rule) {
            $why = $this->why($context, $rule);
            if (null !== $why) {
                yield new Finding(
                    'translation-leads-nowhere',
                    Severity::Risk,
                    Stage::Networks,
                    ['devices/'.$rule->router, 'translations/'.$rule->key],
                    $why,
                    new Message('Nothing arrives from outside, or audio goes one way only.'),
                    new Message('Ask the administrator for the right address, or remove the translation.'),
                );
            }
        }
    }

    private function why(RuleContext $context, Translation $rule): ?Message
    {
        $model = NetworkAsSet::of($context);
        $segment = $context->plan->segments[$rule->outside] ?? null;
        $at = [
            'router' => $context->plan->devices[$rule->router]->tag ?? $rule->router,
            'segment' => $segment->name ?? $rule->outside,
            'address' => (string) $rule->address,
            'inside' => (string) $rule->inside,
            'n' => $rule->position,
        ];
        $ports = array_filter($model->ports($rule->router), static fn ($port): bool => $port->segment === $rule->outside);
        if ([] === $ports) {
            return new Message('{router} translates to {segment} ({n}), but has no interface there.', $at);
        }
        if (TranslationKind::Source !== $rule->what && null === $rule->inside) {
            return new Message('{router} has a translation ({n}) without an inside address.', $at);
        }
        if (null !== $rule->inside && [] === $model->allHolders($rule->inside)) {
            return new Message('{router} translates ({n}) for {inside}, but no device of this job has this address.', $at);
        }
        if (null !== $rule->address && null !== $segment && !$segment->network->contains($rule->address)) {
            return new Message('{router} translates ({n}) to {address}, which is not in the network of {segment}.', $at);
        }

        return null;
    }
}
