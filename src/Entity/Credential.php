<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A secret: what may be known of it, and the secret itself, encrypted. */
#[ORM\Entity]
#[ORM\Table(name: 'credential')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Credential extends Record
{
    #[ORM\Column(name: 'owner_key', type: 'string', length: 190, nullable: true)]
    public ?string $owner = null;

    #[ORM\Column(name: 'purpose', type: 'string', length: 255, nullable: true)]
    public ?string $purpose = null;

    #[ORM\Column(name: 'user_name', type: 'string', length: 255, nullable: true)]
    public ?string $user = null;

    #[ORM\Column(name: 'state', type: 'string', length: 190, nullable: true)]
    public ?string $state = null;

    #[ORM\Column(name: 'secret_length', type: 'integer', nullable: true)]
    public ?int $length = null;

    #[ORM\Column(name: 'weakness', type: 'string', length: 255, nullable: true)]
    public ?string $weakness = null;

    #[ORM\Column(name: 'held_by', type: 'string', length: 255, nullable: true)]
    public ?string $heldBy = null;

    #[ORM\Column(name: 'changed_at', type: 'string', length: 190, nullable: true)]
    public ?string $changedAt = null;

    /** Nonce and secret box (sodium), base64; never in a document, never in the journal. */
    #[ORM\Column(type: 'string', length: 500, nullable: true)]
    public ?string $sealed = null;
}
