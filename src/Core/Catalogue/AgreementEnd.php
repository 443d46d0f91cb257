<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/**
 * One end of an agreement: which records, and which of their settings.
 *
 * The first end selects with `every` (account, port, device, segment), narrowed by a role; `by: phone` takes the phone of an account. A
 * further end is reached from the one before by a link: `by: device` of a port, `segment` of a port, `phone` and `registrar` of an
 * account, `ports` of a device, `job`, or `setting:NAME`, a setting that points to another device.
 */
final readonly class AgreementEnd
{
    /** Facts that act as a setting without being one: fields of records, and facts that follow from cables; with their labels. */
    public const FIELDS = [
        'mac' => 'MAC',
        'segment' => 'Segment',
        'macEntered' => 'MAC at the registrar',
        'user' => 'Account',
        'switch' => 'Switch',
    ];

    /**
     * @param string|null $with a setting that a record's device has to hold, for it to be selected
     * @param string $setting its name; with `.{NAME}` behind it the number of an item is what the first end holds in NAME
     */
    public function __construct(
        public string $name,
        public ?string $every,
        public ?Role $role,
        public ?string $of,
        public ?string $by,
        public string $setting,
        public ?string $with = null,
    ) {
    }

    /** Whether a device of a kind, or a record of it, can be this end: it has the setting, or a fact that acts as one. */
    public function isHeldBy(Kind $kind): bool
    {
        $name = explode('.', $this->setting, 2)[0];

        return isset(self::FIELDS[$name]) || null !== $kind->setting($name);
    }
}
