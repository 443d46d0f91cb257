<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Contracts\Translation\TranslatorInterface;
use Twig\Extension\AbstractExtension;
use Twig\TwigFilter;
use Twig\TwigFunction;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Finding\FindingGroup;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\AtDevices;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Text\Actions;
use Vorhut\Core\Text\Message;

/** What templates need to speak: core messages through the translator, stored values as text, times, pennants. */
final class Words extends AbstractExtension
{
    private const LONG = 200;

    public function __construct(private readonly TranslatorInterface $translator)
    {
    }

    public function getFilters(): array
    {
        return [
            new TwigFilter('say', $this->say(...)),
            new TwigFilter('actions', Actions::in(...)),
            new TwigFilter('in_fours', self::inFours(...)),
            // A sentence as it is kept.
            new TwigFilter('sentence', fn (mixed $stored): string => $this->say(Message::fromStored($stored))),
            new TwigFilter(
                'typed',
                static fn (
                    mixed $stored,
                    string $section,
                    string $field,
                ): string => (Schema::field($section, $field)->type ?? FieldType::Text)->show($stored),
            ),
            new TwigFilter(
                'clock',
                static fn (?string $time): string => null === $time || '' === $time ? '' : str_replace('T', ' ', substr($time, 0, 16)),
            ),
            new TwigFilter('of_role', $this->ofRole(...)),
            // The devices that have a role, or that have it not.
            new TwigFilter('having', static fn (array $devices, string $role): array => self::withRole($devices, $role, true)),
            new TwigFilter('lacking', static fn (array $devices, string $role): array => self::withRole($devices, $role, false)),
            // The properties of the setting at an address, if its kind has one.
            new TwigFilter(
                'setting_at',
                static fn (Plan $plan, string $key): ?Setting => null === ($ref = SettingRef::tryFromString($key))
                    ? null
                    : $plan->settings()->definition($ref),
            ),
            new TwigFilter('names', self::names(...)),
            // What one picks from where the text itself is kept.
            new TwigFilter('same', self::same(...)),
            // The same, each with what it is called.
            new TwigFilter('spoken', fn (array $texts): array => array_map($this->translator->trans(...), self::same($texts))),
            new TwigFilter(
                'tags',
                static fn (array $devices): array => self::same(self::names(self::withRole($devices, 'forwards', false))),
            ),
            new TwigFilter('minutes', static fn (int $seconds): string => \sprintf('%d:%02d', intdiv($seconds, 60), $seconds % 60)),
        ];
    }

    public function getFunctions(): array
    {
        return [
            // Too many to choose from a list: type it.
            new TwigFunction('is_long', static fn (array $options): bool => \count($options) > self::LONG),
            // Of several of a name which it is: the number of the input, or the port.
            new TwigFunction('which', static fn (string $local, Setting $setting): string => SettingScope::Item === $setting->scope
                ? substr($local, \strlen($setting->name) + 1)
                : explode('.', $local, 2)[0]),
            // Where a cure has to arrive before it is true.
            new TwigFunction('at_devices', AtDevices::of(...)),
            new TwigFunction('finding_groups', FindingGroup::all(...)),
            new TwigFunction('language', fn (): string => $this->translator->getLocale()),
            // Which segment an address belongs to: whose pennant it wears.
            new TwigFunction(
                'segment_of',
                static fn (Plan $plan, ?string $address): ?string => null === ($parsed = Ipv4::tryFromString($address ?? ''))
                    ? null
                    : $plan->segmentAround($parsed)?->key,
            ),
        ];
    }

    /** A fingerprint as eyes can hold it against another; any other text as it is. */
    private static function inFours(string $text): string
    {
        return 1 === preg_match('/^[0-9a-f]{64}$/D', $text) ? implode(' ', str_split($text, 4)) : $text;
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

    /**
     * @param array<Kind> $kinds
     *
     * @return array<string, string> code → name
     */
    private function ofRole(array $kinds, string $role): array
    {
        $names = [];
        foreach ($kinds as $kind) {
            if ($kind->has(Role::from($role))) {
                $names[$kind->code] = $this->translator->trans($kind->name);
            }
        }

        return $names;
    }

    /**
     * @param array<mixed> $devices
     *
     * @return array<string, Device> by key
     */
    private static function withRole(array $devices, string $role, bool $has): array
    {
        $some = [];
        foreach ($devices as $device) {
            if ($device instanceof Device && $has === $device->kind->has(Role::from($role))) {
                $some[$device->key] = $device;
            }
        }

        return $some;
    }

    /**
     * @param array<mixed> $texts
     *
     * @return array<string, string>
     */
    private static function same(array $texts): array
    {
        $same = [];
        foreach ($texts as $text) {
            if (\is_string($text)) {
                $same[$text] = $text;
            }
        }

        return $same;
    }

    /** A core message in the reader's language; its values may be messages of the core too. */
    public function say(Message|string|null $message): string
    {
        return match (true) {
            null === $message => '',
            \is_string($message) => $this->translator->trans($message),
            default => $message->render(fn (string $text): string => $this->translator->trans($text), $this->translator->getLocale()),
        };
    }
}
