<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;

/**
 * The number range of a job and extensions in bulk.
 *
 * @phpstan-import-type RowData from Edit
 */
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
            throw Malformed::because('"{start}" is not a number to start from: two to eight digits.', ['start' => $start]);
        }
        $edits = [];
        $number = $start;
        $taken = array_map(static fn (Extension $one): string => $one->number, $plan->extensions);
        $without = array_values(array_filter(
            $plan->devices,
            static fn (Device $device): bool => $device->kind->has(Role::Caller) && [] === $plan->extensionsOf($device->key),
        ));
        foreach ($without as $given => $device) {
            while (\in_array($number, $taken, true)) {
                $number = self::next($number);
            }
            if (!self::isInRange($plan, $number)) {
                throw Malformed::because(
                    '{number} is outside the range {first}-{last} of this job: phones still without a number: {n}.',
                    [
                        'number' => $number,
                        'first' => $plan->job->text('extensionFirst'),
                        'last' => $plan->job->text('extensionLast'),
                        'n' => \count($without) - $given,
                    ],
                );
            }
            $taken[] = $number;
            $edits = [...$edits, ...self::extension($plan, $device, $number, $pbx, $voicemail)];
        }
        if ([] === $edits) {
            throw new Malformed('Every phone of the roster has an extension already.');
        }

        return new Change(new Message('[n extension|extensions] from {start}.', ['n' => \count($without), 'start' => $start]), $edits);
    }

    /**
     * What a new number brings with it: an account at its PBX, where it is SIP.
     *
     * @param RowData $extension
     *
     * @return list<Edit>
     */
    public static function companions(Plan $plan, array $extension): array
    {
        $row = new Row($extension);

        return 'sip' === $row->text('terminal') && isset($plan->devices[$row->text('pbx')])
            ? [self::account($plan, $row->text('number'), $row->text('key'), $row->text('pbx'))]
            : [];
    }

    /**
     * A new number for an extension. If the account's user was the number it changes as well: the file, the registrar's entry and the phone
     * then have the same account. A manual entry at the registrar has to be made again.
     *
     * @return list<Edit>
     */
    public static function renumber(Plan $plan, Extension $extension, string $number): array
    {
        $edits = [Edit::put('extensions', $extension->key, 'number', $extension->number, $number)];
        $account = $plan->accountOf($extension->key);
        if (null !== $account && $account->user === $extension->number) {
            $edits[] = Edit::put('accounts', $account->key, 'user', $account->user, $number);
            $credential = $plan->credential('accounts/'.$account->key, 'sip');
            if (null !== $credential && $credential->user === $extension->number) {
                $edits[] = Edit::put('credentials', $credential->key, 'user', $credential->user, $number);
            }
        }

        return $edits;
    }

    /**
     * The entry at the registrar and the location for emergency calls stay open: neither was marked as done.
     *
     * @param string|null $pbx its key; null if it is not known yet: then the number gets no account
     *
     * @return list<Edit>
     */
    public static function extension(Plan $plan, Device $device, string $number, ?string $pbx, bool $voicemail = false): array
    {
        $key = $plan->freeKey('extensions', 'x'.$number);

        return [
            Edit::add('extensions', [
                'key' => $key,
                'number' => $number,
                'name' => '' === $device->room ? $device->tag : $device->room,
                'pbx' => $pbx,
                'terminal' => 'sip',
                'phone' => $device->key,
                'voicemail' => $voicemail,
                'location' => null,
                'factoryMade' => false,
            ]),
            ...null === $pbx ? [] : [self::account($plan, $number, $key, $pbx)],
        ];
    }

    /** @return RowData one more terminal of a number, as a record; not yet entered at the registrar */
    public static function terminal(Plan $plan, string $extension, string $device): array
    {
        return [
            // The device's own key may be long, and two of them begin alike.
            'key' => $plan->freeKey('terminals', $extension.'-'.(\strlen($device) > 30 ? hash('crc32b', $device) : $device)),
            'extension' => $extension,
            'device' => $device,
            'macEntered' => null,
            'enteredAt' => null,
        ];
    }

    private static function account(Plan $plan, string $number, string $extension, string $pbx): Edit
    {
        return Edit::add('accounts', [
            'key' => $plan->freeKey('accounts', 'a'.$number),
            'extension' => $extension,
            'registrar' => $pbx,
            'user' => $number,
            'macEntered' => null,
            'enteredAt' => null,
        ]);
    }

    private static function next(string $number): string
    {
        return str_pad((string) ((int) $number + 1), \strlen($number), '0', \STR_PAD_LEFT);
    }
}
