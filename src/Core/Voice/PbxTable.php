<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Terminal;

/** The numbers of a PBX, one per row, for its import: account and secret, MACs, forward. */
final class PbxTable
{
    /**
     * @param \Closure(string): string $secretOf account key → its SIP secret, or a placeholder
     *
     * @return list<array<string, string>>
     */
    public static function rows(Plan $plan, Device $pbx, \Closure $secretOf): array
    {
        $rows = [];
        foreach ($plan->extensions as $extension) {
            $account = $plan->accountOf($extension->key);
            if ($pbx->key !== ($account->registrar ?? $extension->pbx)) {
                continue;
            }
            $macs = array_filter([
                ($plan->devices[$extension->phone ?? ''] ?? null)?->nic()?->mac,
                ...array_map(
                    static fn (Terminal $one): ?Mac => ($plan->devices[$one->device] ?? null)?->nic()?->mac,
                    $plan->terminalsOf($extension->key),
                ),
            ]);
            $rows[] = [
                'number' => $extension->number,
                'name' => $extension->name,
                'terminal' => $extension->terminal,
                'user' => $account->user ?? '',
                'secret' => null === $account ? '' : $secretOf($account->key),
                'mac' => implode('+', array_map(strval(...), $macs)),
                'voicemail' => $extension->voicemail ? 'yes' : 'no',
                'mail' => $extension->mail,
                'caller id' => $extension->callerId,
                'permission' => $extension->permission,
                'forward always' => $extension->forwardAlways,
                'forward busy' => $extension->forwardBusy,
                'forward unanswered' => $extension->forwardUnanswered,
                'location' => $extension->location,
            ];
        }

        return $rows;
    }
}
