<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\KindDifference;
use Vorhut\Core\Catalogue\KindValidator;
use Vorhut\Core\Catalogue\Setting;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Text\Message;

/**
 * A kind as one job would have it: the differences from its present version, the errors, and the change that adopts it. A kind never
 * changes in any other way while devices use it.
 */
final readonly class KindVersion
{
    /** Characters of JSON; the largest kind that ships has a tenth. */
    public const LONGEST = 120_000;
    private const TOLD = 8;

    /**
     * @param list<KindDifference> $differences from what the job has; from what ships, where it has none of its own
     * @param list<Message>        $wrong       why it cannot be taken
     * @param int                  $users       devices that it changes under
     */
    private function __construct(
        public string $code,
        public int $number,
        public array $differences,
        public array $wrong,
        public int $users,
        private Plan $plan,
        private string $source,
    ) {
    }

    /**
     * @param array<mixed>      $data  the whole description
     * @param array<mixed>|null $ships what ships under this code
     */
    public static function of(Plan $plan, string $code, array $data, ?array $ships = null): self
    {
        $row = $plan->row('ownKinds', $code);
        $has = null === $row ? $ships : Catalogue::decode((new Row($row))->text('source'));
        $source = Catalogue::encode($data);
        $users = self::users($plan, $code);
        $wrong = [];
        try {
            FieldType::Key->read($code);
            $kind = $plan->catalogue->read($code, $data);
            $wrong = [...KindValidator::ofKind($kind), ...self::unsupported($plan, $code, $kind)];
        } catch (Malformed $e) {
            $wrong[] = $e->message();
        }
        if (\strlen($source) > self::LONGEST) {
            $wrong[] = new Message('That is longer than {longest} characters.', ['longest' => self::LONGEST]);
        }

        return new self(
            $code,
            null === $row ? 1 : (new Row($row))->int('version', 1) + 1,
            KindDifference::between($has ?? [], $data),
            $wrong,
            \count($users),
            $plan,
            $source,
        );
    }

    /** @param string $from where it was taken from; '' for one that was written here */
    public function change(string $from = ''): Change
    {
        $row = $this->plan->row('ownKinds', $this->code);
        $fields = ['source' => $this->source, 'version' => $this->number, 'takenFrom' => '' === $from ? null : $from];
        $why = new Message('Kind {code}, version {n}.', ['code' => $this->code, 'n' => $this->number]);
        if (null === $row) {
            return new Change($why, [Edit::add('ownKinds', ['key' => $this->code] + $fields)]);
        }
        $edits = [];
        foreach ($fields as $field => $value) {
            $before = $row[$field] ?? null;
            if ($before !== $value) {
                $edits[] = Edit::put('ownKinds', $this->code, $field, $before, $value);
            }
        }

        return new Change($why, $edits);
    }

    /** Whether it differs from what the job has. */
    public function isNew(): bool
    {
        return [] !== $this->differences;
    }

    /**
     * What the job has recorded of devices of a kind, and a description of it has no place for.
     *
     * @return list<Message>
     */
    public static function unsupported(Plan $plan, string $code, Kind $kind): array
    {
        $steps = array_map(static fn ($step): string => $step->code, $kind->steps);
        $ports = array_map(static fn ($port): string => $port->name, $kind->ports);
        $lost = [];
        foreach (self::users($plan, $code) as $device) {
            $gone = [
                ...array_diff(array_map(static fn (Nic $nic): string => $nic->name, $device->nics), $ports),
                ...array_diff(array_keys($plan->marksOf($device->key)), $steps),
                ...self::settingsGone($plan, $device, $kind),
            ];
            if ([] !== $gone) {
                $lost[] = new Message('{tag} has recorded values under {names} that this kind does not have or does not accept.', [
                    'tag' => $device->tag,
                    'names' => implode(', ', \array_slice($gone, 0, self::TOLD)),
                ]);
            }
        }

        return [] === \array_slice($lost, self::TOLD)
            ? $lost
            : [...\array_slice($lost, 0, self::TOLD), new Message('[n more device|more devices].', ['n' => \count($lost) - self::TOLD])];
    }

    /** @return array<Device> */
    private static function users(Plan $plan, string $code): array
    {
        return array_filter($plan->devices, static fn (Device $device): bool => $device->kind->code === $code);
    }

    /** @return list<string> local names of settings that have a value, and in the new description no place for it */
    private static function settingsGone(Plan $plan, Device $device, Kind $kind): array
    {
        $gone = [];
        foreach ($plan->settings()->slots($device, true) as $slot) {
            $new = $kind->setting($slot->setting->name);
            $isThere = null !== $new && $new->scope === $slot->setting->scope && \in_array($slot->ref->slot, $new->slots(), true);
            if (!$isThere || !self::takes($new, $slot->value)) {
                $gone[] = $slot->local;
            }
        }

        return $gone;
    }

    /** A written kind must equal the one that would be read from the job's document. */
    private static function takes(Setting $setting, TrackedValue $value): bool
    {
        if (ValueType::Device !== $setting->type) {
            foreach ([$value->own(Face::Planned), $value->set] as $text) {
                try {
                    if (null !== $text && '' !== $text) {
                        $setting->read($text);
                    }
                } catch (Malformed) {
                    return false;
                }
            }
        }

        return true;
    }
}
