<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\CallTrial;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\CallBranches;

/**
 * A call that on site only a person may make, made in the lab: by a telephone of the job from its segment, or by a caller outside at the
 * far end of a trunk.
 */
final readonly class LabCall
{
    /** The number of the caller outside; assigned to no subscriber. */
    private const OUTSIDER = '+4700000000';
    /** Seconds beyond the time after which voicemail answers. */
    private const PATIENCE = 12.0;

    private function __construct(private Plan $plan, private CallTrial $trial, private ?CallerAccount $account)
    {
    }

    public static function of(Plan $plan, CallTrial $trial): self
    {
        return new self($plan, $trial, CallerAccount::of($plan, $trial->caller));
    }

    /** Why the lab does not make the call; null where it does. */
    public function refusal(): ?Message
    {
        $hasCaller = null !== $this->outside() || (null !== $this->account?->host && null !== $this->phone());

        return match (true) {
            !$hasCaller => new Message('the account or the PBX is missing'),
            $this->plan->emergencyNumbers()->isMeant($this->trial->digits),
            true === $this->branches()?->reachesEmergency() => new Message('an emergency number: never dialled'),
            !$this->isPlayed() => new Message('the lab plays trunks over UDP only'),
            default => null,
        };
    }

    /** Where the call can end; null for a caller outside, whose call was followed when the test was planned. */
    private function branches(): ?CallBranches
    {
        $caller = null === $this->trial->caller ? null : $this->plan->extensionNumbered($this->trial->caller);
        $pressed = null;
        foreach ($this->plan->menus as $menu) {
            $pressed ??= $menu->number === $this->trial->digits ? $menu->choices[$this->trial->keys] ?? null : null;
        }

        // Of a menu only the key counts that is pressed.
        return null === $caller ? null : CallBranches::ofCall($this->plan, $caller, $pressed ?? $this->trial->digits);
    }

    /** @throws NoAnswer if calls from there are impossible */
    public function place(VantagePoints $places): VantagePoint
    {
        $outside = $this->outside();
        $phone = $this->phone();

        return null === $outside
            ? $places->on(null === $phone ? '' : $this->plan->segmentOf($phone)->key ?? '')
            : new VantagePoint($this->plan, (string) gethostname(), new Adapter('lab', $outside));
    }

    public function make(ProbeContext $context): Evidence
    {
        $outside = $this->outside();
        $host = $outside ?? $this->account?->host;
        if (null === $host) {
            return Evidence::notAsked(new Message('the account or the PBX is missing'));
        }
        $caller = null === $outside && null !== $this->account
            ? $this->account->caller($context)
            : new SipCaller($context->access, $context->place, self::OUTSIDER, '');
        try {
            return $caller->attempt($host, $this->trial, $this->plan->job->int('voicemailAfter', 4) + self::PATIENCE, $this->isFax());
        } finally {
            $caller->close();
        }
    }

    /** The address of the provider at whose end of a trunk the caller stands. */
    private function outside(): ?Ipv4
    {
        return $this->plan->trunks[$this->trial->trunk ?? '']->address ?? null;
    }

    private function phone(): ?Device
    {
        $extension = null === $this->trial->caller ? null : $this->plan->extensionNumbered($this->trial->caller);

        return $this->plan->devices[$extension->phone ?? ''] ?? null;
    }

    private function isPlayed(): bool
    {
        $transports = array_map(
            fn (string $trunk): string => $this->plan->trunks[$trunk]->transport ?? 'udp',
            array_filter([$this->trial->trunk, ...$this->trial->trunks], is_string(...)),
        );

        return [] === $transports || \in_array('udp', $transports, true);
    }

    /** Whether a device of the call was told to carry faxes by T.38. */
    private function isFax(): bool
    {
        foreach ($this->trial->needs as $key) {
            $device = $this->plan->devices[$key] ?? null;
            if (null !== $device?->kind->setting('faxTransport') && 'T.38' === $device->setting('faxTransport')->effective(Face::Set)) {
                return true;
            }
        }

        return false;
    }
}
