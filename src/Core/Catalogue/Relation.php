<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** How settings that belong together have to stand to one another. */
enum Relation: string
{
    case Equal = 'equal';
    /** At least one of the values on the left is one of those on the right. */
    case MemberOf = 'member-of';
    /** The left is at most the right; for a size, both width and height. */
    case AtMost = 'at-most';
    case AtLeast = 'at-least';
    case Different = 'different';
    /** The two make one of the pairs that the agreement lists. */
    case Complementary = 'complementary';
    case SameSegment = 'same-segment';
    case DifferentSegment = 'different-segment';
    /** No two of all are the same. */
    case Distinct = 'distinct';
}
