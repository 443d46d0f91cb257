<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Malformed;

/**
 * Settings that several kinds share. A kind names a whole set, or one of a set, which it may change; an unchanged one is one object for all
 * kinds, made at its first use.
 */
final class SharedSettings
{
    /** @var array<string, array<mixed>> name → its properties, from all sets */
    private readonly array $named;
    /** @var array<string, Setting> */
    private array $made = [];

    /** @param array<string, array<string, array<mixed>>> $sets set → name → its properties */
    public function __construct(private readonly array $sets = [])
    {
        $this->named = array_merge(...array_values($sets));
    }

    /**
     * @param Reading $kind its lines under `settings`
     *
     * @return array<string, Setting> by name
     *
     * @throws Malformed
     */
    public function of(Reading $kind): array
    {
        $data = [];
        foreach ($kind->each('settings') as $line) {
            $name = $line->requireText('name');
            $isName = 1 === \count($line->data());
            if ($isName && isset($this->sets[$name])) {
                $data = array_replace($data, $this->sets[$name]);
                continue;
            }
            if ($isName && !isset($this->named[$name])) {
                throw Malformed::because(
                    '{of}: no setting and no set of settings is called "{name}".',
                    ['of' => $kind->of(), 'name' => $name],
                );
            }
            $data[$name] = $line->data() + ($data[$name] ?? $this->named[$name] ?? []);
        }
        $settings = [];
        foreach ($data as $name => $one) {
            // A name made of digits only, which is invalid, arrives as a number.
            $name = (string) $name;
            $settings[$name] = ($this->named[$name] ?? null) === $one
                ? $this->made[$name] ??= Setting::fromArray($name, $one)
                : Setting::fromArray($name, $one);
        }

        return $settings;
    }
}
