<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Media\GroupStream;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;

/** Whether a multicast stream arrives on a segment. */
final readonly class HeardProbe implements Probe
{
    public function kind(): TestKind
    {
        return TestKind::Heard;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        $stream = $context->plan->streams[$test->called ?? ''] ?? null;
        $sent = null === $stream ? null : GroupStream::of($context->plan, $stream);

        return null === $sent
            ? Evidence::notAsked(new Message('this stream is no longer multicast'))
            : (new StreamListener($context->access))->hear($context->plan, $context->place, $sent);
    }
}
