<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;

/** The call line: a tag, an address, a MAC, an extension, a room goes there; an address with a mask, or a MAC of nobody, is reckoned. */
final readonly class FindController
{
    public function __construct(private Rooms $rooms, private Slips $slips)
    {
    }

    #[Route('/j/{slug}/find', name: 'find', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function __invoke(Request $request, string $slug): Response
    {
        $room = $this->rooms->open($slug);
        $asked = trim($request->query->getString('q'));
        $record = '' === $asked ? null : self::find($room->plan, $asked);
        if (null !== $record) {
            $stage = match (explode('/', $record)[0]) {
                'segments' => 'networks',
                'extensions' => 'services',
                default => 'devices',
            };

            return new RedirectResponse(\sprintf('/j/%s/%s?sel=%s', $slug, $stage, rawurlencode($record)), Response::HTTP_SEE_OTHER);
        }
        $this->slips->keep('call', ['q' => $asked], [], ['answer' => self::reckon($room->plan, $asked)]);
        $from = (string) parse_url((string) $request->headers->get('Referer'), \PHP_URL_PATH);

        return new RedirectResponse(str_starts_with($from, "/j/$slug/") && !str_contains($from, 'find') ? $from : "/j/$slug/brief", Response::HTTP_SEE_OTHER);
    }

    public static function find(Plan $plan, string $asked): ?string
    {
        $device = $plan->deviceTagged($asked);
        if (null !== $device) {
            return 'devices/'.$device->key;
        }
        $extension = $plan->extensionNumbered($asked);
        if (null !== $extension) {
            return 'extensions/'.$extension->key;
        }
        $address = Ipv4::tryFromString($asked);
        $mac = Mac::tryFromString($asked);
        foreach ($plan->nics as $nic) {
            $held = array_map(static fn (Face $face): ?string => $nic->address->face($face), Face::cases());
            if ((null !== $address && \in_array((string) $address, $held, true)) || (null !== $mac && true === $nic->mac?->equals($mac))) {
                return 'devices/'.$nic->device;
            }
        }
        foreach ($plan->routerPorts as $port) {
            if (true === $address?->equals($port->address)) {
                return 'devices/'.$port->router;
            }
        }
        foreach ($plan->segments as $segment) {
            if (0 === strcasecmp($segment->name, $asked) || $segment->key === $asked) {
                return 'segments/'.$segment->key;
            }
        }
        foreach ($plan->devices as $one) {
            if ('' !== $one->room && false !== mb_stripos($one->room, $asked)) {
                return 'devices/'.$one->key;
            }
        }

        return null;
    }

    private static function reckon(Plan $plan, string $asked): string
    {
        if ('' === $asked) {
            return '';
        }
        $mac = Mac::tryFromString($asked);
        if (null !== $mac) {
            return \sprintf('%s  %s  %s  %s%s: not in the roster', $mac, $mac->joined(':'), $mac->joined('.', 4), $mac->digits, $mac->isLocallyAdministered() ? ', locally administered' : '');
        }
        $parts = preg_split('#\s*/\s*|\s+#', $asked, 2) ?: [];
        try {
            if (2 === \count($parts)) {
                $network = Network::around(Ipv4::fromString($parts[0]), Mask::fromString($parts[1]));

                return \sprintf('%s  %s  first %s  last %s  broadcast %s  %d hosts', $network, $network->mask->dotted(), $network->firstHost(), $network->lastHost(), $network->broadcast(), $network->hosts());
            }
            $address = Ipv4::tryFromString($asked);
            if (null !== $address) {
                $segment = $plan->segmentAround($address);

                return null === $segment ? \sprintf('%s lies in no segment of this job', $address) : \sprintf('%s is free or unknown on %s (%s)', $address, $segment->name, $segment->network);
            }
        } catch (Malformed $e) {
            return $e->getMessage();
        }

        return \sprintf('Nothing here is called "%s".', $asked);
    }
}
