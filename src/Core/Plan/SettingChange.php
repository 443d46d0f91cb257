<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** The edits that set a setting to a value. */
final class SettingChange
{
    /**
     * So that the face has the value. A wrong value in the device is set again, and an earlier reading is discarded; the plan changes only
     * where it is wrong itself.
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
     * So that it is *set*; an earlier reading is discarded.
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
