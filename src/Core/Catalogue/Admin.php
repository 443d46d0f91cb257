<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/**
 * How a kind is read and written over HTTP: how it is logged in to, its requests, and what its own names for our fields are. Outpost and
 * stand-in read the same lines.
 */
final readonly class Admin
{
    /**
     * @param AdminRequest|null     $apply  what brings into force that was only saved until then; null where saving does
     * @param string                $door   where a session is asked for
     * @param CallRequest|null      $call   how it is told to call, where it can be
     * @param AdminRequest|null     $refetch what has it take its file again, where it can be told to
     * @param array<string, string> $fields our setting → the device's own name; `{port}` and `{n}` stand for its port and its number
     */
    private function __construct(
        public LoginWay $login,
        public string $door,
        public AdminRequest $status,
        public AdminRequest $settings,
        public ?AdminRequest $apply,
        public array $fields,
        public ?CallRequest $call = null,
        public ?AdminRequest $refetch = null,
    ) {
    }

    /** @param array<mixed> $data */
    public static function fromArray(array $data): self
    {
        $fields = [];
        foreach ((array) ($data['fields'] ?? []) as $ours => $own) {
            $fields[(string) $ours] = \is_scalar($own) ? (string) $own : '';
        }
        $read = new Reading($data, 'admin');

        return new self(
            $read->word(LoginWay::class, 'login', $read->text('login', LoginWay::Basic->value)),
            AdminRequest::path($read->text('door', '/login'), 'admin, door'),
            AdminRequest::read($data['status'] ?? '/', 'GET', BodyShape::Json, 'admin, status'),
            AdminRequest::read($data['settings'] ?? '/', 'POST', BodyShape::Form, 'admin, settings'),
            isset($data['apply']) ? AdminRequest::read($data['apply'], 'POST', BodyShape::Form, 'admin, apply') : null,
            $fields,
            isset($data['call']) ? CallRequest::read($data['call']) : null,
            isset($data['refetch']) ? AdminRequest::read($data['refetch'], 'POST', BodyShape::Form, 'admin, refetch') : null,
        );
    }

    /** The device's own name of a setting by its local name (`hostName`, `lan.address`, `inputSource.3`); null where it has none. */
    public function own(string $local, Setting $setting, bool $firstPort): ?string
    {
        $port = SettingScope::Port === $setting->scope ? explode('.', $local, 2)[0] : '';
        $number = SettingScope::Item === $setting->scope ? substr($local, \strlen($setting->name) + 1) : '';
        $own = $this->fields[$local] ?? $this->fields[$setting->name] ?? null;
        if (null === $own || ('' !== $port && !$firstPort && !isset($this->fields[$local]) && !str_contains($own, '{port}'))) {
            return null;
        }

        return strtr($own, ['{port}' => $port, '{n}' => $number]);
    }
}
