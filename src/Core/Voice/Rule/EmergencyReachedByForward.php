<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\BranchEnd;
use Vorhut\Core\Voice\CallBranches;

/** A forward, a group, a menu or an inbound route leads to an emergency number. */
final class EmergencyReachedByForward implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach (self::targets($context->plan) as [$record, $name, $pbx, $digits, $by]) {
            foreach (CallBranches::ofForwarded($context->plan, $pbx, $digits, $by)->all() as $branch) {
                // Reached through another forward, it is found there.
                if (BranchEnd::Emergency === $branch->end && $branch->isDirect()) {
                    yield self::finding($record, $name, $digits, $branch->numbers[array_key_last($branch->numbers) ?? 0] ?? $digits);
                }
            }
        }
    }

    /** @return iterable<array{string, string, string, string, Extension|null}> record, its name, PBX, digits it leads to, who forwards */
    private static function targets(Plan $plan): iterable
    {
        foreach ($plan->extensions as $one) {
            foreach (array_unique([$one->forwardAlways, $one->forwardBusy, $one->forwardUnanswered]) as $digits) {
                yield ['extensions/'.$one->key, $one->number, (string) $one->pbx, $digits, $one];
            }
        }
        foreach ($plan->ringGroups as $one) {
            foreach (array_unique([...$one->members, $one->otherwise]) as $digits) {
                yield ['ringGroups/'.$one->key, $one->number, $one->pbx, $digits, null];
            }
        }
        foreach ($plan->menus as $one) {
            foreach (array_unique([...array_values($one->choices), $one->otherwise]) as $digits) {
                yield ['menus/'.$one->key, $one->number, $one->pbx, $digits, null];
            }
        }
        foreach ($plan->inboundRoutes as $one) {
            $trunk = $plan->trunks[$one->trunk] ?? null;
            if (null !== $trunk) {
                yield ['inboundRoutes/'.$one->key, $trunk->name.' '.$one->map, $trunk->pbx, $one->to, null];
            }
        }
    }

    private static function finding(string $record, string $name, string $digits, string $number): Finding
    {
        $at = ['from' => $name, 'digits' => $digits, 'number' => $number];

        return new Finding(
            'emergency-by-forward',
            Severity::Blocks,
            Stage::Services,
            [$record],
            $digits === $number
                ? new Message('{from} forwards to the emergency number {number}.', $at)
                : new Message('{from} forwards to {digits}, which reaches the emergency centre as {number}.', $at),
            new Message('An ordinary call, or a test call, would reach the emergency centre.'),
            new Message('Choose another destination. Emergency calls are dialled by the person who needs help.'),
            null,
            $digits,
        );
    }
}
