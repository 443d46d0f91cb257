<?php

declare(strict_types=1);

namespace Vorhut\Secrets;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Net\Host;
use Vorhut\Core\Net\HostName;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Tls\CertificateChain;
use Vorhut\Entity\FileCertificate;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\ChangeWriter;

/** Certificates for serving the files of phones, one per job: made here, or signed by the site's own authority. */
final readonly class FileCertificates
{
    private const FACTS = ['filesHost', 'filesPort', 'filesAuthority', 'filesUntil'];

    public function __construct(private EntityManagerInterface $manager, private Secrets $secrets, private ChangeWriter $changes)
    {
    }

    /**
     * Signs a certificate for a name or an address, by the job's own authority; that is made where there is none, and kept where there is
     * one: phones that know it take the new certificate as well.
     *
     * @throws Malformed
     */
    public function make(Job $job, HostName|Ipv4 $host, ?int $port, User|string $by): void
    {
        $this->mustBeFree($job, $host);
        $known = $this->find($job);
        $key = null === $known ? null : $this->secrets->openSealed($known->authorityKeySealed);
        $authority = null === $known || null === $key
            ? Authority::fresh((string) ($job->name ?? $job->slug))
            : Authority::fromPem($known->authority, $key);
        $server = $authority->issue($host);
        $chain = CertificateChain::fromPem($server->certificate.$authority->certificate);
        $this->keep($job, $host, $port, $chain, $server->key, $authority->certificate, $authority->key, new Message(
            'Phone files are now served over HTTPS as {host}, with a certificate of the job.',
            ['host' => $host],
        ), $by);
    }

    /**
     * Stores a certificate signed by another authority.
     *
     * @param string $chain PEM, its own first, up to and with the authority that phones are to know
     * @param string $key   PEM, without a passphrase
     * @param int    $now   Unix time
     *
     * @throws Malformed
     */
    public function take(Job $job, HostName|Ipv4 $host, ?int $port, string $chain, string $key, int $now, User|string $by): void
    {
        $this->mustBeFree($job, $host);
        $read = CertificateChain::fromPem($chain);
        $private = openssl_pkey_get_private($key, '');
        if (false === $private) {
            throw new Malformed('This is not a key in PEM, or it has a passphrase: remove that first.');
        }
        if (!openssl_x509_check_private_key($read->pems[0], $private)) {
            throw new Malformed('This key does not belong to the first certificate.');
        }
        if (!$read->covers($host)) {
            throw Malformed::because('The certificate is for {names}, not for {host}.', [
                'names' => implode(', ', $read->names),
                'host' => $host,
            ]);
        }
        if ($read->until <= $now || $read->since > $now) {
            throw Malformed::because('It holds from {since} to {until}: a phone would refuse it today.', [
                'since' => gmdate('Y-m-d', $read->since),
                'until' => gmdate('Y-m-d', $read->until),
            ]);
        }
        if (!$read->endsAtAuthority()) {
            throw new Malformed('The last certificate must be self-signed: the phones need the authority at the end of the chain.');
        }
        openssl_pkey_export($private, $plain);
        $last = $read->pems[\count($read->pems) - 1];
        $this->keep($job, $host, $port, $read, \is_string($plain) ? $plain : $key, $last, null, new Message(
            'Phone files are now served over HTTPS as {host}, with an uploaded certificate.',
            ['host' => $host],
        ), $by);
    }

    /** Files go over plain HTTP again; the keys are gone for good. */
    public function drop(Job $job, User|string $by): void
    {
        $edits = [];
        foreach (self::FACTS as $name) {
            if (null !== $job->$name) {
                $edits[] = Edit::put('job', '', $name, $job->$name, null);
            }
        }
        $this->manager->getConnection()->transactional(function () use ($job, $edits, $by): void {
            if ([] !== $edits) {
                $this->changes->write($job, new Change(new Message('Files of phones go over plain HTTP again.'), $edits), $by);
            }
            $known = $this->find($job);
            if (null !== $known) {
                $this->manager->remove($known);
                $this->manager->flush();
            }
        });
    }

    /** The certificate shown to phones of a job; null if its files are served without TLS, or the certificate is missing here. */
    public function of(Job $job): ?KeptCertificate
    {
        $known = null === $job->filesHost || null === $job->filesAuthority ? null : $this->find($job);
        $key = null === $known ? null : $this->secrets->openSealed($known->keySealed);
        if (null === $known || null === $key) {
            return null;
        }
        try {
            $chain = CertificateChain::fromPem($known->chain);
        } catch (Malformed) {
            return null;
        }

        // After an undo, or an import from another system, a job may name a certificate that is not stored here.
        return $chain->authority() === $job->filesAuthority && $chain->covers(Host::fromString((string) $job->filesHost))
            ? new KeptCertificate((string) $job->filesHost, $chain, $key, $known->authority, null !== $known->authorityKeySealed)
            : null;
    }

    /**
     * A client that connects by name sends the name (RFC 6066 §3); one that connects by address does not, so that only one of all jobs can
     * be served without.
     *
     * @throws Malformed
     */
    private function mustBeFree(Job $job, HostName|Ipv4 $host): void
    {
        foreach ($this->manager->getRepository(Job::class)->findAll() as $other) {
            $taken = $other->filesHost ?? '';
            if ($other->id !== $job->id && ($taken === (string) $host || ($host instanceof Ipv4 && null !== Ipv4::tryFromString($taken)))) {
                throw Malformed::because($host instanceof Ipv4
                    ? 'Files of {job} are asked for by an address already: give this job a name.'
                    : 'Files of {job} are asked for by this name already: give this job another.', ['job' => $other->name ?? $other->slug]);
            }
        }
    }

    private function find(Job $job): ?FileCertificate
    {
        return $this->manager->getRepository(FileCertificate::class)->findOneBy(['job' => $job]);
    }

    private function keep(
        Job $job,
        HostName|Ipv4 $host,
        ?int $port,
        CertificateChain $chain,
        string $key,
        string $authority,
        ?string $authorityKey,
        Message $why,
        User|string $by,
    ): void {
        $edits = [];
        foreach ([
            'filesHost' => (string) $host,
            'filesPort' => FileAddress::PORT === $port ? null : $port,
            'filesAuthority' => $chain->authority(),
            'filesUntil' => gmdate('Y-m-d', $chain->until),
        ] as $name => $value) {
            if ($job->$name !== $value) {
                $edits[] = Edit::put('job', '', $name, $job->$name, $value);
            }
        }
        // Both or neither: facts of a certificate that does not lie here would leave every phone without its file.
        $both = function () use ($job, $chain, $key, $authority, $authorityKey, $why, $edits, $by): void {
            if ([] !== $edits) {
                $this->changes->write($job, new Change($why, $edits), $by);
            }
            $row = $this->find($job) ?? new FileCertificate($this->manager->find(Job::class, $job->id) ?? $job);
            $row->chain = (string) $chain;
            $row->keySealed = $this->secrets->seal($key);
            $row->authority = $authority;
            $row->authorityKeySealed = null === $authorityKey ? null : $this->secrets->seal($authorityKey);
            $this->manager->persist($row);
            $this->manager->flush();
        };
        $this->manager->getConnection()->transactional($both);
    }
}
