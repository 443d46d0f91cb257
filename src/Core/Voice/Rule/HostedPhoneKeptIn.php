<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Registration;

/** A phone of a provider cannot leave the site, or the provider could not answer it. */
final class HostedPhoneKeptIn implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        foreach ($plan->extensions as $extension) {
            $registrar = $plan->devices[$plan->accountOf($extension->key)->registrar ?? ''] ?? null;
            if (true !== $registrar?->kind->isHosted()) {
                continue;
            }
            foreach ($plan->ringing($extension) as $device) {
                $further = $device === $extension->phone ? null : $device;
                $registration = Registration::of(NetworkAsSet::of($context), $extension, $further);
                // Without a walk it is not the way that is wrong.
                if ($registration->holds || null === $registration->walk) {
                    continue;
                }
                yield new Finding(
                    'hosted-phone-kept-in',
                    Severity::Blocks,
                    Stage::Services,
                    ['devices/'.$device, 'extensions/'.$extension->key, $registrar->record()],
                    $registration->why,
                    new Message('It works at the bench, but cannot reach the provider from its segment on site.'),
                    new Message('Add a filter rule for its port to the uplink, and NAT to a public address.'),
                );
            }
        }
    }
}
