<?php

declare(strict_types=1);

namespace Vorhut\Web\Handover;

use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Symfony\Component\Serializer\Encoder\CsvEncoder;
use Vorhut\Core\Document\Schedules;
use Vorhut\Exchange\Jobs;
use Vorhut\Web\Frame\Rooms;
use Vorhut\Web\Frame\Slips;

/** What is left behind: schedules, the proof record, the job itself. */
final readonly class HandoverController
{
    public function __construct(private Rooms $rooms, private Jobs $jobs, private Slips $slips)
    {
    }

    #[Route('/j/{slug}/handover', name: 'handover', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->rooms->unchanged($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $room = $this->rooms->open($slug);

        return $this->rooms->show($room, 'handover', $request, [
            'addresses' => Schedules::addressesBySegment($room->plan),
            'numbers' => Schedules::numbers($room->plan),
            'proof' => $room->proof(),
        ]);
    }

    #[Route('/j/{slug}/handover/{what}.csv', name: 'handover_csv', requirements: ['what' => 'addresses|numbers|proof'], methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function csv(string $slug, string $what): Response
    {
        $room = $this->rooms->open($slug);
        $rows = match ($what) {
            'addresses' => Schedules::addresses($room->plan),
            'numbers' => Schedules::numbers($room->plan),
            default => Schedules::proof($room->proof()),
        };
        // Formulas stay text: a tag may begin with = or +.
        $csv = (new CsvEncoder())->encode($rows, 'csv', [CsvEncoder::ESCAPE_FORMULAS_KEY => true, CsvEncoder::END_OF_LINE => "\r\n"]);

        return self::file($csv, 'text/csv; charset=UTF-8', $slug.'-'.$what.'.csv');
    }

    #[Route('/j/{slug}/handover/job.json', name: 'handover_json', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function document(string $slug): Response
    {
        return self::file($this->jobs->export($this->rooms->open($slug)->job)->toJson(), 'application/json', $slug.'.json');
    }

    /** With the secrets, sealed under a passphrase. */
    #[Route('/j/{slug}/handover/sealed.json', name: 'handover_sealed', methods: ['POST'])]
    #[IsGranted('ROLE_LEAD')]
    public function sealed(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $passphrase = $request->request->getString('passphrase');
        if (mb_strlen($passphrase) < 8) {
            $this->slips->keep('sealed', [], ['passphrase' => 'At least eight characters.']);

            return $this->rooms->back($request, "/j/$slug/handover");
        }

        return self::file($this->jobs->export($this->rooms->open($slug)->job, $passphrase)->toJson(), 'application/json', $slug.'-sealed.json');
    }

    private static function file(string $content, string $type, string $name): Response
    {
        return new Response($content, 200, ['Content-Type' => $type, 'Content-Disposition' => HeaderUtils::makeDisposition('attachment', $name)]);
    }
}
