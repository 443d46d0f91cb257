<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Trunk;
use Vorhut\Core\Text\Message;

/** The result when one extension dials digits on its PBX: the device that rings, or voicemail, or neither, and why. */
final readonly class Dial implements \JsonSerializable
{
    /** Where media goes in a prediction: the first port of the range that phones of the library use (RTP, RFC 3550). */
    public const MEDIA_PORT = 40000;

    /**
     * @param string|null   $rings   key of the device that rings first
     * @param list<Message> $steps   how it comes to that
     * @param bool          $sound   whether sound goes both ways
     * @param CallRouting|null   $routing  what the PBX decided, with what it did not take; null where it was not asked
     */
    public function __construct(
        public string $from,
        public string $digits,
        public DialOutcome $outcome,
        public ?string $rings,
        public array $steps,
        public bool $sound,
        public Facts $facts,
        public ?Walk $walk = null,
        public ?CallRouting $routing = null,
    ) {
    }

    /**
     * @param string|null $standIn `outposts/SEGMENT` where an outpost calls with the account of the extension, in the place of its phone
     * @param string      $at      wall time of the site, `2026-03-02 09:30`; empty where time frames are not to be looked at
     */
    public static function of(NetworkModel $model, Extension $from, string $digits, ?string $standIn = null, string $at = ''): self
    {
        $plan = $model->plan;
        $facts = new Facts();
        $facts->note('job:emergencyNumbers', implode(' ', $plan->emergencyNumbers()->numbers));
        $known = ['from' => $from->number, 'digits' => $digits];
        $switching = Switching::of($plan);
        $routing = $switching->dial($from, $digits, $at);
        $call = new Call($model, $switching, $facts, $from->number, $digits, $standIn ?? (string) $from->phone, $at);
        if ($plan->emergencyNumbers()->isMeant($digits)) {
            $call->routing = $routing;

            return $call->end(DialOutcome::Barred, new Message(
                '{digits} is an emergency number. Vorhut never dials it; the test is arranged with the centre and recorded by hand.',
                $known,
            ));
        }
        $caller = null === $standIn ? Registration::of($model, $from) : Registration::fromOutpost($model, $from, $standIn);
        $facts->take($caller->facts);
        if (!$caller->holds) {
            $why = new Message('{from} cannot dial: {reason}', $known + ['reason' => $caller->why]);

            return $call->end(DialOutcome::Refused, $why, $caller->walk);
        }
        $call->steps[] = $caller->why;
        if ($digits === $from->number) {
            $facts->note('extensions:'.$digits, $from->key);

            return $call->end(DialOutcome::Refused, new Message('{from} dials itself: busy (486).', $known));
        }
        $facts->note('extensions:'.$digits, $plan->extensionNumbered($digits)?->key);

        return $call->follow($routing);
    }

    /** A call that comes in by a trunk, with the called number as the far end sends it. */
    public static function arriving(NetworkModel $model, Trunk $trunk, string $number, string $at = ''): self
    {
        $facts = new Facts();
        $switching = Switching::of($model->plan);
        $call = new Call($model, $switching, $facts, $trunk->name, $number, $trunk->far, $at);
        $way = TrunkWay::of($model, $trunk);
        $facts->take($way->facts);
        if (null !== $way->inward) {
            return $call->end(DialOutcome::NotReached, $way->inward, $way->walk);
        }
        $call->deaf = $way->sound;
        $call->by = $trunk;

        return $call->follow($switching->inbound($trunk, $number, $at));
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

    /** An intended party answers, with audio in both directions; voicemail was not intended. */
    public function isAnswered(): bool
    {
        return $this->sound && $this->outcome->isAnswer();
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'from' => $this->from,
            'digits' => $this->digits,
            'outcome' => $this->outcome->value,
            'rings' => $this->rings,
            'sound' => $this->sound,
            'steps' => $this->steps,
            'decisions' => $this->routing->decisions ?? [],
            'sent' => $this->routing->sent ?? '',
            'callerId' => $this->routing->callerId ?? '',
            'facts' => $this->facts->texts(),
        ];
    }
}
