<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Media\PushTarget;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;

/** Whether a receiver takes a pushed stream (SRT). */
final readonly class PushProbe implements Probe
{
    public function kind(): TestKind
    {
        return TestKind::Push;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        $target = PushTarget::all($context->plan)[$test->called ?? ''] ?? null;
        $address = $context->target($context->plan->devices[$test->to] ?? null);
        if (null === $target || null === $address) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }

        return (new SrtCaller($context->access))->ask(
            $context->place,
            $address,
            $target->port->number,
            $target->isSealed(),
            $target->url->latency(),
        );
    }
}
