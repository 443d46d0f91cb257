<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Symfony\Contracts\Translation\LocaleAwareInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Vorhut\Core\Text\Actions;

/** A language of its own: every sentence that is put into it stands in ⟦ ⟧, so that one that is not shows. */
final class PseudoTranslator implements TranslatorInterface, LocaleAwareInterface
{
    public const LOCALE = 'xx';

    /** @var array<string, true> what was asked for */
    public array $asked = [];

    /** @param array<mixed> $parameters */
    public function trans(?string $id, array $parameters = [], ?string $domain = null, ?string $locale = null): string
    {
        if (null === $id || '' === $id) {
            return '';
        }
        $this->asked[$id] = true;

        // Sentence by sentence: the actions of a step are shown one by one.
        return '⟦'.implode('⟧ ⟦', Actions::in(strtr(
            $id,
            array_map(static fn (mixed $one): string => \is_scalar($one) || $one instanceof \Stringable ? (string) $one : '', $parameters),
        ))).'⟧';
    }

    public function getLocale(): string
    {
        return self::LOCALE;
    }

    public function setLocale(string $locale): void
    {
    }
}
