<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\ProvisioningFile;

/**
 * The provisioning board: the progress of each phone by evidence from the site. Waiting until it fetched its file; fetched, by the server's
 * own log; registered, when a call rang it or the phone itself reports it; called, when a call to it was as planned, or a person confirms
 * that the parties could talk. An account that was accepted from an outpost says nothing about the phone.
 */
final readonly class Board
{
    /** What a phone says of itself. */
    private const REGISTERED = 'registered';

    /** @var array<string, string> */
    private array $states;
    /** @var array<string, Row|null> phone → its last fetch */
    private array $fetches;

    /**
     * @param list<array{
     *     phone: Device, extension: Extension|null, state: string, fetch: Row|null, call: TestResult|null,
     *     obstacle: Message|null, provider: Device|null, registeredBy: Message|null, rehearsed: bool,
     * }> $phones
     * @param list<Row>                                                                                                $strangers
     *     fetches of MACs that the roster does not know
     */
    private function __construct(public array $phones, public array $strangers)
    {
        $states = $fetches = [];
        foreach ($phones as $one) {
            $states[$one['phone']->key] = $one['state'];
            $fetches[$one['phone']->key] = $one['fetch'];
        }
        $this->states = $states;
        $this->fetches = $fetches;
    }

    /** @param Proof|null $proof where it is there already */
    public static function of(Plan $plan, ?Proof $proof = null): self
    {
        $latest = [];
        $strangers = [];
        $known = [];
        foreach ($plan->nics as $nic) {
            if (null !== $nic->mac) {
                $known[(string) $nic->mac] = true;
            }
        }
        $fetches = array_map(static fn (array $row): Row => new Row($row), $plan->rows('fetches'));
        // In order of arrival, like all evidence, and only from tests on site: a phone in the lab is not the phone on site.
        $fetches = array_filter($fetches, static fn (Row $one): bool => $plan->isPractice() || $one->bool('onSite'));
        usort($fetches, static fn (Row $a, Row $b): int => [
            $a->int('arrived'), $a->text('at'), $a->text('key'),
        ] <=> [$b->int('arrived'), $b->text('at'), $b->text('key')]);
        foreach ($fetches as $fetch) {
            if ('' !== $fetch->text('device')) {
                $latest[$fetch->text('device')] = $fetch;
            }
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
            [$call, $spoke] = self::calls($proof, $device);
            $rang = Verdict::Outdated !== $call?->verdict
                && \in_array($call?->observedOutcome(), [Outcome::DeviceAnswers, Outcome::OneWaySound], true);
            $registration = $device->setting('registration');
            $says = self::REGISTERED === $registration->seen;
            $provider = $plan->devices[$plan->providerOf($device->key) ?? ''] ?? null;
            $fetched = 200 === ($latest[$device->key] ?? null)?->int('status');
            $phones[] = [
                'phone' => $device,
                'extension' => $extension,
                'state' => match (true) {
                    // Another device answered that call, or this phone with other settings.
                    !$fetched && null === $provider => 'waiting',
                    Verdict::Passed === $call?->verdict, $spoke => 'called',
                    $rang, $says => 'registered',
                    // A provider's server does not report which phones fetched.
                    null !== $provider => 'waiting',
                    default => 'fetched',
                },
                'fetch' => $latest[$device->key] ?? null,
                'call' => $call,
                'provider' => $provider,
                'obstacle' => null === $provider ? ProvisioningFile::obstacle($plan, $device) : null,
                'registeredBy' => match (true) {
                    $rang => new Message('a call rang it'),
                    $says => new Message('it says so itself, {by}', ['by' => $registration->seenBy ?? '']),
                    default => null,
                },
                'rehearsed' => true === $call?->isRehearsed(),
            ];
        }

        return new self($phones, array_values($strangers));
    }

    /** The last request with this MAC from a device that is not in the roster. */
    public function strangerOf(Mac $mac): ?Row
    {
        foreach ($this->strangers as $one) {
            if ($one->text('mac') === (string) $mac) {
                return $one;
            }
        }

        return null;
    }

    /** The last time that a phone asked for its file, and got it; null where it did not, or was refused since. */
    public function fetchOf(string $device): ?Row
    {
        $fetch = $this->fetches[$device] ?? null;

        return 200 === $fetch?->int('status') ? $fetch : null;
    }

    /** How many phones are so far. */
    public function count(string $state): int
    {
        return \count(array_keys($this->states, $state, true));
    }

    /** waiting, fetched, registered or called; null for what fetches no file. */
    public function stateOf(string $device): ?string
    {
        return $this->states[$device] ?? null;
    }

    /** @return array{TestResult|null, bool} the call that was made to a phone, and whether a person confirms that the parties could talk */
    private static function calls(Proof $proof, Device $device): array
    {
        $call = null;
        $spoke = false;
        foreach ($proof->at($device->key) as $result) {
            if (TestKind::Call === $result->test->kind && (null !== $result->observation || null !== $result->rehearsal)) {
                $call = $result;
            }
            $spoke = $spoke || ('called' === $result->test->question?->says && Verdict::Passed === $result->verdict);
        }

        return [$call, $spoke];
    }
}
