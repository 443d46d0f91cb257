<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Account;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Voice\Registration;

/** The account of a number at its registrar, with which an outpost takes the place of the telephone. */
final readonly class CallerAccount
{
    /** @param Ipv4|null $host where the registrar is, as it was set, else planned */
    private function __construct(
        public Extension $extension,
        public Account $account,
        private ?Device $registrar,
        public ?Ipv4 $host,
    ) {
    }

    /** @return self|null null where the number has no account */
    public static function of(Plan $plan, ?string $number): ?self
    {
        $extension = null === $number ? null : $plan->extensionNumbered($number);
        $account = null === $extension ? null : $plan->accountOf($extension->key);
        $registrar = $plan->devices[$account->registrar ?? ''] ?? null;

        return null === $extension || null === $account
            ? null
            : new self($extension, $account, $registrar, ProbeContext::addressOf($registrar));
    }

    public function caller(ProbeContext $context): SipCaller
    {
        return new SipCaller(
            $context->access,
            $context->place,
            $this->account->user,
            $context->secretOf($this->account->key) ?? '',
            Registration::hearsAt($this->registrar, Face::Set)->number,
        );
    }
}
