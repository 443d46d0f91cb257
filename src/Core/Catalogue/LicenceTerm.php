<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/** Something that a kind does only with a licence, a key or an unlock: what it is counted by, and how long it takes to come. */
final readonly class LicenceTerm
{
    /**
     * @param string|null $counts   name of the setting that says how many are wanted; null for one if wanted at all
     * @param string|null $wantedBy name of the setting which, when it is `yes` or set at all, wants it
     * @param string|null $unless   the value of that setting which does without it for a while: a temporary unlock
     * @param int         $included how many it comes with
     * @param int         $lead     days from order to arrival
     * @param int         $lasts    days for which a temporary one holds; 0 where there is none
     * @param string      $by       what it is bound to: serial, hardware-id, certificate, credentials
     */
    public function __construct(
        public string $code,
        public string $name,
        public ?string $counts,
        public ?string $wantedBy,
        public ?string $unless,
        public int $included,
        public int $lead,
        public int $lasts,
        public string $by,
    ) {
    }

    /** @throws Malformed */
    public static function read(Reading $read): self
    {
        return new self(
            $read->requireText('code'),
            $read->requireText('name'),
            $read->textOrNull('counts'),
            $read->textOrNull('wantedBy'),
            $read->textOrNull('unless'),
            (int) $read->text('included', '0'),
            (int) $read->text('lead', '0'),
            (int) $read->text('lasts', '0'),
            $read->text('by', 'serial'),
        );
    }
}
