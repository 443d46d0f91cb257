<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Doctrine\DBAL\ParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Wire\Picture;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;

/** The photos of a job: kept once each, handed out as files. */
final readonly class Photos
{
    /** Of one job: two a device in a large one. */
    public const MOST = 10_000;

    public function __construct(private EntityManagerInterface $manager)
    {
    }

    /** @throws Malformed where the job has as many as it may have */
    public function keep(Job $job, string $device, string $step, Picture $picture, User $by, string $at): void
    {
        $connection = $this->manager->getConnection();
        $hash = hash('sha256', $picture->bytes);
        $known = $connection->fetchOne(
            'SELECT COUNT(*) FROM photo WHERE job_id = ? AND device = ? AND step = ? AND hash = ?',
            [$job->id, $device, $step, $hash],
        );
        if (is_numeric($known) && $known > 0) {
            // A form that was sent twice.
            return;
        }
        $all = $connection->fetchOne('SELECT COUNT(*) FROM photo WHERE job_id = ?', [$job->id]);
        if (is_numeric($all) && $all >= self::MOST) {
            throw Malformed::because('This job has [n photo|photos]; delete some first.', ['n' => self::MOST]);
        }
        $connection->insert('photo', [
            'job_id' => $job->id,
            'device' => $device,
            'step' => $step,
            'media_type' => $picture->mediaType,
            'bytes' => $picture->bytes,
            'hash' => $hash,
            'made_by' => $by->name,
            'login' => $by->login,
            'made_at' => $at,
        ], ['bytes' => ParameterType::LARGE_OBJECT]);
    }

    /** @return list<array{id: int, device: string, step: string, by: string, at: string}> without the pictures themselves, oldest first */
    public function of(Job $job, ?string $device = null): array
    {
        $all = [];
        foreach ($this->manager->getConnection()->executeQuery(
            'SELECT id, device, step, made_by, made_at FROM photo WHERE job_id = ?'
                .(null === $device ? '' : ' AND device = ?').' ORDER BY id',
            null === $device ? [$job->id] : [$job->id, $device],
        )->iterateAssociative() as $row) {
            $row = new Row($row);
            $all[] = [
                'id' => $row->int('id'),
                'device' => $row->text('device'),
                'step' => $row->text('step'),
                'by' => $row->text('made_by'),
                'at' => $row->text('made_at'),
            ];
        }

        return $all;
    }

    /** @return array{type: string, bytes: string, login: string}|null null where this job has no such photo */
    public function find(Job $job, int $id): ?array
    {
        $row = $this->manager->getConnection()->fetchAssociative(
            'SELECT media_type, bytes, login FROM photo WHERE job_id = ? AND id = ?',
            [$job->id, $id],
        );
        if (false === $row) {
            return null;
        }
        $bytes = $row['bytes'];

        return [
            'type' => (new Row($row))->text('media_type'),
            'bytes' => match (true) {
                \is_resource($bytes) => (string) stream_get_contents($bytes),
                \is_string($bytes) => $bytes,
                default => '',
            },
            'login' => (new Row($row))->text('login'),
        ];
    }

    public function drop(Job $job, int $id): void
    {
        $this->manager->getConnection()->delete('photo', ['job_id' => $job->id, 'id' => $id]);
    }

    /** The name of a file for one: `CAM-01-hook-up-12.jpg`. */
    public static function fileName(string $tag, string $step, int $id, string $type): string
    {
        return preg_replace('/[^A-Za-z0-9._-]+/', '-', $tag.'-'.$step).'-'.$id.('image/png' === $type ? '.png' : '.jpg');
    }
}
