<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Faced;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Nic;

/** A value was typed other than planned; near-miss digits are named as what they are. */
final class TypedOtherThanPlanned implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->nics() as [$device, $nic]) {
            if ('laptop' === $device->kind->family) {
                continue;
            }
            foreach (['address', 'mask', 'gateway', 'dns'] as $field) {
                $value = $nic->value($field);
                // A blank gateway is a mistake of its own, with its own rule.
                if (null === $value->set || null === $value->planned || $value->set === $value->planned || ('gateway' === $field && '' === $value->set)) {
                    continue;
                }
                yield self::finding($device, $nic, $field, $value);
            }
        }
    }

    private static function finding(Device $device, Nic $nic, string $field, Faced $value): Finding
    {
        $planned = (string) $value->planned;
        $set = (string) $value->set;
        $near = self::nearMiss($planned, $set);
        $at = ['tag' => $device->tag, 'field' => $field, 'set' => $set, 'planned' => $planned, 'by' => $value->setBy ?? '?'];

        return new Finding(
            'typed-other-than-planned',
            Weight::Blocks,
            Stage::Bench,
            ['devices/'.$device->key, 'nics/'.$nic->key],
            new Message(null === $near ? '{tag}: {field} was set to {set}, planned is {planned}.' : '{tag}: {field} was set to {set}, planned is {planned}: '.$near, $at),
            new Message('The device takes a wrong value without a word and is deaf from then on, or answers where nobody asks.'),
            new Message('Type {planned} into {tag} and mark it again.', $at),
            new Change(new Message('{tag}: {field} set to {planned}.', $at), [
                Edit::value('nics/'.$nic->key, $field, Face::Set, $value->set, $value->planned),
                ...(null === $value->seen || $value->seen === $planned ? [] : [Edit::value('nics/'.$nic->key, $field, Face::Seen, $value->seen, null)]),
            ]),
        );
    }

    /** How the typing went wrong, where it can be told: two neighbours swapped, one digit wrong, missing or too many. */
    public static function nearMiss(string $planned, string $set): ?string
    {
        if (null === Ipv4::tryFromString($planned) || null === Ipv4::tryFromString($set)) {
            return null;
        }
        for ($i = 0; $i < \strlen($planned) - 1; ++$i) {
            $swapped = $planned;
            [$swapped[$i], $swapped[$i + 1]] = [$planned[$i + 1], $planned[$i]];
            if ($swapped === $set) {
                return 'two neighbours swapped.';
            }
        }
        if (1 !== levenshtein($planned, $set)) {
            return null;
        }

        return match (\strlen($set) <=> \strlen($planned)) {
            0 => 'one digit is wrong.',
            -1 => 'one digit is missing.',
            default => 'one digit too many.',
        };
    }
}
