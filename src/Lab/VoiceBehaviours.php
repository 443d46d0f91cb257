<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\FileShape;

/** PBX, telephones, fax machines and conferencing codecs. */
final class VoiceBehaviours implements BehaviourSource
{
    public function of(Simulation $simulation, StandIn $standIn, Ipv4 $address): iterable
    {
        $network = $simulation->network();
        $kind = $standIn->kind;
        if ($kind->has(Role::Registrar)) {
            yield static fn (): Behaviour => new Pbx(
                $network,
                $standIn,
                $address,
                $simulation->directory(...),
                $simulation->plan(...),
                static fn (): string => self::wallTime($simulation->plan()),
            );
        }
        if ($kind->has(Role::Caller) && $kind->has(Role::FileClient)) {
            yield static fn (): Behaviour => new Phone(
                $network,
                $standIn,
                $address,
                self::fileUrl($simulation, $standIn),
                self::fileServer($simulation->plan()),
                $simulation->sealedFiles(...),
            );
        }
        if (null !== $kind->setting('faxTransport')) {
            yield static fn (): Behaviour => new FaxMachine($network, $standIn, $address);
        } elseif ($kind->has(Role::DirectCallee) || self::isAtTheFarEnd($simulation->plan(), $standIn)) {
            yield static fn (): Behaviour => new Codec($network, $standIn, $address);
        }
    }

    /** The hour of the site, as its PBX has it. */
    private static function wallTime(Plan $plan): string
    {
        $zone = $plan->job->text('timeZone');
        try {
            return (new \DateTimeImmutable('now', new \DateTimeZone('' === $zone ? 'UTC' : $zone)))->format('Y-m-d H:i');
        } catch (\Exception) {
            return gmdate('Y-m-d H:i');
        }
    }

    /** Empty for a phone that was not told where its file is: `vorhut`, in the plan's words. */
    private static function fileUrl(Simulation $simulation, StandIn $standIn): string
    {
        if (FileAddress::HERE !== $standIn->state->get('provisioning')) {
            return '';
        }

        return $simulation->fileUrl().$standIn->state->mac.'.'.FileShape::ofTemplate($standIn->kind->provisioning)->value;
    }

    /** The laptop of the job, which serves files where it has an address. */
    private static function fileServer(Plan $plan): ?string
    {
        $laptop = $plan->devices[$plan->job->text('laptop')] ?? null;

        return null === $laptop?->nic()?->setting('address')->effective(Face::Set) ? null : $laptop->key;
    }

    /** A trunk of a PBX leads to it, and it is none itself: a fax server. */
    private static function isAtTheFarEnd(Plan $plan, StandIn $standIn): bool
    {
        foreach ($plan->trunks as $trunk) {
            if ($trunk->far === $standIn->state->device) {
                return !$standIn->kind->has(Role::Registrar);
            }
        }

        return false;
    }
}
