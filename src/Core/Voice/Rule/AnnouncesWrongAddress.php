<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\DirectCall;

/** A system that is called by its address announces another one for media than callers can send to. */
final class AnnouncesWrongAddress implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $systems = array_filter(
            $context->plan->devices,
            static fn (Device $one): bool => $one->kind->has(Role::DirectCallee) && null !== $one->nic()?->plannedAddress(),
        );
        $segments = [];
        foreach ($systems as $system) {
            $segments[$system->nic()->segment ?? ''] = true;
        }
        unset($segments['']);
        foreach ($systems as $system) {
            // Without NAT, and with nothing set, it announces the address at which it is dialled.
            if (!self::isTranslated($context->plan, $system) && '' === self::announcedAddress($system)) {
                continue;
            }
            foreach (array_keys($segments) as $segment) {
                $call = DirectCall::of(NetworkAsSet::of($context), OutpostKey::on($segment), $system);
                $isApart = null !== $call->dialled && null !== $call->announced && !$call->dialled->equals($call->announced);
                if (null !== $call->noMedia && $isApart) {
                    yield self::finding($context, $system, (string) $segment, $call);
                    break;
                }
            }
        }
    }

    private static function announcedAddress(Device $system): string
    {
        return null === $system->kind->setting('announcedAddress')
            ? ''
            : $system->setting('announcedAddress')->effective(Face::Set) ?? '';
    }

    private static function isTranslated(Plan $plan, Device $system): bool
    {
        foreach ($plan->translations as $rule) {
            if (null !== $rule->inside && true === $system->nic()?->plannedAddress()?->equals($rule->inside)) {
                return true;
            }
        }

        return false;
    }

    private static function finding(RuleContext $context, Device $system, string $segment, DirectCall $call): Finding
    {
        $at = [
            'tag' => $system->tag,
            'announced' => (string) $call->announced,
            'dialled' => (string) $call->dialled,
            'segment' => NetworkAsSet::of($context)->segmentName($segment),
        ];
        $setting = null === $system->kind->setting('announcedAddress') ? null : $system->setting('announcedAddress');

        return new Finding(
            'announces-wrong-address',
            Severity::Risk,
            Stage::Services,
            [$system->record()],
            new Message('{tag} announces {announced} for media, but callers on {segment} reach it at {dialled}.', $at),
            new Message('The call connects, but the caller\'s picture and sound do not arrive.'),
            new Message('Set the announced address of {tag} to {dialled}.', $at),
            null === $setting ? null : new Change(
                new Message('Announced address of {tag} set to {dialled}.', $at),
                SettingChange::toHold($system->record().'#announcedAddress', $setting, (string) $call->dialled, Face::Planned),
            ),
        );
    }
}
