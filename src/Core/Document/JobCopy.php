<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;

/**
 * The plan of a job for another site: without what was done or found there, without what belongs to single devices, as their MAC
 * addresses and serial numbers, and without emergency locations and caller IDs, which would send help to the first site.
 *
 * @phpstan-import-type RowData from \Vorhut\Core\Plan\Edit
 */
final class JobCopy
{
    /** Records of the work and its results. */
    private const LEFT_OUT = ['marks', 'waits', 'fetches', 'observations', 'credentials'];
    /** Section → fields of single devices, and of the work on the first site. */
    private const CLEARED = [
        'devices' => ['serial', 'labelAddress', 'labelMask', 'labelUser', 'labelHostName'],
        'nics' => ['mac'],
        'extensions' => ['location', 'callerId'],
        'trunks' => ['callerId'],
        'terminals' => ['macEntered', 'enteredAt'],
        'accounts' => ['macEntered', 'enteredAt'],
        'licences' => ['hardwareId', 'orderedOn', 'arrivedOn', 'validFrom', 'validUntil'],
    ];
    private const CLEARED_OF_JOB = ['filesHost', 'filesPort', 'filesAuthority', 'filesUntil', 'startsOn', 'uplinkKbit'];
    private const FACES = ['set', 'setBy', 'setAt', 'seen', 'seenBy', 'seenAt', 'odd'];

    public static function of(Plan $plan, string $name, Catalogue $catalogue): JobDocument
    {
        $job = array_diff_key($plan->jobRow(), array_flip(self::CLEARED_OF_JOB));
        $sections = [];
        foreach (JobDocument::of($plan)->sections as $section => $rows) {
            $sections[$section] = match (true) {
                \in_array($section, self::LEFT_OUT, true) => [],
                'settings' === $section => self::planned($rows),
                default => self::without($rows, self::CLEARED[$section] ?? []),
            };
        }

        return JobDocument::of(Plan::of(['name' => $name] + $job, $sections, $catalogue));
    }

    /**
     * @param list<RowData> $settings
     *
     * @return list<RowData>
     */
    private static function planned(array $settings): array
    {
        return self::without(
            array_values(array_filter($settings, static fn (array $row): bool => null !== (new Row($row))->textOrNull('planned'))),
            self::FACES,
        );
    }

    /**
     * @param list<RowData> $rows
     * @param list<string>  $fields
     *
     * @return list<RowData>
     */
    private static function without(array $rows, array $fields): array
    {
        return array_map(static fn (array $row): array => array_diff_key($row, array_flip($fields)), $rows);
    }
}
