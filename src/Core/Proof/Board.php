<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\ProvisioningFile;

/**
 * The provisioning board: how far each phone is, by evidence. Waiting until it fetched its file; fetched, by the server's own log;
 * registered, when a call rang it or its registration was seen; called, when a call to it was as planned.
 */
final readonly class Board
{
    /**
     * @param list<array{
     *     phone: Device, extension: Extension|null, state: string, fetch: Row|null, call: TestResult|null,
     *     obstacle: Message|null,
     * }> $phones
     * @param list<Row>                                                                                                $strangers
     *     fetches of MACs that the roster does not know
     */
    private function __construct(public array $phones, public array $strangers)
    {
    }

    /** @param Proof|null $proof where it is there already */
    public static function of(Plan $plan, ?Proof $proof = null): self
    {
        $latest = [];
        $strangers = [];
        $known = [];
        foreach ($plan->nics as $nic) {
            null === $nic->mac || $known[(string) $nic->mac] = true;
        }
        $fetches = array_map(static fn (array $row): Row => new Row($row), $plan->rows('fetches'));
        usort($fetches, static fn (Row $a, Row $b): int => [$a->text('at'), $a->text('key')] <=> [$b->text('at'), $b->text('key')]);
        foreach ($fetches as $fetch) {
            '' === $fetch->text('device') || $latest[$fetch->text('device')] = $fetch;
            if (null !== Mac::tryFromString($fetch->text('mac')) && !isset($known[$fetch->text('mac')])) {
                $strangers[$fetch->text('mac')] = $fetch;
            }
        }
        $proof ??= Proof::of($plan);
        $phones = [];
        foreach ($plan->devices as $device) {
            if (!$device->kind->has(Role::FileClient)) {
                continue;
            }
            $extension = $plan->extensionsOf($device->key)[0] ?? null;
            $call = null;
            foreach ($proof->at($device->key) as $result) {
                if ('call' === $result->test->what && null !== $result->observation) {
                    $call = $result;
                }
            }
            $rang = \in_array($call?->observed(), [Outcome::DeviceAnswers, Outcome::OneWaySound], true);
            $phones[] = [
                'phone' => $device,
                'extension' => $extension,
                'state' => match (true) {
                    Verdict::AsPlanned === $call?->verdict => 'called',
                    $rang => 'registered',
                    200 === ($latest[$device->key] ?? null)?->int('status') => 'fetched',
                    default => 'waiting',
                },
                'fetch' => $latest[$device->key] ?? null,
                'call' => $call,
                'obstacle' => ProvisioningFile::obstacle($plan, $device),
            ];
        }

        return new self($phones, array_values($strangers));
    }
}
