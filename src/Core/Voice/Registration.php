<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RegistrarEntry;
use Vorhut\Core\Text\Message;

/** Will the phone of an extension register, and if not, why? */
final readonly class Registration
{
    public const SIP_PORT = 5060;
    public const SIPS_PORT = 5061;
    /** Somewhere outside of every site (RFC 5737): where a provider stands is its own business. */
    public const ELSEWHERE = '192.0.2.1';

    private function __construct(public bool $holds, public Message $why, public Facts $facts, public ?Walk $walk = null)
    {
    }

    /** @param string|null $device one of its further terminals; null for its phone */
    public static function of(NetworkModel $model, Extension $extension, ?string $device = null): self
    {
        $plan = $model->plan;
        $facts = new Facts();
        $at = ['number' => $extension->number];
        if (null === $device) {
            $facts->note('extensions/'.$extension->key.':phone', $extension->phone);
        }
        $phone = $plan->devices[$device ?? $extension->phone ?? ''] ?? null;
        if (null === $phone) {
            return new self(false, new Message('No phone is given to {number}.', $at), $facts);
        }
        $at['phone'] = $phone->tag;
        $account = $plan->accountOf($extension->key);
        $registrar = $plan->devices[$account->registrar ?? ''] ?? null;
        $facts->note('extensions/'.$extension->key.':account', $account?->key);
        if (null === $account || null === $registrar) {
            return new self(false, new Message('{number} has no account at a registrar.', $at), $facts);
        }
        $at['registrar'] = $registrar->tag;
        $facts->note('accounts/'.$account->key.':registrar', $account->registrar);
        $why = self::entryFault($plan, $extension, $phone, $at, $facts);
        if (null !== $why) {
            return new self(false, $why, $facts);
        }
        $speaks = self::transportsOf($model, $phone->key, $facts);
        $hears = self::transportsOf($model, $registrar->key, $facts);
        $common = array_values(array_intersect($speaks, $hears));
        if ([] === $common) {
            $at += ['speaks' => implode(', ', $speaks), 'hears' => implode(', ', $hears)];
            $why = new Message('{phone} speaks SIP over {speaks}, {registrar} hears it over {hears} only.', $at);

            return new self(false, $why, $facts);
        }
        $hearsAt = self::hearsAt($registrar, $model->face, $facts);
        $speaksTo = self::speaksTo($phone, $model->face, $facts) ?? $hearsAt->number;
        if (!$registrar->kind->isHosted() && $speaksTo !== $hearsAt->number) {
            $at += ['spoken' => $speaksTo, 'heard' => $hearsAt->number];

            return new self(false, new Message('{phone} speaks to SIP port {spoken}, {registrar} hears at {heard}.', $at), $facts);
        }

        return $registrar->kind->isHosted()
            ? self::outside($model, $phone, $common[0], $at, $facts)
            : self::inside(
                $model,
                $phone,
                $registrar,
                Port::of(Transport::tryFrom($common[0]) ?? Transport::Tcp, $hearsAt->number),
                $at,
                $facts,
            );
    }

    /**
     * @param array<string, string> $at
     *
     * @return Message|null why the registrar does not know the phone
     */
    private static function entryFault(Plan $plan, Extension $extension, Device $phone, array $at, Facts $facts): ?Message
    {
        $mac = $phone->nic()?->mac;
        $entry = RegistrarEntry::of($plan, $extension, $phone->key);
        $entry?->note($facts);
        $facts->note('nics/'.($phone->nic()->key ?? '').':mac', null === $mac ? null : (string) $mac);

        return match (true) {
            true !== $entry?->isEntered() => new Message(
                false === $entry?->needsMac()
                    ? 'The account of {number} is not entered at {registrar} yet: {phone} cannot sign in.'
                    : 'The MAC of {phone} is not entered at {registrar} yet: it boots, fetches, and shows no service.',
                $at,
            ),
            $entry->isOfAnother() => new Message('At {registrar} another MAC than that of {phone} is entered for {number}.', $at),
            default => null,
        };
    }

    /** @param array<string, string> $at */
    private static function inside(NetworkModel $model, Device $phone, Device $registrar, Port $port, array $at, Facts $facts): self
    {
        $walk = Walker::between($model, $phone->key, $registrar->key, $port);
        $facts->take($walk->facts);
        if ($walk->holds()) {
            return new self(true, new Message('{phone} registers {number} at {registrar}.', $at), $facts, $walk);
        }
        $at += ['reason' => (string) $walk->brokenHop()?->text];

        return new self(false, new Message('{phone} does not reach {registrar}: {reason}', $at), $facts, $walk);
    }

    /**
     * At a provider: a packet that leaves the site with an address that can be answered arrives there.
     *
     * @param array<string, string> $at
     */
    private static function outside(NetworkModel $model, Device $phone, string $transport, array $at, Facts $facts): self
    {
        $port = self::portOver($transport);
        $way = Walker::leaving($model, $phone->key, Ipv4::fromString(self::ELSEWHERE), $port);
        $facts->take($way->walk->facts);
        $at += ['port' => (string) $port, 'seen' => (string) $way->seenAs];
        if (!$way->leaves) {
            $why = new Message(
                '{phone} does not get out of the site on {port}: {reason}',
                $at + ['reason' => $way->walk->brokenHop()->text ?? new Message('')],
            );

            return new self(false, $why, $facts, $way->walk);
        }

        return $way->isAnswerable()
            ? new self(true, new Message('{phone} registers {number} at {registrar}, outside, seen there as {seen}.', $at), $facts)
            : new self(
                false,
                new Message('{phone} leaves the site with the address {seen}, which cannot be answered from outside.', $at),
                $facts,
                $way->walk,
            );
    }

    /** The account of an extension, tried by an outpost from its own place: what counts is the entry at the registrar and the way to it. */
    public static function fromOutpost(NetworkModel $model, Extension $extension, string $outpost): self
    {
        $facts = new Facts();
        $account = $model->plan->accountOf($extension->key);
        $registrar = $model->plan->devices[$account->registrar ?? ''] ?? null;
        $facts->note('extensions/'.$extension->key.':account', $account?->key);
        $at = ['number' => $extension->number, 'registrar' => $registrar->tag ?? '?'];
        if (null === $account || null === $registrar) {
            return new self(false, new Message('{number} has no account at a registrar.', $at), $facts);
        }
        $walk = Walker::between($model, $outpost, $registrar->key, self::hearsAt($registrar, $model->face, $facts));
        $facts->take($walk->facts);
        $entry = RegistrarEntry::ofNumber($model->plan, $extension);
        $entry?->note($facts);
        if (!$walk->holds()) {
            return new self(false, $walk->brokenHop()->text ?? new Message(''), $facts, $walk);
        }

        return true !== $entry?->isEntered()
            ? new self(false, new Message('The entry for {number} does not stand at {registrar} yet.', $at), $facts, $walk)
            : new self(true, new Message('The entry for {number} stands at {registrar}, and the way there holds.', $at), $facts, $walk);
    }

    /** The usual SIP port over a transport (RFC 3261 §19.1.2). */
    public static function portOver(string $transport): Port
    {
        return Port::of(Transport::tryFrom($transport) ?? Transport::Tcp, 'tls' === $transport ? self::SIPS_PORT : self::SIP_PORT);
    }

    /** Where a registrar hears SIP over UDP. */
    public static function hearsAt(?Device $registrar, Face $face, ?Facts $facts = null): Port
    {
        $service = $registrar?->serviceNamed('sip', $face);
        if (null !== $service && $service !== $registrar->kind->serviceNamed('sip')) {
            $facts?->note($registrar->record().':sip', (string) $service->port);
        }

        return $service->port ?? Port::udp(self::SIP_PORT);
    }

    /** The port that a phone was told; null where its kind has no such setting. */
    private static function speaksTo(Device $phone, Face $face, Facts $facts): ?int
    {
        $setting = $phone->kind->setting('registrarPort');
        $value = null === $setting ? null : $phone->setting('registrarPort')->effective($face);
        // A default of the kind is not a fact of this job, and tests from before it was set stay valid.
        if ($value !== ($setting->default ?? null)) {
            $facts->note($phone->record().':registrarPort', $value);
        }

        return null === $value ? null : Port::tryFromString($value.'/udp')?->number;
    }

    /**
     * What a device speaks SIP over: as it was told, else as its kind does.
     *
     * @return list<string>
     */
    public static function transportsOf(NetworkModel $model, string $device, ?Facts $facts = null): array
    {
        $one = $model->plan->devices[$device] ?? null;
        $value = $one?->setting('transport');
        $speaks = $value?->effective($model->face);
        // A default of the kind is not a fact of this job, even if it was set again.
        $facts?->note(
            'devices/'.$device.':transport',
            $speaks === ($one?->kind->setting('transport')->default ?? null) ? null : $speaks,
        );

        return null === $speaks ? [] : ValueType::List->parts(strtolower($speaks));
    }
}
