<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Net\Host;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;
use Vorhut\Secrets\FileCertificates;
use Vorhut\Web\Frame\FormFeedback;
use Vorhut\Web\Frame\JobPages;

/** Whether files of phones go over HTTPS, and under which certificate. */
final readonly class CertificateController
{
    /** Bytes of pasted text. */
    private const LARGEST = 65536;

    public function __construct(
        private JobPages $pages,
        private FileCertificates $certificates,
        private FormFeedback $feedback,
        private EntityManagerInterface $manager,
    ) {
    }

    #[Route('/j/{slug}/services/certificate', name: 'certificate', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function change(Request $request, string $slug): Response
    {
        $this->pages->checkToken($request);
        $job = $this->pages->open($slug)->job;
        $form = $request->request;
        // A key is not kept to fill the form again: after a typing error it must be pasted once more.
        $typed = ['host' => trim($form->getString('host')), 'port' => trim($form->getString('port')), 'chain' => $form->getString('chain')];
        $field = 'host';
        try {
            if ('drop' === $form->getString('do')) {
                $this->certificates->drop($job, $this->pages->user());
                $this->feedback->tell(new Message('Files of phones go over plain HTTP again.'));
            } else {
                $field = 'port';
                $port = self::port($typed['port']);
                $field = 'host';
                $host = Host::fromString($typed['host']);
                if ('take' === $form->getString('do')) {
                    $field = 'chain';
                    $this->certificates->take(
                        $job,
                        $host,
                        $port,
                        substr($typed['chain'], 0, self::LARGEST),
                        substr($form->getString('key'), 0, self::LARGEST),
                        time(),
                        $this->pages->user(),
                    );
                } else {
                    $this->certificates->make($job, $host, $port, $this->pages->user());
                }
                $this->feedback->tell(new Message('Files of phones go over HTTPS, as {host}.', ['host' => $host]));
            }
        } catch (Malformed $e) {
            $this->feedback->keep('certificate', $typed, [$field => $e->message()]);
        } catch (Conflict|Refused $e) {
            $this->feedback->keep('certificate', $typed, ['host' => $e->message()]);
        }

        return new RedirectResponse("/j/$slug/services#certificate", Response::HTTP_SEE_OTHER);
    }

    /**
     * The certificate authority for phones: not secret, and fetched by phones that trust no authority yet. Its name is the beginning of its
     * fingerprint.
     */
    #[Route('/authority/{fingerprint}.{shape}', name: 'authority', requirements: [
        'fingerprint' => '[0-9a-f]{16,64}',
        'shape' => 'pem|cer',
    ], methods: ['GET'])]
    public function authority(string $fingerprint, string $shape): Response
    {
        foreach ($this->manager->getRepository(Job::class)->findAll() as $job) {
            $kept = str_starts_with($job->filesAuthority ?? '', $fingerprint) ? $this->certificates->of($job) : null;
            if (null !== $kept) {
                return new Response('pem' === $shape ? $kept->authority : $kept->der(), Response::HTTP_OK, [
                    'Content-Type' => 'pem' === $shape ? 'application/x-pem-file' : 'application/pkix-cert',
                    'Content-Disposition' => \sprintf('attachment; filename="authority-%s.%s"', substr($fingerprint, 0, 8), $shape),
                    'Cache-Control' => 'no-store',
                ]);
            }
        }

        return new Response('', Response::HTTP_NOT_FOUND);
    }

    /** @throws Malformed */
    private static function port(string $text): ?int
    {
        if ('' === $text) {
            return null;
        }

        return Port::tryFromString($text.'/tcp')->number
            ?? throw Malformed::because('"{text}" is not a port: 1 to 65535.', ['text' => mb_substr($text, 0, 20)]);
    }
}
