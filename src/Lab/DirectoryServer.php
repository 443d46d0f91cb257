<?php

declare(strict_types=1);

namespace Vorhut\Lab;

/** What was entered at a PBX: numbers, the accounts behind them, their secrets, who has voicemail. */
final readonly class DirectoryServer
{
    /**
     * @param array<string, array{user: string|null, voicemail: bool}> $numbers
     * @param array<string, string>                                    $secrets user → secret
     */
    public function __construct(private array $numbers, private array $secrets, public float $voicemailAfter)
    {
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
