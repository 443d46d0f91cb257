<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RegistrarEntry;

/** The entries at a PBX: numbers, their accounts and secrets, and voicemail. */
final readonly class DirectoryServer
{
    /**
     * @param array<string, array{user: string|null, voicemail: bool}> $numbers
     * @param array<string, string>                                    $secrets user → secret
     */
    public function __construct(private array $numbers, private array $secrets, public float $voicemailAfter)
    {
    }

    /**
     * The entries at the registrars of a job, and no others.
     *
     * @param array<string, string> $secrets account key → SIP secret
     */
    public static function of(Plan $plan, #[\SensitiveParameter] array $secrets): self
    {
        $numbers = $known = [];
        foreach ($plan->extensions as $extension) {
            $account = $plan->accountOf($extension->key);
            $isEntered = self::isEntered($plan, $extension);
            $numbers[$extension->number] = ['user' => $isEntered ? $account?->user : null, 'voicemail' => $extension->voicemail];
            if ($isEntered && null !== $account && isset($secrets[$account->key])) {
                $known[$account->user] = $secrets[$account->key];
            }
        }

        return new self($numbers, $known, (float) $plan->job->int('voicemailAfter', 4));
    }

    private static function isEntered(Plan $plan, Extension $extension): bool
    {
        if (true === RegistrarEntry::ofNumber($plan, $extension)?->isEntered()) {
            return true;
        }
        foreach ($plan->terminalsOf($extension->key) as $terminal) {
            if (true === RegistrarEntry::of($plan, $extension, $terminal->device)?->isEntered()) {
                return true;
            }
        }

        return false;
    }

    public function knows(string $number): bool
    {
        return isset($this->numbers[$number]);
    }

    public function userOf(string $number): ?string
    {
        return $this->numbers[$number]['user'] ?? null;
    }

    /** The number of an account; empty where it has none. */
    public function numberOf(string $user): string
    {
        foreach ($this->numbers as $number => $entry) {
            if ($entry['user'] === $user) {
                return (string) $number;
            }
        }

        return '';
    }

    public function hasVoicemail(string $number): bool
    {
        return $this->numbers[$number]['voicemail'] ?? false;
    }

    public function secretOf(string $user): ?string
    {
        return $this->secrets[$user] ?? null;
    }
}
