<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\RateLimiter\AbstractRequestRateLimiter;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\RateLimiter\RateLimiterFactoryInterface;
use Symfony\Component\Security\Http\SecurityRequestAttributes;

/**
 * Who mistypes is held up alone: a few wrong passwords for one name from one address. The address as a whole is held up only where it asks
 * more often than all who sit behind it could mistype.
 */
final class LoginLimiter extends AbstractRequestRateLimiter
{
    public function __construct(
        #[Autowire(service: 'limiter.login_of_name')]
        private readonly RateLimiterFactoryInterface $names,
        #[Autowire(service: 'limiter.login_of_address')]
        private readonly RateLimiterFactoryInterface $addresses,
    ) {
    }

    protected function getLimiters(Request $request): array
    {
        $name = $request->attributes->get(SecurityRequestAttributes::LAST_USERNAME, '');
        $name = mb_strtolower(\is_string($name) ? mb_scrub($name) : '');
        $address = (string) $request->getClientIp();

        return [
            $this->addresses->create($address),
            // A name may be long, and what it is kept under may not.
            $this->names->create(hash('sha256', $name.' '.$address)),
        ];
    }
}
