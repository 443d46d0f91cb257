<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Secrets\Secrets;

/**
 * A thousand phones start at once: whose file was made already and has not moved since gets it here, before the house is opened. Whatever
 * is not as plain as that (no such file, another state of the job, from elsewhere, too late) is left to FileServer, which knows why.
 */
final readonly class FastPath
{
    /** Fetches of one phone from one address in a minute: it starts, finds its file, starts again; more cannot come from a phone. */
    public const MOST = 20;
    private const TRIES = 5;
    /** Of MariaDB: a lock that two wait for, and one gets. */
    private const DEADLOCK = 1213;

    public function __construct(private \PDO $database, private Secrets $secrets)
    {
    }

    /** @return FileResponse|null null where the house has to be asked */
    public function answer(FileRequest $question, int $now): ?FileResponse
    {
        $from = Ipv4::tryFromString($question->address);
        $mac = 'GET' === $question->method && '' !== $question->token && !$question->hasLogin ? $question->mac() : null;
        $file = null === $mac ? null : $this->file($question->token, $mac);
        if (null === $from || null === $mac || null === $file) {
            return null;
        }
        if (!$question->isSealed && FileAddress::isSealedBy($file->text('files_host'), $file->text('files_authority'))) {
            return null;
        }
        // RFC 1122 §3.2.1.3: phones of the lab live on loopback, and no phone of a site comes from there.
        $isLab = 127 === $from->number >> 24 && 1 === $file->int('rehearsed');
        if (!$isLab && !self::isWithin((array) json_decode($file->text('ranges'), true), $from->number)) {
            return null;
        }
        if ($now > ($file->intOrNull('until_at') ?? \PHP_INT_MAX)) {
            return null;
        }
        $body = $this->secrets->openSealed($file->text('body'));
        if (null === $body) {
            return null;
        }
        $times = $this->note($file, $mac, $question->address, $question->agent, !$isLab, $now);

        return $times > self::MOST
            ? new FileResponse(429, '', $file->text('device'), null)
            : new FileResponse(200, $body, $file->text('device'), $file->text('file_version'));
    }

    private function file(string $token, Mac $mac): ?Row
    {
        $asked = $this->database->prepare(
            'SELECT f.job_id, f.device, f.body, f.file_version, f.ranges, f.until_at, j.rehearsed, '
                .'j.files_host, j.files_authority FROM job j '
                .'JOIN phone_file f ON f.job_id = j.id AND f.mac = ? AND f.files_stamp = j.files_stamp WHERE j.file_token = ?',
        );
        $asked->execute([$mac->digits, $token]);
        $row = $asked->fetch(\PDO::FETCH_ASSOC);

        return \is_array($row) ? new Row($row) : null;
    }

    /** @param array<mixed> $ranges */
    private static function isWithin(array $ranges, int $address): bool
    {
        foreach ($ranges as $range) {
            if (\is_array($range) && ($range[0] ?? \PHP_INT_MAX) <= $address && $address <= ($range[1] ?? -1)) {
                return true;
            }
        }

        return false;
    }

    /** @return int how often it asked from there within this minute */
    private function note(Row $file, Mac $mac, string $address, string $agent, bool $onSite, int $now): int
    {
        $noted = $this->database->prepare(
            'INSERT INTO fetch_note (job_id, mac, device, address, minute, made_at, agent, file_version, on_site, times) '
                .'VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, 1) ON DUPLICATE KEY UPDATE times = LAST_INSERT_ID(times + 1)',
        );
        $row = [
            $file->int('job_id'), $mac->digits, $file->text('device'), $address, intdiv($now, 60), gmdate('Y-m-d\TH:i:s\Z', $now),
            Sanitizer::text($agent), $file->text('file_version'), $onSite ? 1 : 0,
        ];
        for ($left = self::TRIES - 1;; --$left) {
            try {
                $noted->execute($row);
                break;
            } catch (\PDOException $e) {
                // Notes are entered by another hand meanwhile: one of the two is told to begin again, and nothing was written.
                if (0 === $left || self::DEADLOCK !== ($e->errorInfo[1] ?? null)) {
                    throw $e;
                }
            }
        }

        // One row where it is new, two where it is counted up.
        return 1 === $noted->rowCount() ? 1 : (int) $this->database->lastInsertId();
    }
}
