<?php

declare(strict_types=1);

namespace Vorhut\Core\Consistency;

use Vorhut\Core\Plan\Account;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Plan\TrackedValue;

/** One end of an agreement in a job: a setting of a record, or a plain field of one (the MAC of a port, the mask of a segment). */
final readonly class Subject
{
    /**
     * @param string          $end     name of the end in the agreement's data
     * @param string          $record  `section/key`, or `job`
     * @param string          $name    what people call it: CAM-01, or SRV-1 nic2
     * @param string          $field   slot of the setting, or name of the field
     * @param SettingRef|null $ref     where it is a setting
     * @param string|null     $segment key of the segment it is on
     * @param Nic|null        $nic     the port, where it is of one
     * @param Account|null    $account the account that led to it
     */
    public function __construct(
        public string $end,
        public string $record,
        public string $name,
        public string $field,
        public string $label,
        public TrackedValue $value,
        public ?SettingRef $ref = null,
        public ?Device $device = null,
        public ?string $segment = null,
        public ?Nic $nic = null,
        public ?Account $account = null,
    ) {
    }
}
