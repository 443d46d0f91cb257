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

/** A call from start to end: the decisions of the PBX combined with the paths in the network. */
final class Call
{
    /** A number that does not answer leads on to another, and that to another: no more than so many times. */
    private const LED_ON = 8;

    /** @var list<Message> how it came so far */
    public array $steps = [];
    /** @var list<Message> reasons for missing audio, whichever phone answers */
    public array $deaf = [];
    /** The trunk of an inbound call. */
    public ?Trunk $by = null;
    public ?CallRouting $routing = null;
    private int $led = 0;

    /** @param string|null $speaker device or place from where the caller's sound comes; null for one outside */
    public function __construct(
        private readonly NetworkModel $model,
        private readonly Switching $switching,
        private readonly Facts $facts,
        private readonly string $from,
        private readonly string $digits,
        private readonly ?string $speaker,
        private readonly string $at,
    ) {
    }

    public function end(DialOutcome $outcome, Message $why, ?Walk $walk = null): Dial
    {
        return new Dial($this->from, $this->digits, $outcome, null, [...$this->steps, $why], false, $this->facts, $walk, $this->routing);
    }

    public function follow(CallRouting $routing): Dial
    {
        $this->routing = null === $this->routing ? $routing : $routing->after($this->routing);
        foreach ($routing->way() as $decision) {
            [$section, $key] = explode('/', $decision->record, 2) + [1 => ''];
            if ('extensions' !== $section && '' !== $key) {
                // The rule that it used is a fact for its test.
                $this->facts->note($decision->record, self::mark($this->model->plan->row($section, $key) ?? []));
            }
        }
        $last = $routing->last()->text;

        return match ($routing->end) {
            CallRoutingEnd::Extension => $this->extension($routing->ring[0]),
            CallRoutingEnd::Fax => $this->fax($routing->ring[0]),
            CallRoutingEnd::Group => $this->group($routing),
            CallRoutingEnd::Menu => $this->menu($routing),
            CallRoutingEnd::Outside => $this->outside($routing),
            CallRoutingEnd::Feature => $this->end(DialOutcome::Feature, $last),
            CallRoutingEnd::Provider => $this->end(DialOutcome::Provider, $last),
            CallRoutingEnd::Denied => $this->end(DialOutcome::Refused, $last),
            CallRoutingEnd::Unknown, CallRoutingEnd::Incomplete, CallRoutingEnd::Loop => $this->end(DialOutcome::NotReached, $last),
        };
    }

    /** @param array<string, mixed> $row a rule: the same whatever its storage form and notes */
    private static function mark(array $row): string
    {
        $row = array_filter(
            array_diff_key($row, ['note' => 1]),
            static fn (mixed $one): bool => !\in_array($one, [null, '', false, []], true),
        );
        ksort($row);

        return hash('crc32b', serialize($row));
    }

    private function extension(Extension $to): Dial
    {
        $at = ['from' => $this->from, 'digits' => $this->digits, 'to' => $to->number];
        $this->facts->note('extensions/'.$to->key.':pbx', $to->pbx);
        $this->facts->note('extensions/'.$to->key.':voicemail', $to->voicemail);
        if ('analogue' === $to->terminal) {
            return $this->analogue($to, $at);
        }
        $rings = $this->ringing($to);
        if (null === $rings['device']) {
            // Who says no has answered: nothing is led on, and no voicemail takes it.
            return $rings['refuses'] ? $this->end(DialOutcome::NotReached, $rings['why'], $rings['walk']) : $this->onNoAnswer(
                $to,
                $rings['why'],
                $rings['walk'],
                $at,
            );
        }

        return $this->onAnswer(DialOutcome::Device, $rings['device'], $rings['walk']);
    }

    /**
     * All devices of a number, each by its own path: the first that rings represents the number, as it is tried first.
     *
     * @return array{device: string|null, why: Message, walk: Walk|null, refuses: bool} what rings; else why its phone does not, and whether
     *     that is a refusal
     */
    private function ringing(Extension $to): array
    {
        $plan = $this->model->plan;
        $found = $failed = null;
        $devices = $plan->ringing($to);
        foreach ([] === $devices ? [''] : $devices as $device) {
            $at = ['to' => $to->number, 'phone' => $plan->devices[$device]->tag ?? '?'];
            [$reached, $why, $walk] = $this->canRing($to, $device);
            $refuses = $reached ? $this->withoutCodec($device) : null;
            if ($reached && null === $refuses) {
                $this->steps[] = new Message('{phone} rings for {to}.', $at);
                $found ??= ['device' => $device, 'why' => $why, 'walk' => $walk, 'refuses' => false];
                continue;
            }
            $failed ??= ['device' => null, 'why' => $refuses ?? $why, 'walk' => $walk, 'refuses' => null !== $refuses];
            if (\count($devices) > 1) {
                $this->steps[] = new Message('{phone} does not ring for {to}: {reason}', $at + ['reason' => $refuses ?? $why]);
            }
        }

        return $found ?? $failed;
    }

    /** @param array<string, string> $at */
    private function analogue(Extension $to, array $at): Dial
    {
        $pbx = $this->model->plan->devices[$to->pbx ?? ''] ?? null;
        $ports = null === $pbx ? 0 : (int) $pbx->setting('analoguePorts')->effective($this->model->face);
        $this->facts->note('devices/'.($to->pbx ?? '').':analoguePorts', $ports);
        if (null === $pbx || 0 === $ports) {
            return $this->end(
                DialOutcome::NotReached,
                new Message('{to} is analogue, and {pbx} has no analogue port.', $at + ['pbx' => $pbx->tag ?? '?']),
            );
        }
        $this->steps[] = new Message('{pbx} rings the analogue port of {to}.', $at + ['pbx' => $pbx->tag]);

        return $this->onAnswer(DialOutcome::Device, $pbx->key, null);
    }

    /**
     * Whether the PBX can make it ring.
     *
     * @return array{bool, Message, Walk|null}
     */
    private function canRing(Extension $to, string $device): array
    {
        $callee = Registration::of($this->model, $to, \in_array($device, ['', $to->phone], true) ? null : $device);
        $this->facts->take($callee->facts);
        if (!$callee->holds) {
            return [false, $callee->why, $callee->walk];
        }
        $this->steps[] = $callee->why;
        if (true === ($this->model->plan->devices[$to->pbx ?? ''] ?? null)?->kind->isHosted()) {
            // The provider rings it by the way that it asked by, and takes sound over itself (RFC 5626 §3.5).
            return [true, $callee->why, null];
        }
        // The PBX sends the call to the binding: that way must hold from its side as well.
        $ring = Walker::between($this->model, (string) $to->pbx, $device, Port::udp(Registration::SIP_PORT));
        $this->facts->take($ring->facts);
        $broken = $ring->brokenHop();

        if (null === $broken) {
            return [true, $callee->why, $ring];
        }

        return [false, new Message('{phone} registered, but the call does not reach it: {reason}', [
            'phone' => $this->model->plan->devices[$device]->tag ?? '?',
            'reason' => $broken->text,
        ]), $ring];
    }

    /** @param array<string, string> $at */
    private function onNoAnswer(Extension $to, Message $why, ?Walk $walk, array $at): Dial
    {
        if ('' !== $to->forwardUnanswered && ++$this->led <= self::LED_ON) {
            $this->steps[] = new Message(
                '{to} does not answer ({reason}) and leads on to {next}.',
                $at + ['reason' => $why, 'next' => $to->forwardUnanswered],
            );

            return $this->follow($this->switching->dial($to, $to->forwardUnanswered, $this->at));
        }
        if ($to->voicemail) {
            return $this->end(
                DialOutcome::Voicemail,
                new Message('Only voicemail answers for {to}, which does not count as a pass. {reason}', $at + ['reason' => $why]),
                $walk,
            );
        }

        return $this->end(
            DialOutcome::NotReached,
            new Message('No device answers for {to}, and it has no voicemail (480). {reason}', $at + ['reason' => $why]),
            $walk,
        );
    }

    private function group(CallRouting $routing): Dial
    {
        $first = null;
        foreach ($routing->ring as $member) {
            if ('sip' !== $member->terminal) {
                continue;
            }
            $rings = $this->ringing($member);
            if (null !== $rings['device']) {
                $first ??= [$rings['device'], $rings['walk']];
            } else {
                $this->steps[] = new Message('{to} does not ring: {reason}', ['to' => $member->number, 'reason' => $rings['why']]);
            }
        }
        if (null !== $first) {
            return $this->onAnswer(DialOutcome::Group, $first[0], $first[1]);
        }
        $otherwise = $routing->group->otherwise ?? '';
        if ('' !== $otherwise && ++$this->led <= self::LED_ON) {
            $this->steps[] = new Message('No member of the group rings: the call is forwarded to {next}.', ['next' => $otherwise]);

            return $this->follow($this->switching->dial($routing->ring[0], $otherwise, $this->at));
        }

        return $this->end(DialOutcome::NotReached, new Message('No member of the group rings.'));
    }

    private function menu(CallRouting $routing): Dial
    {
        $pbx = $routing->menu->pbx ?? '';
        $this->steps[] = new Message('{pbx} answers with the menu {name}: {keys}.', [
            'pbx' => $this->model->plan->devices[$pbx]->tag ?? $pbx,
            'name' => $routing->menu->name ?? '',
            'keys' => implode(', ', array_map(
                static fn (int|string $key, string $to): string => $key.' → '.$to,
                array_keys($routing->menu->choices ?? []),
                $routing->menu->choices ?? [],
            )),
        ]);

        return $this->onAnswer(DialOutcome::Menu, $pbx, null);
    }

    private function fax(Extension $to): Dial
    {
        $taker = $to->phone ?? $to->pbx ?? '';
        $this->steps[] = '' === $to->mail
            ? new Message('{to} takes faxes.', ['to' => $to->number])
            : new Message('{to} takes faxes and mails them to {mail}.', ['to' => $to->number, 'mail' => $to->mail]);

        return $this->onAnswer(DialOutcome::Fax, $taker, null);
    }

    /** By the first of its trunks whose way holds. */
    private function outside(CallRouting $routing): Dial
    {
        $walk = null;
        $why = new Message('The route has no trunk.');
        foreach ($routing->route->trunks ?? [] as $key) {
            $trunk = $this->model->plan->trunks[$key] ?? null;
            if (null === $trunk || (null !== $routing->emergency && !$trunk->emergency)) {
                continue;
            }
            $way = TrunkWay::of($this->model, $trunk);
            $this->facts->take($way->facts);
            $at = ['trunk' => $trunk->name, 'sent' => $routing->sent];
            if (null === $way->outward) {
                $refuses = $this->withoutCodecOf($trunk);
                if (null !== $refuses) {
                    // Who says no has answered: the next trunk is not asked (RFC 3261 §16.7).
                    return $this->end(DialOutcome::NotReached, $refuses, $way->walk);
                }
                $this->steps[] = '' === $routing->callerId
                    ? new Message('{sent} goes out by {trunk}, without a caller id.', $at)
                    : new Message('{sent} goes out by {trunk}, with the caller id {id}.', $at + ['id' => $routing->callerId]);
                $this->deaf = [...$this->deaf, ...$way->sound];

                return $this->onAnswer(DialOutcome::Outside, $trunk->far ?? '', $way->walk);
            }
            $this->steps[] = new Message('{trunk} takes nothing: {reason}', $at + ['reason' => $way->outward]);
            $why = $way->outward;
            $walk ??= $way->walk;
        }

        return $this->end(
            DialOutcome::NotReached,
            new Message('None of the trunks takes {sent}: {reason}', ['sent' => $routing->sent, 'reason' => $why]),
            $walk,
        );
    }

    /** A phone of a provider sends signalling and media to the provider only. */
    private function isRelayed(string $device): bool
    {
        foreach ($this->model->plan->extensionsOf($device) as $extension) {
            if (true === ($this->model->plan->devices[$extension->pbx ?? ''] ?? null)?->kind->isHosted()) {
                return true;
            }
        }

        return false;
    }

    /** Why the called phone refuses: both ends have no codec in common; null if they have one, or it is not known. */
    private function withoutCodec(string $phone): ?Message
    {
        if ($this->isRelayed($phone)) {
            return null;
        }
        $offered = null === $this->speaker ? $this->by->codecs ?? null : Codecs::of($this->model, $this->speaker, $this->facts);
        $taken = Codecs::of($this->model, $phone, $this->facts);

        return Codecs::meet($offered, $taken) ? null : new Message('{from} offers {offered}, {phone} takes {taken}: it refuses (488).', [
            'from' => $this->from,
            'phone' => $this->model->plan->devices[$phone]->tag ?? $phone,
            'offered' => implode(', ', $offered ?? []),
            'taken' => implode(', ', $taken ?? []),
        ]);
    }

    /** Why a trunk refuses the offer; the PBX passes offers on unchanged. */
    private function withoutCodecOf(Trunk $trunk): ?Message
    {
        $offered = null === $this->speaker ? $this->by->codecs ?? null : Codecs::of($this->model, $this->speaker, $this->facts);

        if (Codecs::meet($offered, $trunk->codecs)) {
            return null;
        }
        $this->facts->note('trunks/'.$trunk->key.':codecs', implode(', ', $trunk->codecs));

        return new Message('{from} offers {offered}, {trunk} takes {taken}: it refuses (488).', [
            'from' => $this->from,
            'trunk' => $trunk->name,
            'offered' => implode(', ', $offered ?? []),
            'taken' => implode(', ', $trunk->codecs),
        ]);
    }

    /** The call is answered: is there audio in both directions? An outside party uses the trunk, whose own obstacles are known already. */
    private function onAnswer(DialOutcome $outcome, string $device, ?Walk $ring): Dial
    {
        $deaf = $this->deaf;
        $media = null;
        $answering = $this->isRelayed($device) ? null : $this->model->plan->devices[$device] ?? null;
        $speaks = null !== $answering?->serviceNamed('media');
        $own = $this->speaker ?? $this->by?->pbx;
        if ($speaks && null !== $own && '' !== $own && $own !== $device) {
            $media = Dial::sound($this->model, $own, $device, $this->facts);
            $broken = $media->brokenHop()?->text;
            if (null !== $broken) {
                $deaf[] = $broken;
            }
        }
        foreach ($deaf as $why) {
            $this->steps[] = new Message('It rings, but sound does not go both ways: {reason}', ['reason' => $why]);
        }
        if ([] === $deaf) {
            $this->steps[] = new Message('Sound goes both ways.');
        }
        $walk = null === $media || $media->holds() ? $ring : $media;

        return new Dial(
            $this->from,
            $this->digits,
            $outcome,
            '' === $device ? null : $device,
            $this->steps,
            [] === $deaf,
            $this->facts,
            $walk,
            $this->routing,
        );
    }
}
