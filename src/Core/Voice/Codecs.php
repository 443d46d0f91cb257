<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\OutpostKey;

/** Which codecs the two ends of a call have, as they were told: without one in common there is no call (RFC 3264 §6: 488). */
final class Codecs
{
    /** What an outpost offers, whoever's account it calls with. */
    private const OUTPOST = ['G.711'];

    /**
     * @param string $end device key, or `outposts/SEGMENT`
     *
     * @return list<string>|null the preferred first; null where nobody knows
     */
    public static function of(NetworkModel $model, string $end, Facts $facts): ?array
    {
        if (null !== OutpostKey::segment($end)) {
            return self::OUTPOST;
        }
        $device = $model->plan->devices[$end] ?? null;
        $default = $device?->kind->setting('codecs')->default ?? null;
        $value = $device?->setting('codecs')->effective($model->face) ?? $default;
        // What comes with the kind is no fact of this job, and makes nothing stale that was proved before anybody spoke of codecs.
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
