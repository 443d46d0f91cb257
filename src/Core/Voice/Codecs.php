<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\OutpostKey;

/** The codecs of both ends of a call, as set: without a common one the call fails (RFC 3264 §6: 488). */
final class Codecs
{
    /** The offer of an outpost, with any account. */
    private const OUTPOST = ['G.711'];

    /**
     * @param string $end device key, or `outposts/SEGMENT`
     *
     * @return list<string>|null the preferred first; null if not known
     */
    public static function of(NetworkModel $model, string $end, Facts $facts): ?array
    {
        if (null !== OutpostKey::segment($end)) {
            return self::OUTPOST;
        }
        $device = $model->plan->devices[$end] ?? null;
        $default = $device?->kind->setting('codecs')->default ?? null;
        $value = $device?->setting('codecs')->effective($model->face) ?? $default;
        // A default of the kind is not a fact of this job, and does not outdate tests from before codecs were set.
        if ($value !== $default) {
            $facts->note('devices/'.$end.':codecs', $value);
        }

        return null === $value || '' === $value ? null : ValueType::List->parts($value);
    }

    /**
     * @param list<string>|null $offered
     * @param list<string>|null $taken
     */
    public static function meet(?array $offered, ?array $taken): bool
    {
        return null === $offered || null === $taken || [] === $offered || [] === $taken || [] !== array_intersect($offered, $taken);
    }
}
