<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Media\Test\StreamTests;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;

/** What a sender offers of a stream (RTSP). */
final readonly class StreamProbe implements Probe
{
    public function kind(): TestKind
    {
        return TestKind::Stream;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        $address = $context->target($context->plan->devices[$test->to] ?? null);
        $stream = $context->plan->streams[$test->called ?? ''] ?? null;
        if (null === $address || null === $stream) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }

        return (new RtspCaller($context->access, $context->place))->describe(
            $address,
            $test->port->number ?? RtspCaller::PORT,
            StreamTests::expectedFormat($context->plan, $stream),
        );
    }
}
