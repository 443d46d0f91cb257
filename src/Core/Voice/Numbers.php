<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Plan;

/** The number range of a job and extensions in bulk. */
final class Numbers
{
    public static function isInRange(Plan $plan, string $number): bool
    {
        $first = $plan->job->text('extensionFirst');
        $last = $plan->job->text('extensionLast');

        return '' === $first || '' === $last || (\strlen($number) === \strlen($first) && $number >= $first && $number <= $last);
    }

    /**
     * Extensions from a start number, one for each phone that has none, in roster order; with an account at the PBX for each.
     *
     * @throws Malformed where there is nothing to number or the range ends
     */
    public static function bulk(Plan $plan, string $start, string $pbx, bool $voicemail): Change
    {
        if (1 !== preg_match('/^[0-9]{2,8}$/D', $start)) {
            throw new Malformed(\sprintf('"%s" is not a number to start from: two to eight digits.', $start));
        }
        $edits = [];
        $number = $start;
        $taken = array_map(static fn (Extension $one): string => $one->number, $plan->extensions);
        foreach ($plan->devices as $device) {
            if (!$device->kind->isPhone() || [] !== $plan->extensionsOf($device->key)) {
                continue;
            }
            while (\in_array($number, $taken, true)) {
                $number = self::next($number);
            }
            if (!self::isInRange($plan, $number)) {
                throw new Malformed(\sprintf('%s is outside the range %s-%s of this job: %d phones are still without a number.', $number, $plan->job->text('extensionFirst'), $plan->job->text('extensionLast'), \count($plan->devices)));
            }
            $taken[] = $number;
            $key = $plan->freeKey('extensions', 'x'.$number);
            $edits[] = Edit::add('extensions', ['key' => $key, 'number' => $number, 'name' => '' === $device->room ? $device->tag : $device->room, 'pbx' => $pbx, 'terminal' => 'sip', 'phone' => $device->key, 'voicemail' => $voicemail, 'location' => '' === $device->room ? null : $device->room, 'factoryMade' => false]);
            $mac = $device->nic()?->mac;
            $edits[] = Edit::add('accounts', ['key' => $plan->freeKey('accounts', 'a'.$number), 'extension' => $key, 'registrar' => $pbx, 'user' => $number, 'macEntered' => null === $mac ? null : (string) $mac, 'enteredAt' => null]);
        }
        if ([] === $edits) {
            throw new Malformed('Every phone of the roster has an extension already.');
        }

        return new Change(new Message('{n} extensions from {start}.', ['n' => intdiv(\count($edits), 2), 'start' => $start]), $edits);
    }

    private static function next(string $number): string
    {
        return str_pad((string) ((int) $number + 1), \strlen($number), '0', \STR_PAD_LEFT);
    }
}
