<?php

declare(strict_types=1);

namespace Vorhut\Lab;

/** Faults that can be played into a stand-in, by name. */
enum InjectedFault: string
{
    case WrongGateway = 'wrong-gateway';
    case SwappedDigits = 'swapped-digits';
    case NotRebooted = 'not-rebooted';
    case WrongMask = 'wrong-mask';
    case WrongSipPassword = 'wrong-sip-password';
    case VoicemailAnswers = 'voicemail-answers';
    case SlowBoot = 'slow-boot';
    case WrongAdminPassword = 'wrong-admin-password';
    /** Each seventh datagram of sound that it sends is lost. */
    // no break
    case LossyLine = 'lossy-line';
    /** It sends another universe of light than it was told to. */
    // no break
    case WrongUniverse = 'wrong-universe';
    /** A second program, left running by mistake, sends its universes too. */
    // no break
    case SecondSender = 'second-sender';
    /** Its streams go out at half of their rate. */
    // no break
    case WrongRate = 'wrong-rate';
    /** It runs at another sample rate than it was told to. */
    // no break
    case WrongSampleRate = 'wrong-sample-rate';
    /** Its clock does not lead, whatever it is set to. */
    // no break
    case LeaderMissing = 'leader-missing';
    /** This switch has lost its IGMP querier: multicast stops in its segment. */
    // no break
    case NoQuerier = 'no-querier';

    /** Puts the fault into a truth; gives back whether the device has to restart for it. */
    public function into(SimulatedState $state): bool
    {
        switch ($this) {
            case self::WrongGateway:
                // A zero too many and a one: .1 becomes .101.
                $state->put(
                    'gateway',
                    preg_replace_callback(
                        '/[0-9]+$/',
                        static fn (array $last): string => (string) (((int) $last[0] + 100) % 255),
                        $state->get('gateway'),
                    ) ?? '',
                );

                return true;
            case self::SwappedDigits:
                $state->put('address', self::transpose($state->get('address')));

                return true;
            case self::NotRebooted:
                // The page shows the typed address; the old one is still active.
                $state->saved = [$state->local('address') => $state->get('address')];
                $state->put(
                    'address',
                    preg_replace_callback(
                        '/[0-9]+$/',
                        static fn (array $last): string => (string) (((int) $last[0] + 100) % 254 + 1),
                        $state->get('address'),
                    ) ?? '',
                );

                return true;
            case self::WrongMask:
                $state->put('mask', '/16');

                return true;
            case self::WrongSipPassword:
                $state->put('secret', strrev($state->get('secret')).'x');
                $state->standingFaults[] = $this->value;

                return true;
            case self::WrongAdminPassword:
                // It was changed without notice.
                $state->put('adminPassword', 'changed-elsewhere');

                return false;
            case self::WrongUniverse:
                $sent = $state->get('universesSent');
                $of = '' === $sent ? 'universe' : 'universesSent';
                $state->put($of, preg_replace_callback(
                    '/[0-9]+/',
                    static fn (array $number): string => (string) ((int) $number[0] % 63_999 + 1),
                    $state->get($of),
                ) ?? '');

                return false;
            case self::WrongSampleRate:
                $state->put('sampleRate', '48' === $state->get('sampleRate') ? '44.1' : '48');

                return false;
            case self::VoicemailAnswers:
            case self::LossyLine:
            case self::SecondSender:
            case self::WrongRate:
            case self::LeaderMissing:
            case self::NoQuerier:
            case self::SlowBoot:
                $state->standingFaults[] = $this->value;

                return self::SlowBoot === $this;
        }
    }

    /** The last two digits that differ and stand side by side, the other way round. */
    private static function transpose(string $address): string
    {
        for ($i = \strlen($address) - 2; $i > 0; --$i) {
            if (
                ctype_digit($address[$i])
                && ctype_digit($address[$i + 1])
                && $address[$i] !== $address[$i + 1]
                && '.' !== $address[$i - 1]
            ) {
                [$address[$i], $address[$i + 1]] = [$address[$i + 1], $address[$i]];

                return $address;
            }
        }
        for ($i = \strlen($address) - 2; $i > 0; --$i) {
            if (
                ctype_digit($address[$i])
                && '0' !== $address[$i + 1]
                && ctype_digit($address[$i + 1])
                && $address[$i] !== $address[$i + 1]
            ) {
                [$address[$i], $address[$i + 1]] = [$address[$i + 1], $address[$i]];

                return $address;
            }
        }

        return $address;
    }
}
