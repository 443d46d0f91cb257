<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Plan\Edit;

/** Somebody else changed the same value in the meantime: both values are here, nothing was written. */
final class Conflict extends \RuntimeException
{
    /** @param scalar|list<mixed>|null $theirs */
    public function __construct(public readonly Edit $mine, public readonly string|int|float|bool|array|null $theirs, public readonly ?string $by)
    {
        parent::__construct(\sprintf('%s was changed by %s in the meantime.', '' === $mine->field ? $mine->record() : $mine->field, $by ?? 'somebody'));
    }
}
