<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Refused input, kept until its page is opened again. It is never read or written as an entity. */
#[ORM\Entity]
#[ORM\Table(name: 'form_note')]
#[ORM\Index(name: 'form_note_until', columns: ['until_at'])]
class FormNote
{
    #[ORM\Id]
    #[ORM\Column(length: 16)]
    public string $number;

    /** Its owner: the page of another user never shows it. */
    #[ORM\Column(length: 64)]
    public string $login;

    /** Unix time. */
    #[ORM\Column(name: 'until_at', type: 'integer')]
    public int $until;

    #[ORM\Column(type: 'blob', length: 16777215)]
    public string $forms;

    public function __construct(string $number, string $login, int $until, string $forms)
    {
        $this->number = $number;
        $this->login = $login;
        $this->until = $until;
        $this->forms = $forms;
    }
}
