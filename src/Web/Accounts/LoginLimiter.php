<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\RateLimiter\RequestRateLimiterInterface;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\RateLimiter\LimiterInterface;
use Symfony\Component\RateLimiter\RateLimit;
use Symfony\Component\RateLimiter\RateLimiterFactoryInterface;
use Symfony\Component\Security\Http\SecurityRequestAttributes;
use Vorhut\Entity\User;

/**
 * Limits wrong passwords for one name from one address, so that only the person who mistypes is delayed. The address as a whole is limited
 * only above the number that all its users could mistype. An attempt is counted before its password is checked, so many at once cannot pass
 * the limit; a successful login resets the count.
 */
final readonly class LoginLimiter implements RequestRateLimiterInterface
{
    public function __construct(
        #[Autowire(service: 'limiter.login_of_name')]
        private RateLimiterFactoryInterface $names,
        #[Autowire(service: 'limiter.login_of_address')]
        private RateLimiterFactoryInterface $addresses,
    ) {
    }

    public function consume(Request $request): RateLimit
    {
        $ofAddress = $this->addresses->create((string) $request->getClientIp())->consume();

        return $ofAddress->isAccepted() ? $this->ofName($request)->consume() : $ofAddress;
    }

    public function reset(Request $request): void
    {
        $this->ofName($request)->reset();
    }

    private function ofName(Request $request): LimiterInterface
    {
        $name = $request->attributes->get(SecurityRequestAttributes::LAST_USERNAME, '');
        $name = User::normalise(\is_string($name) ? $name : '');

        // A name may be long, and what it is kept under may not.
        return $this->names->create(hash('sha256', $name.' '.$request->getClientIp()));
    }
}
