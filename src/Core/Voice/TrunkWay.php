<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Translation;
use Vorhut\Core\Plan\TranslationKind;
use Vorhut\Core\Plan\Trunk;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Sip\CalledNumber;

/**
 * Whether calls pass through a trunk in each direction, and whether audio does: to another device of the job by the walk, to a provider by
 * the route out of the site, the outside address, and the traffic allowed back in.
 */
final readonly class TrunkWay
{
    /** Ports of sound that a PBX takes from outside (RFC 3550): two a call, for as many as a trunk of this size carries. */
    public const MEDIA_LAST = Dial::MEDIA_PORT + 99;
    /** Settings of a fax server and of its PBX. */
    private const GATEWAY = 'gatewayHost';
    private const READ_FROM = 'calledFrom';
    private const SENT_IN = 'faxCalledIn';

    /**
     * @param Message|null  $outward why nothing goes out; null where it does
     * @param Message|null  $inward  why nothing comes in; null where it does
     * @param list<Message> $sound    what keeps sound from going both ways
     * @param Ipv4|null     $announce the address that the PBX must announce for sound, where it announces another
     */
    private function __construct(
        public ?Message $outward,
        public ?Message $inward,
        public array $sound,
        public Facts $facts,
        public ?Walk $walk = null,
        public ?Ipv4 $announce = null,
    ) {
    }

    public static function of(NetworkModel $model, Trunk $trunk): self
    {
        $facts = new Facts();
        $pbx = $model->plan->devices[$trunk->pbx] ?? null;
        $facts->note('trunks/'.$trunk->key.':address', (string) $trunk->address);
        $port = Port::of('udp' === $trunk->transport ? Transport::Udp : Transport::Tcp, $trunk->port);
        $at = [
            'trunk' => $trunk->name,
            'pbx' => $pbx->tag ?? $trunk->pbx,
            'transport' => $trunk->transport,
            'port' => (string) $port,
            'address' => (string) $trunk->address,
        ];
        $speaks = Registration::transportsOf($model, $trunk->pbx, $facts);
        if (!\in_array($trunk->transport, $speaks, true)) {
            $why = new Message(
                '{pbx} speaks SIP over {speaks}, and {trunk} goes over {transport}.',
                $at + ['speaks' => implode(', ', $speaks)],
            );

            return new self($why, $why, [], $facts);
        }
        if (null !== $trunk->far) {
            return self::within($model, $trunk, $port, $at, $facts);
        }
        if (null === $trunk->address) {
            $why = new Message('The address of the far end of {trunk} is not set.', $at);

            return new self($why, $why, [], $facts);
        }

        return self::without($model, $trunk, $trunk->address, $port, $at, $facts);
    }

    /**
     * Between two devices of the job: each must reach the other and speak as the trunk does.
     *
     * @param array<string, string|Message> $at
     */
    private static function within(NetworkModel $model, Trunk $trunk, Port $port, array $at, Facts $facts): self
    {
        $far = (string) $trunk->far;
        $at['far'] = $model->plan->devices[$far]->tag ?? $far;
        $hears = Registration::transportsOf($model, $far, $facts);
        if ([] !== $hears && !\in_array($trunk->transport, $hears, true)) {
            $why = new Message(
                '{far} hears SIP over {hears}, and {trunk} goes over {transport}.',
                $at + ['hears' => implode(', ', $hears)],
            );

            return new self($why, $why, [], $facts);
        }
        $stranger = self::takesFromElsewhere($model, $trunk, $at, $facts);
        if (null !== $stranger) {
            return new self($stranger, $stranger, [], $facts);
        }
        $walks = [Walker::between($model, $trunk->pbx, $far, $port), Walker::between($model, $far, $trunk->pbx, $port)];
        $whys = [];
        foreach ($walks as $walk) {
            $facts->take($walk->facts);
            $whys[] = $walk->brokenHop()?->text;
        }
        $media = Dial::sound($model, $trunk->pbx, $far, $facts);
        $deaf = $media->brokenHop()?->text;

        return new self(
            $whys[0] ?? self::readsAnotherHeader($model, $trunk, $at, $facts),
            $whys[1],
            null === $deaf ? [] : [$deaf],
            $facts,
            null === $whys[0] ? $walks[1] : $walks[0],
        );
    }

    /**
     * A fax server takes calls from its gateway only; null where that is the PBX, or not known.
     *
     * @param array<string, string|Message> $at
     */
    private static function takesFromElsewhere(NetworkModel $model, Trunk $trunk, array $at, Facts $facts): ?Message
    {
        $gateway = self::setting($model, (string) $trunk->far, self::GATEWAY, $facts);
        if ('' === $gateway) {
            return null;
        }
        foreach ($model->hostsOf($trunk->pbx) as $host) {
            if ((string) $host->address === $gateway) {
                return null;
            }
        }

        return new Message('{far} takes calls from {gateway} only, which is not {pbx}.', $at + ['gateway' => $gateway]);
    }

    /**
     * A fax server that looks for the called number where the PBX does not send it knows no recipient (RFC 5806, RFC 7044).
     *
     * @param array<string, string|Message> $at
     */
    private static function readsAnotherHeader(NetworkModel $model, Trunk $trunk, array $at, Facts $facts): ?Message
    {
        $reads = self::setting($model, (string) $trunk->far, self::READ_FROM, $facts);
        $sent = self::setting($model, $trunk->pbx, self::SENT_IN, $facts);
        // In the To field there is then the user of the trunk, which may be a number as well.
        $isNumber = CalledNumber::To->value === $reads && 1 === preg_match('/^[0-9]+$/D', $trunk->user);

        return '' === $reads || '' === $sent || $reads === $sent || $isNumber ? null : new Message(
            '{far} reads the called number from {reads}, and {pbx} sends it in {sent}: it knows no recipient.',
            $at + ['reads' => $reads, 'sent' => $sent],
        );
    }

    /** The value of a setting of a device; empty if it has no such setting, or no value. */
    private static function setting(NetworkModel $model, string $device, string $name, Facts $facts): string
    {
        $one = $model->device($device);
        if (null === $one?->kind->setting($name)) {
            return '';
        }
        $value = $one->setting($name)->effective($model->face);
        $facts->note($one->record().':'.$name, $value);

        return $value ?? '';
    }

    /**
     * To a provider outside.
     *
     * @param array<string, string|Message> $at
     */
    private static function without(NetworkModel $model, Trunk $trunk, Ipv4 $address, Port $port, array $at, Facts $facts): self
    {
        $way = Walker::leaving($model, $trunk->pbx, $address, $port);
        $facts->take($way->walk->facts);
        $at += ['inside' => (string) $way->inside, 'seen' => (string) $way->seenAs];
        if (!$way->leaves) {
            $why = $way->walk->brokenHop()->text ?? new Message('');

            return new self($why, $why, [], $facts, $way->walk);
        }
        if (!$way->isAnswerable()) {
            $why = new Message('{pbx} is seen outside as {seen}, which no provider can answer: no router translates it.', $at);

            return new self($why, $why, [], $facts, $way->walk);
        }
        $sound = [];
        $inward = $announce = null;
        if ($way->isTranslated()) {
            $lets = self::lets($model, $trunk->pbx, $way->inside);
            // A registered device keeps its signalling path open (RFC 5626 §3.5); others are known by an address that must lead to them.
            if (!$trunk->registers && !$lets($port)) {
                $inward = new Message('Calls from {address} come to {seen}, and no rule there leads {port} on to {pbx}.', $at);
            }
            $announced = $model->plan->devices[$trunk->pbx]->setting('announcedAddress')->effective($model->face);
            $facts->note('devices/'.$trunk->pbx.':announcedAddress', $announced);
            $announce = $announced === (string) $way->seenAs ? null : $way->seenAs;
            if (null === $announced || '' === $announced) {
                $sound[] = new Message(
                    '{pbx} announces {inside} for sound, and outside it is {seen}: no sound comes in. Announce {seen}.',
                    $at,
                );
            } elseif ($announced !== (string) $way->seenAs) {
                $sound[] = new Message(
                    '{pbx} announces {announced} for sound, and outside it is {seen}.',
                    $at + ['announced' => $announced],
                );
            }
            if (!$lets(Port::udp(Dial::MEDIA_PORT)) || !$lets(Port::udp(self::MEDIA_LAST))) {
                $sound[] = new Message('No rule leads the sound of calls ({first} to {last}/udp at {seen}) on to {pbx}.', $at + [
                    'first' => Dial::MEDIA_PORT,
                    'last' => self::MEDIA_LAST,
                ]);
            }
        }

        return new self(null, $inward, $sound, $facts, $way->walk, $announce);
    }

    /** @return \Closure(Port): bool whether traffic to that outside port is forwarded to the device */
    private static function lets(NetworkModel $model, string $device, ?Ipv4 $inside): \Closure
    {
        $rules = array_filter($model->plan->translations, static fn (Translation $rule): bool => TranslationKind::Source !== $rule->what
            && null !== $inside && true === $rule->inside?->equals($inside));

        return static fn (Port $port): bool => [] !== array_filter(
            $rules,
            static fn (Translation $rule): bool => TranslationKind::Static === $rule->what || $rule->takes($port),
        );
    }
}
