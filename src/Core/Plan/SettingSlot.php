<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Setting;

/** One setting of one device, as pages, tables and files list them: where it stands, what it is, what it holds. */
final readonly class SettingSlot
{
    /**
     * @param string      $local   its name within the device: `hostName`, `lan.address`, `inputSource.3`, `2101.lineLabel`
     * @param string|null $port    name of the port it belongs to
     * @param string|null $account number whose account it belongs to
     */
    public function __construct(
        public SettingRef $ref,
        public string $local,
        public ?string $port,
        public Setting $setting,
        public TrackedValue $value,
        public ?string $account = null,
    ) {
    }

    /** Which of several it is: the number of the input, the number of the account; empty where there is one. */
    public function which(): string
    {
        return $this->account ?? (null === $this->ref->number ? '' : (string) $this->ref->number);
    }

    public function label(): string
    {
        return $this->setting->label;
    }
}
