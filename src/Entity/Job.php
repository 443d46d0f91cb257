<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A job: one site, from the brief to the handover. */
#[ORM\Entity]
#[ORM\Table(name: 'job')]
class Job
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    /** Its name in addresses of pages. */
    #[ORM\Column(length: 64, unique: true)]
    public string $slug = '';

    /** Counts up with every change; a page asks by it whether it is still current. */
    #[ORM\Column]
    public int $revision = 0;

    /** Drawn anew with every change, evidence included: names this very state. */
    #[ORM\Column(name: 'stamp', length: 16, options: ['default' => ''])]
    public string $stamp = '';

    /** The same for the plan only: evidence does not change it. */
    #[ORM\Column(name: 'plan_stamp', length: 16, options: ['default' => ''])]
    public string $planStamp = '';

    /** Renewed with every change that may alter the files of phones. */
    #[ORM\Column(name: 'files_stamp', length: 16, options: ['default' => ''])]
    public string $filesStamp = '';

    /** The unguessable part of the path that phones fetch their files by. */
    #[ORM\Column(length: 64, unique: true)]
    public string $fileToken = '';

    /** Whether the lab is running for this job. */
    #[ORM\Column]
    public bool $rehearsed = false;

    /** Its part of the loopback addresses while it runs in the lab, next to those of other jobs; the lab decides. */
    #[ORM\Column(options: ['default' => 0])]
    public int $labShift = 0;

    #[ORM\Version]
    #[ORM\Column(type: 'integer')]
    public int $version = 1;

    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'customer', type: 'string', length: 255, nullable: true)]
    public ?string $customer = null;

    #[ORM\Column(name: 'site', type: 'string', length: 255, nullable: true)]
    public ?string $site = null;

    #[ORM\Column(name: 'country', type: 'string', length: 255, nullable: true)]
    public ?string $country = null;

    #[ORM\Column(name: 'language', type: 'string', length: 255, nullable: true)]
    public ?string $language = null;

    #[ORM\Column(name: 'time_zone', type: 'string', length: 190, nullable: true)]
    public ?string $timeZone = null;

    #[ORM\Column(name: 'ntp', type: 'string', length: 255, nullable: true)]
    public ?string $ntp = null;

    #[ORM\Column(name: 'dns', type: 'string', length: 190, nullable: true)]
    public ?string $dns = null;

    #[ORM\Column(name: 'domain', type: 'string', length: 190, nullable: true)]
    public ?string $domain = null;

    #[ORM\Column(name: 'admin_name', type: 'string', length: 255, nullable: true)]
    public ?string $adminName = null;

    #[ORM\Column(name: 'admin_mail', type: 'string', length: 190, nullable: true)]
    public ?string $adminMail = null;

    #[ORM\Column(name: 'extension_first', type: 'string', length: 190, nullable: true)]
    public ?string $extensionFirst = null;

    #[ORM\Column(name: 'extension_last', type: 'string', length: 190, nullable: true)]
    public ?string $extensionLast = null;

    #[ORM\Column(name: 'outside_digit', type: 'string', length: 190, nullable: true)]
    public ?string $outsideDigit = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'feature_codes', type: 'json', nullable: true)]
    public ?array $featureCodes = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'emergency_numbers', type: 'json', nullable: true)]
    public ?array $emergencyNumbers = null;

    #[ORM\Column(name: 'voicemail_after', type: 'integer', nullable: true)]
    public ?int $voicemailAfter = null;

    #[ORM\Column(name: 'laptop', type: 'string', length: 190, nullable: true)]
    public ?string $laptop = null;

    #[ORM\Column(name: 'practice', type: 'boolean', nullable: true)]
    public ?bool $practice = null;

    #[ORM\Column(name: 'bench_people', type: 'integer', nullable: true)]
    public ?int $benchPeople = null;

    #[ORM\Column(name: 'bench_ports', type: 'integer', nullable: true)]
    public ?int $benchPorts = null;

    #[ORM\Column(name: 'bench_watts', type: 'integer', nullable: true)]
    public ?int $benchWatts = null;

    #[ORM\Column(name: 'bench_class', type: 'integer', nullable: true)]
    public ?int $benchClass = null;

    #[ORM\Column(name: 'benches', type: 'integer', nullable: true)]
    public ?int $benches = null;

    #[ORM\Column(name: 'headroom', type: 'integer', nullable: true)]
    public ?int $headroom = null;

    #[ORM\Column(name: 'sound_limit', type: 'integer', nullable: true)]
    public ?int $soundLimit = null;

    #[ORM\Column(name: 'uplink_kbit', type: 'integer', nullable: true)]
    public ?int $uplinkKbit = null;

    #[ORM\Column(name: 'uplink_mobile', type: 'boolean', nullable: true)]
    public ?bool $uplinkMobile = null;

    #[ORM\Column(name: 'fetch_minutes', type: 'integer', nullable: true)]
    public ?int $fetchMinutes = null;

    #[ORM\Column(name: 'files_host', type: 'string', length: 190, nullable: true)]
    public ?string $filesHost = null;

    #[ORM\Column(name: 'files_port', type: 'integer', nullable: true)]
    public ?int $filesPort = null;

    #[ORM\Column(name: 'files_authority', type: 'string', length: 190, nullable: true)]
    public ?string $filesAuthority = null;

    #[ORM\Column(name: 'files_until', type: 'string', length: 190, nullable: true)]
    public ?string $filesUntil = null;

    #[ORM\Column(name: 'starts_on', type: 'string', length: 190, nullable: true)]
    public ?string $startsOn = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;

    /**
     * The same for typing on a keypad: digits only, twelve presses instead of ninety. A shorter one is easier to guess, so it serves a
     * phone of the roster within its own segment only, and wrong ones are counted.
     */
    public function keypadCode(): string
    {
        $number = (int) hexdec(substr(hash('sha256', 'keypad '.$this->fileToken), 0, 12));

        return str_pad((string) ($number % 10 ** 12), 12, '0', \STR_PAD_LEFT);
    }

    /** The lab is running for it, and its results prove nothing about the site; for a practice job the lab is the site. */
    public function isRehearsing(): bool
    {
        return $this->rehearsed && true !== $this->practice;
    }
}
