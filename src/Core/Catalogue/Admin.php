<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/**
 * How a kind is read and written over HTTP: how it is logged in to, its requests, and what its own names for our fields are. Outpost and
 * stand-in read the same lines.
 */
final readonly class Admin
{
    public LoginWay $login;
    /** The path that opens a session. */
    public string $door;
    public AdminRequest $status;
    public AdminRequest $settings;
    /** @var AdminRequest|null what brings into force that was only saved until then; null where saving does */
    public ?AdminRequest $apply;
    /** @var array<string, string> our setting → the device's own name; `{port}` and `{n}` are replaced by its port and its number */
    public array $fields;
    /** @var CallRequest|null how it is told to call, where it can be */
    public ?CallRequest $call;
    /** @var AdminRequest|null the request that makes it fetch its file again, where it has one */
    public ?AdminRequest $refetch;

    /** @param array<mixed> $data */
    private function __construct(array $data)
    {
        $fields = [];
        foreach ((array) ($data['fields'] ?? []) as $ours => $own) {
            $fields[(string) $ours] = \is_scalar($own) ? (string) $own : '';
        }
        $read = new Reading($data, 'admin');
        $this->login = $read->word(LoginWay::class, 'login', $read->text('login', LoginWay::Basic->value));
        $this->door = AdminRequest::path($read->text('door', '/login'), 'admin, door');
        $this->status = AdminRequest::read($data['status'] ?? '/', 'GET', BodyShape::Json, 'admin, status');
        $this->settings = AdminRequest::read($data['settings'] ?? '/', 'POST', BodyShape::Form, 'admin, settings');
        $this->apply = isset($data['apply']) ? AdminRequest::read($data['apply'], 'POST', BodyShape::Form, 'admin, apply') : null;
        $this->fields = $fields;
        $this->call = isset($data['call']) ? CallRequest::read($data['call']) : null;
        $this->refetch = isset($data['refetch']) ? AdminRequest::read($data['refetch'], 'POST', BodyShape::Form, 'admin, refetch') : null;
    }

    /** @param array<mixed> $data */
    public static function fromArray(array $data): self
    {
        return new self($data);
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
