<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Contracts\Translation\TranslatorInterface;
use Twig\Extension\AbstractExtension;
use Twig\TwigFilter;
use Twig\TwigFunction;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\Segment;

/** What templates need to speak: core messages through the translator, stored values as text, times, pennants. */
final class Words extends AbstractExtension
{
    public function __construct(private readonly TranslatorInterface $translator)
    {
    }

    public function getFilters(): array
    {
        return [
            new TwigFilter('say', $this->say(...)),
            new TwigFilter('typed', static fn (mixed $stored, string $section, string $field): string => (Schema::field($section, $field)->type ?? FieldType::Text)->show($stored)),
            new TwigFilter('clock', static fn (?string $time): string => null === $time || '' === $time ? '' : str_replace('T', ' ', substr($time, 0, 16))),
            new TwigFilter('names', self::names(...)),
            new TwigFilter('minutes', static fn (int $seconds): string => \sprintf('%d:%02d', intdiv($seconds, 60), $seconds % 60)),
        ];
    }

    public function getFunctions(): array
    {
        return [
            // Which segment an address belongs to: whose pennant it wears.
            new TwigFunction('segment_of', static fn (Plan $plan, ?string $address): ?string => null === ($parsed = Ipv4::tryFromString($address ?? '')) ? null : $plan->segmentAround($parsed)?->key),
        ];
    }

    /**
     * What one picks from: key → name.
     *
     * @param array<Segment|Device> $records
     *
     * @return array<array-key, string>
     */
    private static function names(array $records): array
    {
        $names = [];
        foreach ($records as $record) {
            $names[$record->key] = $record instanceof Device ? $record->tag : $record->name;
        }

        return $names;
    }

    /** A core message in the reader's language; what stands in its places may be a message of the core too. */
    public function say(Message|string|null $message): string
    {
        return match (true) {
            null === $message => '',
            \is_string($message) => $this->translator->trans($message),
            default => $this->translator->trans($message->text, $message->places()),
        };
    }
}
