<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** Calls to the emergency centre carry no number at which they can be called back. */
final class NoCallbackNumber implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        foreach ($plan->trunks as $trunk) {
            if (!$trunk->emergency || '' !== $trunk->callerId) {
                continue;
            }
            $without = array_values(array_filter(
                $plan->extensions,
                static fn ($extension): bool => $extension->pbx === $trunk->pbx
                    && null !== $extension->phone && '' === $extension->callerId,
            ));
            if ([] === $without) {
                continue;
            }
            yield new Finding(
                'no-callback-number',
                Severity::Risk,
                Stage::Services,
                ['trunks/'.$trunk->key, 'extensions/'.$without[0]->key],
                new Message('Emergency calls over {trunk} have no caller ID: [n phone has|phones have] none, and the trunk has none.', [
                    'trunk' => $trunk->name,
                    'n' => \count($without),
                ]),
                new Message('The emergency centre cannot call back if the call is cut off.'),
                new Message('Set a caller ID on {trunk} that is answered on site.', ['trunk' => $trunk->name]),
            );
        }
    }
}
