<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Text\Message;

/** The flows of tests: those that a user added, and outposts that act for devices. */
final readonly class TestFlows implements FlowSource
{
    /** Services that an outpost asks for in the place of a device. */
    private const PROBED = ['sip', 'media', 'call', 'rtsp', 'srt', 'radius'];

    public function __construct(private FlowList $flows)
    {
    }

    public function collect(): void
    {
        $this->addAddedTests();
        $this->addProbes();
    }

    /** Tests that a user added: a target that must answer has to be allowed through. */
    private function addAddedTests(): void
    {
        foreach ($this->flows->plan->tests as $test) {
            $device = $this->flows->plan->deviceTagged($test->to);
            $port = Port::tryFromString('' === $test->port ? '80/tcp' : $test->port);
            $service = null === $port ? null : $device?->service($port);
            if ($test->mustAnswer && null !== $device && null !== $service && isset($this->flows->plan->segments[$test->from])) {
                $why = new Message('A test of its own asks {tag} from {segment}.', [
                    'tag' => $device->tag,
                    'segment' => $this->flows->plan->segments[$test->from]->name,
                ]);
                $this->flows->add(OutpostKey::on($test->from), $device, $service, $why);
            }
        }
    }

    /**
     * What outposts need for the tests of the plan: they register, call, ask for streams and push them in the place of the devices of
     * their segment.
     */
    private function addProbes(): void
    {
        $places = [];
        foreach ($this->flows->all() as $flow) {
            $from = $this->flows->plan->devices[$flow->from] ?? null;
            $to = $this->flows->plan->devices[$flow->to] ?? null;
            $here = $from?->nic()?->segment;
            if (null !== $to && null !== $here && \in_array($to->service($flow->port)?->name, self::PROBED, true)) {
                $places[$here.' '.$to->key.' '.$flow->port] = [$here, $to, $flow];
            }
        }
        foreach ($places as [$here, $to, $flow]) {
            $this->flows->addFlow(new Flow(
                OutpostKey::on($here),
                $to->key,
                $flow->port,
                $flow->last,
                $flow->why,
                isServed: $flow->isServed,
                isTest: true,
            ));
            if ('media' === $to->service($flow->port)?->name) {
                $back = new Flow($to->key, OutpostKey::on($here), $flow->port, $flow->last, $flow->why, isServed: false, isTest: true);
                $this->flows->addFlow($back);
            }
        }
    }
}
