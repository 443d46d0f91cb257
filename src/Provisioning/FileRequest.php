<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Vorhut\Core\Net\Mac;
use Vorhut\Core\Voice\FileShape;

/** A request that may be from a phone, over any protocol. */
final readonly class FileRequest
{
    private const LONG = '~^/p/([0-9a-f]{32})/([0-9A-Fa-f:.-]{12,17})\.(?:'.FileShape::ENDINGS.')$~D';
    private const SHORT = '~^/9/([0-9]{12})/([0-9A-Fa-f:.-]{12,17})\.(?:'.FileShape::ENDINGS.')$~D';

    /**
     * @param string $token    the unguessable part of the long path; '' where it came by the short one
     * @param string $code     that of the short path, made for a keypad; '' where it came by the long one
     * @param string $mac      as it was written
     * @param string $address  from where
     * @param bool   $hasLogin it sent credentials without a challenge
     * @param bool   $isSealed the connection was encrypted
     */
    private function __construct(
        public string $method,
        public string $token,
        public string $code,
        public string $mac,
        public string $address,
        public string $agent,
        public bool $hasLogin,
        public bool $isSealed,
    ) {
    }

    /** @return self|null null where the path is that of no file */
    public static function tryOf(
        string $method,
        string $path,
        string $address,
        string $agent,
        bool $hasLogin,
        bool $isSealed,
    ): ?self {
        $long = 1 === preg_match(self::LONG, $path, $found);

        return $long || 1 === preg_match(self::SHORT, $path, $found)
            ? new self($method, $long ? $found[1] : '', $long ? '' : $found[1], $found[2], $address, $agent, $hasLogin, $isSealed)
            : null;
    }

    public function mac(): ?Mac
    {
        return Mac::tryFromString($this->mac);
    }
}
