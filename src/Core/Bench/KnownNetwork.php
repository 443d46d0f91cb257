<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;

/** What a technician knows of the network for one device: its network, an address in it, that it is isolated, or nothing yet. */
final readonly class KnownNetwork
{
    /** For an isolated device that brings no address of its own. */
    private const ISOLATED = '192.168.10.0/24';

    private function __construct(public ?Network $network, public ?Ipv4 $address, public bool $isIsolated)
    {
    }

    /**
     * Reads "10.20.3.0/24", "10.20.3.23/24" or "10.20.3.23 255.255.255.0" (an address in its network), "isolated" with or without a
     * network, and "ask" or an empty text (not known).
     *
     * @throws Malformed
     */
    public static function fromString(string $text): self
    {
        $text = trim($text);
        $isIsolated = 1 === preg_match('/^isolated\b[\s,:]*/i', $text, $found);
        $rest = $isIsolated ? substr($text, \strlen($found[0])) : $text;
        if ($isIsolated && '' === $rest) {
            return new self(Network::fromString(self::ISOLATED), null, true);
        }
        if ('' === $rest || 0 === strcasecmp($rest, 'ask')) {
            return new self(null, null, false);
        }
        $parts = preg_split('#\s*/\s*|\s+#', $rest, 2);
        if (false === $parts || 2 !== \count($parts)) {
            Ipv4::fromString($rest);
            throw Malformed::because('Add the mask to {address}: {address}/24.', ['address' => $rest]);
        }
        $host = Ipv4::fromString($parts[0]);
        $network = Network::around($host, Mask::fromString($parts[1]));
        if ($network->address->equals($host)) {
            return new self($network, null, $isIsolated);
        }
        if ($network->isEdge($host)) {
            throw Malformed::because('{address} is the broadcast address of {network}.', ['address' => $host, 'network' => $network]);
        }

        return new self($network, $host, $isIsolated);
    }
}
