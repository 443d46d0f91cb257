<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Walk\DeadRules;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;

/** A rule of a filter that no packet ever comes to. */
final class RuleNeverMatches implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach (DeadRules::of(NetworkAsSet::of($context)) as $rule) {
            $row = $context->plan->row('filters', $rule->key) ?? [];
            $at = [
                'n' => $rule->position,
                'router' => $context->plan->devices[$rule->router]->tag ?? $rule->router,
                'action' => new Message($rule->allows ? 'allow' : 'deny'),
            ];
            yield new Finding(
                'rule-never-matches',
                $rule->allows ? Severity::Note : Severity::Risk,
                Stage::Networks,
                ['devices/'.$rule->router, 'filters/'.$rule->key],
                new Message('Rule {n} of {router} ({action}) never matches.', $at),
                new Message('Earlier rules decide all its packets, or the router has no interface there.'),
                new Message('Move rule {n} of {router} before the rule that covers it, or remove it.', $at),
                new Change(new Message('Rule {n} of {router} removed.', $at), [Edit::remove('filters', $row)]),
                button: new Message('Remove rule {n} of {router}.', $at),
            );
        }
    }
}
