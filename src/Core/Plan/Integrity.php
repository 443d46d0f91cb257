<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Catalogue;
use Vorhut\Core\Catalogue\KindValidator;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Text\Message;

/**
 * Whether a record may stand as it is: every field of its type and within its bounds, every pointer at something that is there. What passes
 * here is read again from the job's own document.
 *
 * @phpstan-import-type RowData from Edit
 */
final readonly class Integrity
{
    /** Records that say by their owner's name whose they are, without a pointer. */
    private const OWNED = ['credentials' => 'owner'];

    /** @param \Closure(string, string): (RowData|null) $row section and key → the record as it will be stored */
    public function __construct(private Catalogue $catalogue, private \Closure $row)
    {
    }

    /**
     * The error of a record; null if it is valid.
     *
     * @param RowData $row
     */
    public function why(string $section, array $row): ?Message
    {
        foreach ('job' === $section ? Schema::job() : Schema::sections()[$section] as $field) {
            $value = $row[$field->name] ?? null;
            try {
                $field->check($value);
            } catch (Malformed $e) {
                return self::messageFor($field->name, $e->message());
            }
            if (null !== $field->pointsTo && \is_string($value) && '' !== $value && !$this->isThere($field->pointsTo, $value)) {
                return self::messageFor($field->name, new Message('There is no "{key}" in {section} any more.', [
                    'key' => $value,
                    'section' => new Message($field->pointsTo),
                ]));
            }
        }
        [$owner, $key] = explode('/', (new Row($row))->text(self::OWNED[$section] ?? ''), 2) + [1 => ''];
        if ('' !== $key && isset(Schema::sections()[$owner]) && !$this->isThere($owner, $key)) {
            return self::messageFor('owner', new Message('There is no "{key}" in {section} any more.', [
                'key' => $key,
                'section' => new Message($owner),
            ]));
        }

        foreach (Schema::roles()[$section] ?? [] as $field => $role) {
            $device = (new Row($row))->text($field);
            $why = '' === $device ? null : self::whyNotOfRole($this->catalogue, ($this->row)('devices', $device), $role);
            if (null !== $why) {
                return self::messageFor($field, $why);
            }
        }

        return match ($section) {
            'settings' => $this->whyNotASetting($row),
            'ownKinds' => self::whyNotAKind($this->catalogue, $row),
            default => null,
        };
    }

    /** @param RowData|null $device null where it is not there, which is said elsewhere */
    public static function whyNotOfRole(Catalogue $catalogue, ?array $device, Role $role): ?Message
    {
        $row = new Row($device ?? []);
        $kind = $catalogue->kind($row->text('kind'));

        return null === $kind || $kind->has($role) ? null : new Message('{tag} is a {kind}, which cannot be that.', [
            'tag' => $row->text('tag'),
            'kind' => new Message($kind->name),
        ]);
    }

    /** @param RowData $row */
    public static function whyNotAKind(Catalogue $catalogue, array $row): ?Message
    {
        try {
            $kind = $catalogue->read(Row::keyOf($row), Catalogue::decode((new Row($row))->text('source')));
        } catch (Malformed $e) {
            return $e->message();
        }

        return KindValidator::ofKind($kind)[0] ?? null;
    }

    /** @return array<string, list<array{string, string}>> section → the fields of other sections that point to it */
    public static function pointers(): array
    {
        $pointers = [];
        foreach (Schema::sections() as $section => $fields) {
            foreach ($fields as $field) {
                if (null !== $field->pointsTo && 'kinds' !== $field->pointsTo) {
                    $pointers[$field->pointsTo][] = [$section, $field->name];
                }
            }
        }

        return $pointers;
    }

    /** @param RowData $row */
    private function whyNotASetting(array $row): ?Message
    {
        $ref = SettingRef::tryFromString(Row::keyOf($row));
        if (null === $ref || !$this->isThere($ref->section, $ref->key)) {
            return new Message('"{key}" is not a setting of a record in this job.', ['key' => Row::keyOf($row)]);
        }
        $setting = $this->catalogue->kind($this->kindOf($ref))?->setting($ref->name);
        if (null === $setting) {
            // What its kind does not know is kept as it is.
            return null;
        }
        // A seen value is the device's own answer, valid or not.
        foreach ([Face::Planned, Face::Set] as $face) {
            $value = $row[$face->value] ?? null;
            if (!\is_string($value) || '' === $value) {
                continue;
            }
            if (null !== $setting->secret) {
                return self::messageFor($setting->label, new Message('A secret does not stand among the settings.'));
            }
            if (ValueType::Device === $setting->type) {
                if (!$this->isThere('devices', $value)) {
                    return self::messageFor($setting->label, new Message('There is no "{key}" in {section} any more.', [
                        'key' => $value,
                        'section' => new Message('devices'),
                    ]));
                }
                continue;
            }
            try {
                $setting->read($value);
            } catch (Malformed $e) {
                return self::messageFor($setting->label, $e->message());
            }
        }

        return null;
    }

    /** The code of the kind of the device that a setting belongs to. */
    private function kindOf(SettingRef $ref): string
    {
        $field = static fn (?array $row, string $name): string => (new Row($row ?? []))->text($name);
        $device = match ($ref->section) {
            'nics' => $field(($this->row)('nics', $ref->key), 'device'),
            'accounts' => $field(
                ($this->row)('extensions', $field(($this->row)('accounts', $ref->key), 'extension')),
                'phone',
            ),
            default => $ref->key,
        };

        return $field(($this->row)('devices', $device), 'kind');
    }

    private function isThere(string $section, string $key): bool
    {
        return 'kinds' === $section ? null !== $this->catalogue->kind($key) : null !== ($this->row)($section, $key);
    }

    private static function messageFor(string $field, Message $why): Message
    {
        return new Message('{field}: {why}', ['field' => $field, 'why' => $why]);
    }
}
