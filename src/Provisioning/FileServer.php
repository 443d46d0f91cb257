<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\FetchGuard;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Core\Wire\Sanitizer;
use Vorhut\Entity\Job;
use Vorhut\Journal\Author;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\Records;
use Vorhut\Journal\Refused;
use Vorhut\Secrets\Vault;

/** Serves phones their files: only to a MAC of the roster, only when its entry stands at the registrar, every fetch written down. */
final readonly class FileServer
{
    private const REFUSAL_SECONDS = 600;

    public function __construct(
        private Records $records,
        private Vault $vault,
        private Files $files,
        private ChangeWriter $changes,
        private EvidenceLog $evidenceLog,
        private JournalClock $time,
        private PhoneFileCache $phoneFiles,
        private Written $written,
    ) {
    }

    /** @param bool $inItsSegment only to an address of the phone's own segment */
    public function serve(Job $job, FileRequest $question, bool $inItsSegment = false): FileResponse
    {
        $address = $question->address;
        $stamp = $job->filesStamp;
        $plan = $this->records->plan($job);
        $known = $question->mac();
        // Phones of the lab live on loopback (RFC 1122 §3.2.1.3): no phone of a site comes from there.
        $fromLab = $job->rehearsed && 127 === (Ipv4::tryFromString($address)->number ?? 0) >> 24;
        $device = null === $known ? null : self::byMac($plan, $known);
        $served = match (true) {
            null === $known => new FileResponse(404, '', null, null),
            null === $device => new FileResponse(404, '', null, null),
            $inItsSegment && !$fromLab && !self::isNextDoor($plan, $device, $address) => new FileResponse(404, '', $device->key, null),
            $question->hasLogin => new FileResponse(403, '', $device->key, null, new Message(
                '{tag} asked with a user name, and this server asks for none: empty it at the phone.',
                ['tag' => $device->tag],
            )),
            !$question->isSealed && FileAddress::of($plan, '')->isSealed => new FileResponse(403, '', $device->key, null, new Message(
                '{tag} requested its file without TLS; this job serves files over HTTPS only.',
                ['tag' => $device->tag],
            )),
            default => $this->refusal($job, $device, $known, $address, $fromLab, FetchGuard::of($plan, $device))
                ?? $this->file($job, $plan, $device),
        };
        if (null !== $known && !$this->isRepeatedRefusal($plan, $known, $served)) {
            $this->evidenceLog->add($job, 'fetches', [
                'key' => bin2hex(random_bytes(10)),
                'device' => $served->device,
                'mac' => (string) $known,
                'at' => $this->time->now(),
                'address' => $address,
                'agent' => Sanitizer::text($question->agent),
                'file' => $served->version,
                'status' => $served->status,
                'why' => $served->reason?->toStored(),
                'onSite' => !$fromLab,
            ]);
        }
        if (200 !== $served->status || null === $device) {
            return $served;
        }
        $guard = FetchGuard::of($plan, $device);
        $this->phoneFiles->lay($job, $stamp, $known, $served, $guard, $guard->until(
            $this->firstSince($job, $known, $guard),
            (int) strtotime($this->time->now()),
        ));
        if (!($fromLab && $job->isRehearsing())) {
            $this->recordDelivery($job, $plan, $device);
        }

        return $served;
    }

    /**
     * Lays the files of all phones ready that could fetch now: one look at the plan, instead of one for each of a thousand phones.
     *
     * @return int how many
     */
    public function prepare(Job $job): int
    {
        $stamp = $job->filesStamp;
        $plan = $this->records->plan($job);
        $phones = array_filter(
            $plan->devices,
            static fn (Device $device): bool => null !== $device->kind->provisioning && null === ProvisioningFile::obstacle($plan, $device),
        );
        $secrets = [] === $phones ? [] : $this->vault->open($job);
        $count = 0;
        foreach ($phones as $device) {
            $guard = FetchGuard::of($plan, $device);
            $account = $plan->accountOf($plan->extensionsOf($device->key)[0]->key);
            $served = $this->build($plan, $device, $secrets[$account->key ?? ''] ?? '', $secrets[$device->record()] ?? '');
            if (200 !== $served->status) {
                continue;
            }
            foreach ($device->nics as $nic) {
                if (null !== $nic->mac) {
                    // Within a time window the application decides for each phone: the cached file is used only for its version.
                    $this->phoneFiles->lay($job, $stamp, $nic->mac, $served, $guard, null === $guard->seconds ? null : 0);
                    ++$count;
                }
            }
        }

        return $count;
    }

    private static function isNextDoor(Plan $plan, Device $device, string $address): bool
    {
        $from = Ipv4::tryFromString($address);

        return null !== $from && true === $plan->segmentOf($device)?->network->contains($from);
    }

    /** The file as it would be served now; secrets in it. */
    public function file(Job $job, Plan $plan, Device $device): FileResponse
    {
        $obstacle = ProvisioningFile::obstacle($plan, $device);
        if (null !== $obstacle) {
            return new FileResponse(404, '', $device->key, null, $obstacle);
        }
        $account = $plan->accountOf($plan->extensionsOf($device->key)[0]->key);
        $sip = $this->vault->secretOf($job, 'accounts/'.($account->key ?? ''), 'sip') ?? '';

        return $this->build($plan, $device, $sip, $this->vault->secretOf($job, $device->record(), 'admin') ?? '');
    }

    private function build(Plan $plan, Device $device, string $sip, string $admin): FileResponse
    {
        try {
            $file = ProvisioningFile::of($plan, $device, $sip, $admin);

            return new FileResponse(200, $this->files->render($file), $device->key, $file->fingerprint());
        } catch (Malformed $e) {
            return new FileResponse(404, '', $device->key, null, $e->message());
        }
    }

    private function recordDelivery(Job $job, Plan $plan, Device $device): void
    {
        $change = new Change(
            new Message('{tag} took its file.', ['tag' => $device->tag]),
            $this->written->by($plan, $device),
        );
        try {
            $this->changes->write($job, $change, Author::FILE_SERVER);
        } catch (Conflict|Refused) {
            // It fetched twice at once, or a user typed meanwhile: the faster write counts, and the phone has its file all the same.
        }
    }

    /** Why a phone is not handed its file now, from there. */
    private function refusal(Job $job, Device $device, Mac $mac, string $address, bool $isLab, FetchGuard $guard): ?FileResponse
    {
        $from = Ipv4::tryFromString($address);
        if (!$isLab && (null === $from || !$guard->lets($from))) {
            return new FileResponse(403, '', $device->key, null, new Message(
                '{address} is in no network from which {tag} may fetch.',
                ['address' => $address, 'tag' => $device->tag],
            ));
        }
        $now = (int) strtotime($this->time->now());
        $until = $guard->until($this->firstSince($job, $mac, $guard), $now);

        return null === $until || $now <= $until ? null : new FileResponse(403, '', $device->key, null, new Message(
            '{tag} fetched its file a while ago; it is served again after the next work on it.',
            ['tag' => $device->tag],
        ));
    }

    /** Unix time of the first fetch since the last work on the phone. */
    private function firstSince(Job $job, Mac $mac, FetchGuard $guard): ?int
    {
        $at = null === $guard->seconds ? null : $this->records->firstFetch($job, (string) $mac, $guard->worked);

        return null === $at ? null : (int) strtotime($at);
    }

    /** A phone that is refused asks again and again; the same refusal is written down once in a while, not every time. */
    private function isRepeatedRefusal(Plan $plan, Mac $mac, FileResponse $served): bool
    {
        if (200 === $served->status) {
            return false;
        }
        $newest = null;
        foreach ($plan->rows('fetches') as $data) {
            $row = new Row($data);
            if ($row->text('mac') === (string) $mac && (null === $newest || $row->int('arrived') > $newest->int('arrived'))) {
                $newest = $row;
            }
        }

        return null !== $newest
            && $newest->int('status') === $served->status
            // Of the same kind: the number of addresses is not reported.
            && (null === $newest->value('why') ? null : Message::fromStored($newest->value('why'))->text) === $served->reason?->text
            && (int) strtotime($this->time->now()) - (int) strtotime($newest->text('at')) < self::REFUSAL_SECONDS;
    }

    private static function byMac(Plan $plan, Mac $mac): ?Device
    {
        foreach ($plan->devices as $device) {
            foreach ($device->nics as $nic) {
                if (true === $nic->mac?->equals($mac)) {
                    return $device;
                }
            }
        }

        return null;
    }
}
