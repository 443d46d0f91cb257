<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Plan\FurtherLogin;
use Vorhut\Core\Plan\Plan;

/** The secrets that were typed into stand-ins, as each of them asks for its own. */
final readonly class LabSecrets
{
    /** @param array<string, string> $secrets account key → SIP secret, `devices/KEY` → admin password, `devices/KEY#PURPOSE` → other */
    public function __construct(private Plan $plan, #[\SensitiveParameter] private array $secrets)
    {
    }

    /** Of an SRT input of the device; without a recorded passphrase it has a random one. */
    public function passphraseOf(string $device): string
    {
        return $this->secrets['devices/'.$device.'#srt'] ?? bin2hex(random_bytes(8));
    }

    /**
     * The secret that an authentication server has with one of its clients: a controller's own, else that of our own entry.
     *
     * @param string $client device key, or any other name
     */
    public function sharedWith(StandIn $server, string $client): ?string
    {
        $owner = isset($this->plan->devices[$client]) ? $client : $server->state->device;

        return $this->secrets['devices/'.$owner.'#radius'] ?? null;
    }

    /** @return array<string, string> user → password, as they were written down as further logins of the server */
    public function usersOf(StandIn $server): array
    {
        $owner = 'devices/'.$server->state->device;
        $users = [];
        foreach ($this->plan->credentials() as $credential) {
            if ($owner === $credential->owner && !FurtherLogin::isReserved($credential->purpose) && 'radius' !== $credential->purpose) {
                $users[$credential->user] = $this->secrets[$owner.'#'.$credential->purpose] ?? '';
            }
        }

        return $users;
    }
}
