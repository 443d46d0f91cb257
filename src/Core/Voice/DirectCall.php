<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** A call to a system by its address, without a registrar: at which address it is dialled from there, and whether media goes both ways. */
final readonly class DirectCall
{
    /**
     * @param Ipv4|null    $dialled   the address that the caller dials: the system's own, or its outside address behind NAT; null where no
     *     call reaches it
     * @param Walk         $walk      of the INVITE; where media fails, of the media
     * @param Message|null $noMedia   why media does not go both ways; null where it does
     * @param Ipv4|null    $announced the address that the system tells callers to send media to
     */
    private function __construct(
        public ?Ipv4 $dialled,
        public Walk $walk,
        public Facts $facts,
        public ?Message $noMedia = null,
        public ?Ipv4 $announced = null,
    ) {
    }

    /** @param string $from device key, or `outposts/SEGMENT` */
    public static function of(NetworkModel $model, string $from, Device $system): self
    {
        $facts = new Facts();
        $walk = Walker::between($model, $from, $system->key, Port::udp(Registration::SIP_PORT));
        $facts->take($walk->facts);
        $dialled = $walk->asked;
        if (!$walk->holds() || !$dialled instanceof Ipv4) {
            return new self(null, $walk, $facts);
        }
        $own = Ipv4::tryFromString($system->nic()?->setting('address')->effective($model->face) ?? '');
        $set = null === $system->kind->setting('announcedAddress')
            ? null
            : $system->setting('announcedAddress')->effective($model->face);
        $facts->note($system->record().':announcedAddress', $set);
        // To a caller who reaches it at its own address it announces that one.
        $announced = true === $own?->equals($dialled) ? $own : Ipv4::tryFromString($set ?? '') ?? $own ?? $dialled;
        $media = Port::udp(Dial::MEDIA_PORT);
        $there = Walker::at($model, $from, $system->key, $media, $announced);
        $facts->take($there->facts);
        $at = [
            'tag' => $system->tag,
            'announced' => (string) $announced,
            'dialled' => (string) $dialled,
            'reason' => $there->brokenHop()->text ?? new Message(''),
        ];
        if (!$there->holds()) {
            return new self($dialled, $there, $facts, $announced->equals($dialled)
                ? new Message('Media does not reach {tag} at {announced}: {reason}', $at)
                : new Message(
                    '{tag} is dialled at {dialled} and announces {announced} for media, which does not arrive there: {reason}',
                    $at,
                ), $announced);
        }
        $back = Walker::between($model, $system->key, $from, $media);
        $facts->take($back->facts);
        if (!$back->holds()) {
            return new self($dialled, $back, $facts, new Message('Media from {tag} does not arrive: {reason}', [
                'tag' => $system->tag,
                'reason' => $back->brokenHop()->text ?? new Message(''),
            ]), $announced);
        }

        return new self($dialled, $walk, $facts, null, $announced);
    }
}
