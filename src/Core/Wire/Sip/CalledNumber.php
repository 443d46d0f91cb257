<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sip;

use Vorhut\Core\Wire\ParseError;

/** Which number was dialled at first, where a call was led on before it came here: who writes it and who reads it must use one way. */
enum CalledNumber: string
{
    case To = 'To';
    /** One header for each time it was led on, the last first (RFC 5806 §7). */
    case Diversion = 'Diversion';
    /** One entry for each target; that of index 1 is the first (RFC 7044 §5.1). */
    case HistoryInfo = 'History-Info';

    /** @return list<array{string, string}> headers that say it in a request to another target */
    public function headers(string $number, string $target, string $host): array
    {
        $first = \sprintf('<sip:%s@%s>', $number, $host);

        return match ($this) {
            self::To => [],
            self::Diversion => [['Diversion', $first.';reason=unconditional;counter=1']],
            self::HistoryInfo => [['History-Info', $first.';index=1'], ['History-Info', \sprintf('<sip:%s@%s>;index=1.1', $target, $host)]],
        };
    }

    /** Null where the request does not say it so. */
    public function in(SipMessage $request): ?string
    {
        $found = null;
        foreach (self::entries($request->headers($this->value)) as $entry) {
            try {
                $address = SipAddress::fromString($entry);
            } catch (ParseError) {
                continue;
            }
            if (self::HistoryInfo !== $this || '1' === $address->parameter('index')) {
                $found = $address->user();
            }
        }

        return '' === $found ? null : $found;
    }

    /**
     * A header may have several values, separated by commas; in quotes and brackets a comma separates nothing (RFC 3261 §7.3.1).
     *
     * @param list<string> $headers
     *
     * @return list<string>
     */
    private static function entries(array $headers): array
    {
        $entries = [];
        foreach ($headers as $header) {
            preg_match_all('/(?:"(?:[^"\\\\]|\\\\.)*"|<[^>]*>|[^,"<])+/', $header, $found);
            $entries = [...$entries, ...array_map(trim(...), $found[0])];
        }

        return $entries;
    }
}
