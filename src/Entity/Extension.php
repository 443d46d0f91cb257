<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A number of the PBX. */
#[ORM\Entity]
#[ORM\Table(name: 'extension')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Extension extends Record
{
    #[ORM\Column(name: 'number_text', type: 'string', length: 190, nullable: true)]
    public ?string $number = null;

    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'pbx', type: 'string', length: 190, nullable: true)]
    public ?string $pbx = null;

    #[ORM\Column(name: 'terminal', type: 'string', length: 190, nullable: true)]
    public ?string $terminal = null;

    #[ORM\Column(name: 'phone', type: 'string', length: 190, nullable: true)]
    public ?string $phone = null;

    #[ORM\Column(name: 'voicemail', type: 'boolean', nullable: true)]
    public ?bool $voicemail = null;

    #[ORM\Column(name: 'location', type: 'string', length: 255, nullable: true)]
    public ?string $location = null;

    #[ORM\Column(name: 'factory_made', type: 'boolean', nullable: true)]
    public ?bool $factoryMade = null;

    #[ORM\Column(name: 'caller_id', type: 'string', length: 190, nullable: true)]
    public ?string $callerId = null;

    #[ORM\Column(name: 'permission', type: 'string', length: 190, nullable: true)]
    public ?string $permission = null;

    #[ORM\Column(name: 'forward_always', type: 'string', length: 190, nullable: true)]
    public ?string $forwardAlways = null;

    #[ORM\Column(name: 'forward_busy', type: 'string', length: 190, nullable: true)]
    public ?string $forwardBusy = null;

    #[ORM\Column(name: 'forward_unanswered', type: 'string', length: 190, nullable: true)]
    public ?string $forwardUnanswered = null;

    #[ORM\Column(name: 'mail', type: 'string', length: 190, nullable: true)]
    public ?string $mail = null;
}
