<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Voice\TrunkWay;

/** What calls need: registrations, audio between all who speak, trunks, and systems that call each other directly. */
final readonly class CallFlows implements FlowSource
{
    public function __construct(private FlowList $flows)
    {
    }

    public function collect(): void
    {
        $this->addRegistrations();
        $this->addAudio();
        $this->addTrunks();
        $this->addDirectCalls();
    }

    private function addRegistrations(): void
    {
        foreach ($this->flows->plan->extensions as $extension) {
            $registrar = $this->flows->plan->devices[$this->flows->plan->accountOf($extension->key)->registrar ?? ''] ?? null;
            $service = $registrar?->serviceNamed('sip');
            if (null !== $registrar && $registrar->kind->isHosted()) {
                $this->addHostedPhone($extension, $registrar);
                continue;
            }
            if (null === $registrar || null === $service) {
                continue;
            }
            foreach ($this->flows->plan->ringing($extension) as $device) {
                $phone = $this->flows->plan->devices[$device] ?? null;
                if (null !== $phone) {
                    $this->addRegistration($phone, $registrar, $service);
                }
            }
        }
    }

    /** A hosted phone registers with its provider, which also carries its audio. */
    private function addHostedPhone(Extension $extension, Device $registrar): void
    {
        foreach ($this->flows->plan->ringing($extension) as $key) {
            $phone = $this->flows->plan->devices[$key] ?? null;
            if (null === $phone) {
                continue;
            }
            $spoken = ValueType::List->parts(strtolower($phone->setting('transport')->planned ?? 'udp'));
            $heard = ValueType::List->parts(strtolower($registrar->setting('transport')->planned ?? 'udp'));
            $at = ['phone' => $phone->tag, 'registrar' => $registrar->tag];
            $why = new Message('{phone} registers at {registrar}, outside.', $at);
            $over = array_values(array_intersect($spoken, $heard))[0] ?? $spoken[0] ?? 'udp';
            $this->flows->out($phone, FlowList::elsewhere(), Registration::portOver($over), $why, isAnywhere: true);
            $sound = new Message('Audio of {phone} goes through {registrar}, outside the site.', $at);
            $this->flows->out($phone, FlowList::elsewhere(), Port::udp(FlowList::ANY_MEDIA[0]), $sound, FlowList::ANY_MEDIA[1], true);
        }
    }

    private function addRegistration(Device $phone, Device $registrar, Service $service): void
    {
        $at = ['phone' => $phone->tag, 'registrar' => $registrar->tag];
        $this->flows->add($phone->key, $registrar, $service, new Message('{phone} registers at {registrar}.', $at));
        $back = $phone->serviceNamed('sip');
        if (null !== $back) {
            $this->flows->add($registrar->key, $phone, $back, new Message('{registrar} rings {phone}.', $at));
        }
    }

    /** Sound goes from end to end, each way for itself; codecs are called directly as well. */
    private function addAudio(): void
    {
        /** @var array<string, list<Device>> $speakers segment → who speaks there */
        $speakers = [];
        foreach ($this->flows->plan->devices as $device) {
            $numbered = [] !== $this->flows->plan->extensionsOf($device->key) || $device->kind->has(Role::Registrar);
            if (null !== $device->serviceNamed('media') && ($numbered || $device->kind->has(Role::Caller))) {
                $speakers[$device->nic()->segment ?? ''][] = $device;
            }
        }
        unset($speakers['']);
        foreach ($speakers as $here => $some) {
            foreach ($speakers as $there => $others) {
                if ($here === $there) {
                    continue;
                }
                $why = new Message('Sound from {here} to {there}.', [
                    'here' => $this->flows->plan->segments[$here]->name,
                    'there' => $this->flows->plan->segments[$there]->name,
                ]);
                // One of each segment speaks for all: what a rule looks at is the same for them.
                foreach ($others as $other) {
                    $service = $other->serviceNamed('media');
                    if (null !== $service) {
                        $this->flows->add($some[0]->key, $other, $service, $why);
                    }
                }
                $service = $others[0]->serviceNamed('media');
                foreach (\array_slice($some, 1) as $one) {
                    if (null !== $service) {
                        $this->flows->add($one->key, $others[0], $service, $why);
                    }
                }
            }
        }
    }

    /** Trunks: signalling and sound, to a provider and to another device of the job. */
    private function addTrunks(): void
    {
        foreach ($this->flows->plan->trunks as $trunk) {
            $pbx = $this->flows->plan->devices[$trunk->pbx] ?? null;
            $far = $this->flows->plan->devices[$trunk->far ?? ''] ?? null;
            if (null === $pbx) {
                continue;
            }
            $at = ['pbx' => $pbx->tag, 'trunk' => $trunk->name, 'far' => $far->tag ?? (string) $trunk->address];
            $port = Port::of('udp' === $trunk->transport ? Transport::Udp : Transport::Tcp, $trunk->port);
            if (null !== $far) {
                $this->addInnerTrunk($pbx, $far, $port, $at);
            } elseif (null !== $trunk->address) {
                $sound = new Message('Sound of calls by {trunk} between {pbx} and {far}.', $at);
                $this->flows->out($pbx, $trunk->address, $port, new Message('{pbx} calls by {trunk} at {far}.', $at));
                $this->flows->out($pbx, $trunk->address, Port::udp(FlowList::ANY_MEDIA[0]), $sound, FlowList::ANY_MEDIA[1]);
                $this->flows->in($trunk->address, $pbx, Port::udp(Dial::MEDIA_PORT), $sound, TrunkWay::MEDIA_LAST);
                if (!$trunk->registers) {
                    $this->flows->in($trunk->address, $pbx, $port, new Message('Inbound calls on {trunk} from {far}.', $at));
                }
            }
        }
    }

    /** @param array<string, string> $at */
    private function addInnerTrunk(Device $pbx, Device $far, Port $port, array $at): void
    {
        foreach ([[$pbx, $far], [$far, $pbx]] as [$from, $to]) {
            $signalling = $to->service($port) ?? $to->serviceNamed('sip');
            $media = $to->serviceNamed('media');
            $why = new Message('{pbx} and {far} call each other by {trunk}.', $at);
            if (null !== $signalling) {
                $this->flows->add($from->key, $to, $signalling, $why);
            }
            if (null !== $media) {
                $this->flows->add($from->key, $to, $media, new Message('Sound and fax by {trunk} between {pbx} and {far}.', $at));
            }
        }
    }

    /** Systems that are called by their address: signalling by every protocol that they take, and media. */
    private function addDirectCalls(): void
    {
        /** @var array<string, list<Device>> $systems segment → those that live there */
        $systems = [];
        foreach ($this->flows->plan->devices as $device) {
            if ($device->kind->has(Role::DirectCallee)) {
                $systems[$device->nic()->segment ?? ''][] = $device;
            }
        }
        unset($systems['']);
        $places = array_flip(array_keys($systems));
        foreach ($systems as $here => $some) {
            foreach ($systems as $there => $others) {
                if ($here === $there) {
                    continue;
                }
                $isNear = 1 === abs($places[$here] - $places[$there]);
                // One of each segment calls all of the other, and all of it call one: what a rule looks at is the same for the rest.
                foreach ($others as $other) {
                    $this->addDirectCall($some[0], $other, $isNear);
                }
                foreach ($some as $one) {
                    $this->addDirectCall($one, $others[0], $isNear);
                }
            }
        }
    }

    private function addDirectCall(Device $from, Device $to, bool $isNear): void
    {
        foreach (['sip', 'call', 'media'] as $name) {
            $service = $to->serviceNamed($name);
            if (null !== $service) {
                $at = ['from' => $from->tag, 'to' => $to->tag];
                $last = 'media' === $name ? $service->port->number + FlowList::MEDIA_PORTS - 1 : $service->port->number;
                $why = new Message('{from} calls {to} directly.', $at);
                $this->flows->addFlow(new Flow($from->key, $to->key, $service->port, $last, $why, isOneOfMany: !$isNear));
            }
        }
    }
}
