<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\NearMiss;
use Vorhut\Core\Text\Message;

/** Two DNS servers of one job differ by a typing error: one of them was probably meant to be the other. */
final class DnsNearMiss implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        $job = (string) Ipv4::tryFromString($plan->job->text('dns'));
        // Few servers however many segments: each once, with the first place that names it.
        $named = '' === $job ? [] : [$job => ['job/dns', new Message('the job')]];
        foreach ($plan->segments as $segment) {
            if (null !== $segment->dns) {
                $named[(string) $segment->dns] ??= ['segments/'.$segment->key, $segment->name];
            }
        }
        $servers = array_map(strval(...), array_keys($named));
        foreach ($servers as $i => $one) {
            foreach (\array_slice($servers, $i + 1) as $other) {
                // Two neighbouring servers, or the same in two subnets, rightly differ in one digit; swapped digits are never planned.
                $near = NearMiss::of($one, $other);
                if (null === $near || NearMiss::Wrong === $near) {
                    continue;
                }
                yield new Finding(
                    'dns-near-miss',
                    NearMiss::Swapped === $near ? Severity::Risk : Severity::Note,
                    Stage::Networks,
                    [$named[$other][0], $named[$one][0]],
                    new Message('The DNS server of {one} is {a}, that of {other} is {b}: {near}', [
                        'a' => $one,
                        'one' => $named[$one][1],
                        'b' => $other,
                        'other' => $named[$other][1],
                        'near' => new Message($near->label()),
                    ]),
                    new Message('A device accepts a wrong DNS server. Names then do not resolve, and the network looks broken.'),
                    new Message('Ask the administrator whether there are two servers. If not, correct the wrong one.'),
                );
            }
        }
    }
}
