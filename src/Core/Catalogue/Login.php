<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** How one gets into a device that comes out of its box. */
final readonly class Login
{
    /** @param string $certificate what its admin page shows: none, self-signed */
    public function __construct(
        public LoginPattern $pattern,
        public string $user,
        public string $password,
        public bool $forcedChange,
        public string $certificate,
    ) {
    }

    public function exists(): bool
    {
        return LoginPattern::None !== $this->pattern;
    }
}
