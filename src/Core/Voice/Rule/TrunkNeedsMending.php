<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Plan\Trunk;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\TrunkWay;

/** Calls do not come through a trunk one way or the other, or come through without sound. */
final class TrunkNeedsMending implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        /** @var array<string, array{string, Message, Message, non-empty-list<Trunk>, Change|null}> $found */
        $found = [];
        foreach ($plan->trunks as $trunk) {
            // The address of the far end is one of the questions to the provider.
            if (null === $trunk->far && null === $trunk->address) {
                continue;
            }
            $way = TrunkWay::of(NetworkAsSet::of($context), $trunk);
            $why = $way->outward ?? $way->inward;
            if (null !== $why) {
                $code = null === $way->outward ? 'trunk-does-not-come-in' : 'trunk-does-not-go-out';
                self::put($found, $code, null === $way->outward
                    ? 'No calls come in over {trunks}: {why}'
                    : 'No calls go out over {trunks}: {why}', $trunk, $why, null);
            }
            if (null === $way->outward) {
                foreach ($way->sound as $i => $deaf) {
                    $announce = 0 === $i ? $way->announce : null;
                    $cure = null === $announce ? null : self::announceAddress($context, $trunk, (string) $announce);
                    self::put($found, 'trunk-without-sound', 'Calls over {trunks} have one-way audio: {why}', $trunk, $deaf, $cure);
                }
            }
        }
        foreach ($found as $key => [$code, $what, $why, $trunks, $cure]) {
            $names = implode(', ', array_map(static fn (Trunk $one): string => $one->name, $trunks));
            yield new Finding(
                $code,
                Severity::Blocks,
                Stage::Services,
                array_values(array_unique([
                    ...array_map(static fn (Trunk $one): string => 'trunks/'.$one->key, $trunks),
                    ...array_map(static fn (Trunk $one): string => 'devices/'.($one->far ?? $one->pbx), $trunks),
                    'devices/'.$trunks[0]->pbx,
                ])),
                new Message($what->text, ['trunks' => $names, 'why' => $why]),
                new Message('The fault shows only with the first outside call.'),
                $cure->why ?? new Message('Fix the listed problems together with the provider and the administrator.'),
                $cure,
                hash('crc32b', (string) $key),
            );
        }
    }

    /**
     * A finding common to several trunks of a PBX is reported once.
     *
     * @param array<string, array{string, Message, Message, non-empty-list<Trunk>, Change|null}> $found
     */
    private static function put(array &$found, string $code, string $what, Trunk $trunk, Message $why, ?Change $cure): void
    {
        $key = "$trunk->pbx $code $why";
        $found[$key] = isset($found[$key])
            ? [$code, new Message($what), $why, [...$found[$key][3], $trunk], $cure]
            : [$code, new Message($what), $why, [$trunk], $cure];
    }

    private static function announceAddress(RuleContext $context, Trunk $trunk, string $address): ?Change
    {
        $pbx = $context->plan->devices[$trunk->pbx];
        if (null === $pbx->kind->setting('announcedAddress')) {
            return null;
        }

        return new Change(
            new Message('Announced address of {pbx} set to {address}.', ['pbx' => $pbx->tag, 'address' => $address]),
            SettingChange::toHold($pbx->record().'#announcedAddress', $pbx->setting('announcedAddress'), $address, Face::Planned),
        );
    }
}
