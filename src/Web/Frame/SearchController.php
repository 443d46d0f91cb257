<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\HttpFoundation\RedirectResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Sum;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;

/** Search: a tag, an address, a MAC, an extension, a room opens it; an address with a mask, or an unknown MAC, is calculated. */
final readonly class SearchController
{
    public function __construct(private JobPages $pages, private FormFeedback $feedback)
    {
    }

    #[Route('/j/{slug}/find', name: 'find', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function __invoke(Request $request, string $slug): Response
    {
        $view = $this->pages->open($slug);
        $asked = trim($request->query->getString('q'));
        $record = '' === $asked ? null : self::find($view->plan, $asked);
        if (null !== $record) {
            $stage = match (explode('/', $record)[0]) {
                'segments' => 'networks',
                'extensions' => 'services',
                default => 'devices',
            };

            return new RedirectResponse(\sprintf('/j/%s/%s?sel=%s', $slug, $stage, rawurlencode($record)), Response::HTTP_SEE_OTHER);
        }
        $this->feedback->keep('search', ['q' => $asked], [], ['answer' => self::calculate($view->plan, $asked)]);
        $from = (string) parse_url((string) $request->headers->get('Referer'), \PHP_URL_PATH);

        return new RedirectResponse(
            str_starts_with($from, "/j/$slug/") && !str_contains($from, 'find') ? $from : "/j/$slug/brief",
            Response::HTTP_SEE_OTHER,
        );
    }

    public static function find(Plan $plan, string $asked): ?string
    {
        $asked = self::hostIn($asked);
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
            $held = array_map(static fn (Face $face): ?string => $nic->setting('address')->face($face), Face::cases());
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
            if (null !== $address && self::isNamedBy($segment, $address)) {
                return 'segments/'.$segment->key;
            }
        }
        $named = self::byHostName($plan, $asked);
        if (null !== $named) {
            return 'devices/'.$named->key;
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

    /** In the address of a page or a stream, the host counts. */
    private static function hostIn(string $asked): string
    {
        $host = str_contains($asked, '://') ? parse_url($asked, \PHP_URL_HOST) : null;

        return \is_string($host) ? $host : $asked;
    }

    /** Gateway, DNS server or the outpost's place: in the plan, though no device of it holds it. */
    private static function isNamedBy(Segment $segment, Ipv4 $address): bool
    {
        foreach ([$segment->gateway, $segment->outpost, $segment->dns] as $one) {
            if (true === $one?->equals($address)) {
                return true;
            }
        }

        return false;
    }

    /** A host name, with or without the domain of the job, in lower or upper case (RFC 4343). */
    private static function byHostName(Plan $plan, string $asked): ?Device
    {
        $domain = '.'.strtolower($plan->job->text('domain'));
        $name = strtolower(rtrim($asked, '.'));
        $name = '.' !== $domain && str_ends_with($name, $domain) ? substr($name, 0, -\strlen($domain)) : $name;
        foreach ($plan->devices as $device) {
            $setting = $device->setting('hostName');
            foreach (Face::cases() as $face) {
                if ('' !== $name && strtolower($setting->face($face) ?? '') === $name) {
                    return $device;
                }
            }
        }

        return null;
    }

    /** "free Voice": the next free address of a segment. */
    private static function nextFree(Plan $plan, string $asked): ?Message
    {
        if (1 !== preg_match('/^free\s+(.+)$/iD', $asked, $found)) {
            return null;
        }
        $segment = $plan->segmentNamed($found[1]);
        $free = null === $segment ? null : FreeAddress::on($plan, $segment)->next('');
        $at = ['segment' => $segment->name ?? $found[1], 'address' => (string) $free];

        return match (true) {
            null === $segment => new Message('This job has no segment "{segment}".', $at),
            null === $free => new Message('{segment} has no free address outside pools, blocks and reserved ranges.', $at),
            default => new Message('{address} is the next free one on {segment}', $at),
        };
    }

    private static function calculate(Plan $plan, string $asked): Message
    {
        if ('' === $asked) {
            return new Message('');
        }
        $mac = Mac::tryFromString($asked);
        if (null !== $mac) {
            $forms = implode('  ', [(string) $mac, $mac->format(':'), $mac->format('.', 4), $mac->digits]);

            return $mac->isLocallyAdministered()
                ? new Message('{forms}: not in the roster, locally administered', ['forms' => $forms])
                : new Message('{forms}: not in the roster', ['forms' => $forms]);
        }
        try {
            $free = self::nextFree($plan, $asked);
            if (null !== $free) {
                return $free;
            }
            $sum = Sum::tryOf($asked);
            if (null !== $sum) {
                return $sum->message();
            }
            $address = Ipv4::tryFromString($asked);
            if (null !== $address) {
                $segment = $plan->segmentAround($address);
                $at = ['address' => $address, 'segment' => $segment->name ?? '', 'network' => (string) $segment?->network];

                return null === $segment
                    ? new Message('{address} lies in no segment of this job', $at)
                    : new Message('{address} is free or unknown on {segment} ({network})', $at);
            }
        } catch (Malformed $e) {
            return $e->message();
        }

        return new Message('Nothing here is called "{text}".', ['text' => $asked]);
    }
}
