<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/**
 * What must be there before a step can be done: `extension`, `registrar-entry`, `planned:address`, `staged:controller`
 * (the device that this setting points to), `known:adminName` (a fact of the job), `licence:fax-channels`.
 */
final readonly class Need implements \Stringable
{
    public const WORDS = ['extension', 'registrar-entry', 'planned', 'staged', 'known', 'licence'];

    public function __construct(public string $word, public string $of)
    {
    }

    public static function fromString(string $text): self
    {
        [$word, $of] = explode(':', $text, 2) + [1 => ''];

        return new self($word, trim($of));
    }

    public function __toString(): string
    {
        return $this->word.('' === $this->of ? '' : ':'.$this->of);
    }
}
