<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Network\Test\RadiusTests;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;

/** Whether an authentication server answers the outpost as one of its clients (RFC 5997). */
final readonly class RadiusProbe implements Probe, NeedsSecrets
{
    public function kind(): TestKind
    {
        return TestKind::Radius;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        $server = $context->plan->devices[$test->to] ?? null;
        $address = $context->target($server);
        if (null === $server || null === $address) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }
        $at = ['tag' => $server->tag, 'address' => (string) $context->place->address];
        if (!RadiusTests::isClient($server, $context->place->address)) {
            return Evidence::notAsked(new Message(
                '{tag} answers only its clients: enter {address} there as one, with our own secret',
                $at,
            ));
        }
        $secret = $context->secretOf($server->record().'#radius') ?? '';

        return '' === $secret
            ? Evidence::notAsked(new Message('the secret of our own entry at {tag} is not recorded', $at))
            : (new RadiusAsker($context->access))->status($context->place, $address, $test->port->number ?? 1812, $secret);
    }

    public function secretOwners(Plan $plan, ProofTest $test): array
    {
        return ['devices/'.$test->to.'#radius'];
    }
}
