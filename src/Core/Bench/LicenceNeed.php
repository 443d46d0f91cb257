<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\LicenceTerm;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;

/** A feature that needs a licence: the quantity that the plan needs, that is installed, and that is ordered. */
final readonly class LicenceNeed
{
    /**
     * @param string|null $ordered the last day on which something was ordered that is not there yet
     * @param string|null $orderBy the latest order date for delivery before work on site begins; null if that date is not known
     */
    private function __construct(
        public Device $device,
        public LicenceTerm $term,
        public int $wanted,
        public int $there,
        public ?string $ordered,
        public ?string $orderBy,
    ) {
    }

    public static function of(Plan $plan, Device $device, LicenceTerm $term): self
    {
        $there = $term->included;
        $ordered = null;
        foreach (self::rows($plan, $device, $term) as $row) {
            if (null !== $row->textOrNull('arrivedOn')) {
                $there += $row->int('quantity', 1);
            } else {
                $ordered = max($ordered, $row->textOrNull('orderedOn'));
            }
        }
        $begins = \DateTimeImmutable::createFromFormat('!Y-m-d', $plan->job->text('startsOn'));

        return new self(
            $device,
            $term,
            self::count($device, $term),
            $there,
            $ordered,
            false === $begins ? null : $begins->modify('-'.$term->lead.' days')->format('Y-m-d'),
        );
    }

    /** @return list<self> of all that are wanted in a job */
    public static function all(Plan $plan): array
    {
        $all = [];
        foreach ($plan->devices as $device) {
            foreach ($device->kind->licences as $term) {
                $need = self::of($plan, $device, $term);
                if ($need->wanted > $term->included) {
                    $all[] = $need;
                }
            }
        }

        return $all;
    }

    public function missing(): int
    {
        return max(0, $this->wanted - $this->there);
    }

    private static function count(Device $device, LicenceTerm $term): int
    {
        $value = $device->setting($term->counts ?? $term->wantedBy ?? '')->effective(Face::Planned);

        return match (true) {
            null === $value, '' === $value, 'no' === $value, $term->unless === $value => 0,
            null !== $term->counts => (int) $value,
            default => 1,
        };
    }

    /** @return list<Row> */
    private static function rows(Plan $plan, Device $device, LicenceTerm $term): array
    {
        return array_values(array_filter(
            $plan->records('licences'),
            static fn (Row $row): bool => $row->text('device') === $device->key && $row->text('feature') === $term->code,
        ));
    }
}
