<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** The edits by which a setting comes to hold a value. */
final class SettingChange
{
    /**
     * So that it holds the value when asked about a face. What was put in wrongly is put in again, and what was read back before
     * says nothing any more; only where the plan itself is wrong is the plan changed.
     *
     * @return list<Edit>
     */
    public static function toHold(string|SettingRef $ref, TrackedValue $value, string $wanted, Face $face): array
    {
        $edits = [];
        if ($value->planned !== $wanted) {
            $edits[] = Edit::setting($ref, Face::Planned, $value->own(Face::Planned), $wanted);
        }
        if (Face::Planned === $face) {
            return $edits;
        }
        $stale = Face::Seen === $face && null !== $value->seen && $value->seen !== $wanted;
        // A value that was never entered follows the plan; one that was entered has to be entered again.
        if (null !== $value->set && ($value->set !== $wanted || $stale)) {
            $edits[] = Edit::setting($ref, Face::Set, $value->set, $wanted);
        }
        if ($stale) {
            $edits[] = Edit::setting($ref, Face::Seen, $value->seen, null);
        }

        return $edits;
    }

    /**
     * So that it is *set*, as somebody put it in; what was seen before is no longer known.
     *
     * @return list<Edit>
     */
    public static function toBeSet(string|SettingRef $ref, TrackedValue $value, string $put): array
    {
        $edits = [];
        if ($value->set !== $put) {
            $edits[] = Edit::setting($ref, Face::Set, $value->set, $put);
        }
        if (null !== $value->seen && $value->seen !== $put) {
            $edits[] = Edit::setting($ref, Face::Seen, $value->seen, null);
        }

        return $edits;
    }
}
