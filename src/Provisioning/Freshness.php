<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Analysis\Board;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Entity\Job;

/** Which phones have the values of their present file, and which fetched an older one: compares the stored files with the last fetches. */
final readonly class Freshness
{
    public function __construct(private EntityManagerInterface $manager)
    {
    }

    public function of(Job $job, Plan $plan, ?Board $board = null): FreshFiles
    {
        $rows = $this->manager->getConnection()->fetchAllAssociative(
            'SELECT device, file_version FROM phone_file WHERE job_id = ? AND files_stamp = ?',
            [$job->id, $job->filesStamp],
        );
        $now = [];
        foreach ($rows as $row) {
            $one = new Row($row);
            $now[$one->text('device')] = $one->text('file_version');
        }
        $board ??= Board::of($plan);
        $fresh = $old = [];
        foreach ($now as $device => $version) {
            $phone = $plan->devices[$device] ?? null;
            $fetch = $board->fetchOf((string) $device);
            if (null === $phone || null === $fetch) {
                continue;
            }
            if ($version === $fetch->text('file')) {
                $fresh[$phone->key] = $phone;
            } else {
                $old[$phone->key] = $phone;
            }
        }

        // Without stored files no phone can have an older one, unless it fetched.
        $fetched = array_filter($plan->devices, static fn (Device $device): bool => null !== $board->fetchOf($device->key));

        return new FreshFiles($fresh, $old, [] !== $now || [] === $fetched);
    }
}
