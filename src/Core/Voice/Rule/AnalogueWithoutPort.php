<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** An analogue extension is planned where no analogue port or module is fitted. */
final class AnalogueWithoutPort implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $wanted = [];
        foreach ($context->plan->extensions as $extension) {
            if ('analogue' === $extension->terminal) {
                $wanted[$extension->pbx ?? ''][] = $extension;
            }
        }
        foreach ($wanted as $key => $extensions) {
            $pbx = $context->plan->devices[$key] ?? null;
            $ports = null === $pbx ? 0 : (int) $pbx->setting('analoguePorts')->effective(Face::Set);
            if (\count($extensions) <= $ports) {
                continue;
            }
            $numbers = array_map(static fn (Extension $extension): string => $extension->number, \array_slice($extensions, $ports));
            $at = ['numbers' => implode(', ', $numbers), 'pbx' => $pbx->tag ?? '?', 'ports' => $ports, 'n' => \count($extensions)];
            yield new Finding(
                'analogue-without-port',
                Severity::Blocks,
                Stage::Services,
                [
                    ...array_map(
                        static fn (Extension $extension): string => 'extensions/'.$extension->key,
                        \array_slice($extensions, $ports),
                    ),
                    ...(null === $pbx ? [] : ['devices/'.$pbx->key]),
                ],
                new Message(
                    '{pbx} has [ports analogue port|analogue ports] for [n analogue number|analogue numbers]. Without a port: {numbers}.',
                    $at,
                ),
                new Message('The phones cannot be connected, and delivery of a module takes days.'),
                new Message('Order a module for {pbx}, or plan them as SIP.', $at),
            );
        }
    }
}
