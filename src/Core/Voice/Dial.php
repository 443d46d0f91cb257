<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Walk\NetworkModel;
use Vorhut\Core\Walk\Walk;
use Vorhut\Core\Walk\Walker;

/** What happens when one extension dials digits on its PBX: which device rings, or voicemail, or nobody, and why. */
final readonly class Dial implements \JsonSerializable
{
    /** Where media goes in a prediction: the first port of the range that phones of the library use (RTP, RFC 3550). */
    public const MEDIA_PORT = 40000;

    /**
     * @param string        $outcome device, voicemail, nobody, refused or barred
     * @param string|null   $rings   key of the device that rings
     * @param list<Message> $steps   how it comes to that
     * @param bool          $sound   whether sound goes both ways
     */
    private function __construct(
        public string $from,
        public string $digits,
        public string $outcome,
        public ?string $rings,
        public array $steps,
        public bool $sound,
        public Facts $facts,
        public ?Walk $walk = null,
    ) {
    }

    /**
     * @param string|null $standIn `outposts/SEGMENT` where an outpost calls with the account of the extension, in the place of its phone
     */
    public static function of(NetworkModel $model, Extension $from, string $digits, ?string $standIn = null): self
    {
        $plan = $model->plan;
        $facts = new Facts();
        $steps = [];
        $at = ['from' => $from->number, 'digits' => $digits];
        $end = static function (string $outcome, Message $why, ?Walk $walk = null) use ($from, $digits, &$steps, $facts): self {
            return new self($from->number, $digits, $outcome, null, [...$steps, $why], false, $facts, $walk);
        };
        $facts->note('job:emergencyNumbers', implode(' ', $plan->job->texts('emergencyNumbers')));
        if (\in_array($digits, self::emergency($plan), true)) {
            return $end(
                'barred',
                new Message(
                    '{digits} is an emergency number. Vorhut never dials it; the test is arranged with the centre and recorded by hand.',
                    $at,
                ),
            );
        }
        $caller = null === $standIn ? Registration::of($model, $from) : Registration::fromOutpost($model, $from, $standIn);
        $facts->take($caller->facts);
        if (!$caller->holds) {
            return $end('refused', new Message('{from} cannot dial: {reason}', $at + ['reason' => (string) $caller->why]), $caller->walk);
        }
        $steps[] = $caller->why;
        if (\in_array($digits, $plan->job->texts('featureCodes'), true)) {
            return $end('feature', new Message('{digits} is a feature code of the PBX.', $at));
        }
        $to = $plan->extensionNumbered($digits);
        $facts->note('extensions:'.$digits, $to?->key);
        if (null === $to) {
            $outside = $plan->job->text('outsideDigit');
            $facts->note('job:outsideDigit', $outside);

            return '' !== $outside && str_starts_with($digits, $outside)
                ? $end('nobody', new Message('{digits} goes outside, and this job has no trunk yet.', $at))
                : $end('nobody', new Message('{digits} is not known to this PBX (404).', $at));
        }
        $at['to'] = $to->number;
        $facts->note('extensions/'.$to->key.':pbx', $to->pbx);
        $facts->note('extensions/'.$to->key.':voicemail', $to->voicemail);
        if ($to->number === $from->number) {
            return $end('refused', new Message('{from} dials itself: busy (486).', $at));
        }
        if ($to->pbx !== $from->pbx) {
            return $end('nobody', new Message('{to} lives on another PBX than {from}, and no trunk joins them.', $at));
        }
        if ('analogue' === $to->terminal) {
            $pbx = $plan->devices[$to->pbx ?? ''] ?? null;
            $ports = null === $pbx ? 0 : (int) $pbx->setting('analoguePorts')->effective($model->face);
            $facts->note('devices/'.($to->pbx ?? '').':analoguePorts', $ports);
            if (null === $pbx || 0 === $ports) {
                return $end('nobody', new Message('{to} is analogue, and {pbx} has no analogue port.', $at + ['pbx' => $pbx->tag ?? '?']));
            }

            return new self(
                $from->number,
                $digits,
                'device',
                $to->pbx,
                [...$steps, new Message('{pbx} rings the analogue port of {to}.', $at + ['pbx' => $pbx->tag])],
                true,
                $facts,
            );
        }
        $callee = Registration::of($model, $to);
        $facts->take($callee->facts);
        $steps[] = $callee->why;
        if (!$callee->holds) {
            return $to->voicemail
                ? $end(
                    'voicemail',
                    new Message('No device is registered for {to}: voicemail answers. That is no pass.', $at),
                    $callee->walk,
                )
                : $end('nobody', new Message('No device is registered for {to}, and it has no voicemail (480).', $at), $callee->walk);
        }
        // The PBX sends the call to the binding: that way must hold from its side as well.
        $pbx = (string) $to->pbx;
        $ring = Walker::between($model, $pbx, (string) $to->phone, Port::udp(Registration::SIP_PORT));
        $facts->take($ring->facts);
        $at['phone'] = $plan->devices[$to->phone ?? '']->tag ?? '?';
        if (!$ring->holds()) {
            return $to->voicemail
                ? $end(
                    'voicemail',
                    new Message(
                        '{phone} registered, but the call does not reach it, so voicemail answers: {reason}',
                        $at + ['reason' => (string) $ring->broken()?->text],
                    ),
                    $ring,
                )
                : $end(
                    'nobody',
                    new Message(
                        '{phone} registered, but the call does not reach it: {reason}',
                        $at + ['reason' => (string) $ring->broken()?->text],
                    ),
                    $ring,
                );
        }
        $steps[] = new Message('{phone} rings for {to}.', $at);
        $media = self::sound($model, $standIn ?? (string) $from->phone, (string) $to->phone, $facts);
        $steps[] = $media->holds()
            ? new Message('Sound goes both ways.')
            : new Message('It rings, but sound does not go both ways: {reason}', ['reason' => (string) $media->broken()?->text]);

        return new self($from->number, $digits, 'device', $to->phone, $steps, $media->holds(), $facts, $media->holds() ? $ring : $media);
    }

    /** Both directions of media are flows of their own: each must be let through, not only answered. */
    public static function sound(NetworkModel $model, string $from, string $to, Facts $facts): Walk
    {
        $there = Walker::between($model, $from, $to, Port::udp(self::MEDIA_PORT));
        $facts->take($there->facts);
        if (!$there->holds()) {
            return $there;
        }
        $here = Walker::between($model, $to, $from, Port::udp(self::MEDIA_PORT));
        $facts->take($here->facts);

        return $here;
    }

    /** @return list<string> the numbers with and without the outside digit */
    public static function emergency(Plan $plan): array
    {
        $outside = $plan->job->text('outsideDigit');
        $numbers = [];
        foreach ($plan->job->texts('emergencyNumbers') as $number) {
            $numbers[] = $number;
            if ('' !== $outside) {
                $numbers[] = $outside.$number;
            }
        }

        return $numbers;
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'from' => $this->from,
            'digits' => $this->digits,
            'outcome' => $this->outcome,
            'rings' => $this->rings,
            'sound' => $this->sound,
            'steps' => $this->steps,
            'facts' => $this->facts->texts(),
        ];
    }
}
