<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Voice\Registration;

/** An endpoint speaks SIP over another transport than its PBX hears. */
final class TransportsDiffer implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->plan->extensions as $extension) {
            $phone = $ground->plan->devices[$extension->phone ?? ''] ?? null;
            $account = $ground->plan->accountOf($extension->key);
            $pbx = $ground->plan->devices[$account->registrar ?? ''] ?? null;
            if (null === $phone || null === $pbx) {
                continue;
            }
            $speaks = Registration::transportsOf($ground->fabric(), $phone->key);
            $hears = Registration::transportsOf($ground->fabric(), $pbx->key);
            if ([] !== array_intersect($speaks, $hears)) {
                continue;
            }
            $at = ['tag' => $phone->tag, 'pbx' => $pbx->tag, 'speaks' => implode(', ', $speaks), 'hears' => implode(', ', $hears)];
            yield new Finding(
                'transports-differ',
                Weight::Blocks,
                Stage::Services,
                ['devices/'.$phone->key, 'devices/'.$pbx->key],
                new Message('{tag} speaks SIP over {speaks}, {pbx} hears it over {hears} only.', $at),
                new Message('Its registration is never heard: no answer at all, as if the way were cut.'),
                new Message('Set one transport on both ends.'),
            );
        }
    }
}
