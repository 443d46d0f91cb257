<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Message;

/** An analogue extension is planned where no analogue port or module is fitted. */
final class AnalogueWithoutPort implements Rule
{
    public function find(Ground $ground): iterable
    {
        $wanted = [];
        foreach ($ground->plan->extensions as $extension) {
            if ('analogue' === $extension->terminal) {
                $wanted[$extension->pbx ?? ''][] = $extension;
            }
        }
        foreach ($wanted as $key => $extensions) {
            $pbx = $ground->plan->devices[$key] ?? null;
            $ports = ($pbx->analoguePorts ?? 0) + ($pbx->kind->analoguePorts ?? 0);
            if (\count($extensions) <= $ports) {
                continue;
            }
            $numbers = array_map(static fn (Extension $extension): string => $extension->number, \array_slice($extensions, $ports));
            $at = ['numbers' => implode(', ', $numbers), 'pbx' => $pbx->tag ?? '?', 'ports' => $ports, 'n' => \count($extensions)];
            yield new Finding(
                'analogue-without-port',
                Weight::Blocks,
                Stage::Services,
                [...array_map(static fn (Extension $extension): string => 'extensions/'.$extension->key, \array_slice($extensions, $ports)), ...(null === $pbx ? [] : ['devices/'.$pbx->key])],
                new Message('{numbers}: planned as analogue ({n}), and {pbx} has analogue ports: {ports}.', $at),
                new Message('There is nothing to plug them into, and the module takes days to come.'),
                new Message('Order a module for {pbx}, or plan them as SIP.', $at),
            );
        }
    }
}
