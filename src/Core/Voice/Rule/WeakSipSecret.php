<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\SipSecret;

/** The SIP secret of an account is short or easy to guess. */
final class WeakSipSecret implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->credentials() as $credential) {
            $weakness = 'sip' === $credential->purpose ? SipSecret::weakness($credential) : null;
            if (null !== $weakness) {
                yield new Finding(
                    'weak-secret',
                    Severity::Risk,
                    Stage::Services,
                    [$credential->owner],
                    new Message('The SIP secret of {user} is weak: {why}.', ['user' => $credential->user, 'why' => $weakness]),
                    new Message("An attacker who guesses it can make calls at the customer's cost."),
                    new Message('Generate a new secret, enter it at the registrar, and have the phone fetch its file again.'),
                );
            }
        }
    }
}
