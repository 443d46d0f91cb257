<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Core\Bench\Rule\CertificateChanged;
use Vorhut\Core\Catalogue\Admin;
use Vorhut\Core\Catalogue\AdminRequest;
use Vorhut\Core\Catalogue\CallRequest;
use Vorhut\Core\Catalogue\LoginWay;
use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Wire\Http\Body;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\NoAnswer;
use Vorhut\Outpost\Probe\VantagePoint;

/**
 * The admin page of one device at one address, spoken to from one place in the way its kind describes: login, paths, shapes, sign of
 * success. Values carry the device's own names here.
 */
final class DeviceDoor
{
    public const CERTIFICATE = CertificateChanged::SETTING;

    private readonly ?CertificatePin $trust;
    /** So many cookies of a login are kept. */
    private const COOKIES = 8;

    private string $cookie = '';

    private function __construct(
        private readonly Http $http,
        private readonly VantagePoint $place,
        private readonly Ipv4 $address,
        private readonly Service $service,
        private readonly Admin $admin,
        private readonly string $user,
        bool $secured,
        ?string $known,
        private readonly Identity $identity,
    ) {
        $this->trust = $secured ? new CertificatePin($known) : null;
    }

    /** Null for a kind that has no page which could be read. */
    public static function of(Http $http, VantagePoint $place, Ipv4 $address, Device $device): ?self
    {
        $admin = $device->kind->admin;
        $service = $device->serviceNamed('admin');

        return null === $admin || null === $service
            ? null
            : new self(
                $http,
                $place,
                $address,
                $service,
                $admin,
                $device->loginUser(),
                $device->kind->isSelfSigned(),
                $device->setting(self::CERTIFICATE)->seen,
                $http->identity($address, $device),
            );
    }

    public function port(): int
    {
        return $this->service->port->number;
    }

    /** What its certificate showed; null where it has none, or was not asked yet. */
    public function certificate(): ?string
    {
        return $this->trust?->seen;
    }

    /**
     * What it says of itself.
     *
     * @param bool $isSecret not a default password of all such devices
     *
     * @return array<string, string>|null its own name → value; null where it does not take the password
     *
     * @throws NoAnswer
     * @throws ParseError
     * @throws UnidentifiedDevice
     */
    public function status(string $password, bool $isSecret = true): ?array
    {
        $response = $this->ask($this->admin->status, $password, [], $isSecret);

        return self::isGood($response, $this->admin->status) ? Body::read($this->admin->status->as, $response->body) : null;
    }

    /**
     * Puts values in, and into force where that is another request.
     *
     * @param array<string, string> $values its own name → value as it is typed
     *
     * @return Response of the last request made
     *
     * @throws NoAnswer
     * @throws ParseError
     * @throws UnidentifiedDevice
     */
    public function put(string $password, array $values, bool $apply = true, bool $isSecret = true): Response
    {
        $response = $this->ask($this->admin->settings, $password, $values, $isSecret);
        if ($apply && null !== $this->admin->apply && $this->took($response)) {
            // Where the password was among them, it is another one by now.
            return $this->ask($this->admin->apply, $values[$this->admin->fields['adminPassword'] ?? ''] ?? $password, [], $isSecret);
        }

        return $response;
    }

    /**
     * Has it call a number; hangs up where there is none.
     *
     * @return int the status of its answer: 401 and 403 where it does not take the password
     *
     * @throws NoAnswer
     * @throws ParseError
     * @throws UnidentifiedDevice
     */
    public function dial(CallRequest $call, string $password, string $number, bool $isSecret = true): int
    {
        return $this->ask($call->dial, $password, [$call->names['number'] => $number], $isSecret)->status;
    }

    /**
     * How its call stands.
     *
     * @return array<string, string>|null of CallRequest::FIELDS → what it says; null where it says nothing of it
     *
     * @throws NoAnswer
     * @throws ParseError
     * @throws UnidentifiedDevice
     */
    public function call(CallRequest $call, string $password, bool $isSecret = true): ?array
    {
        $response = $this->ask($call->status, $password, [], $isSecret);
        if (!self::isGood($response, $call->status)) {
            return null;
        }
        $said = Body::read($call->status->as, $response->body);

        return array_map(static fn (string $own): string => $said[$own] ?? '', $call->names);
    }

    /**
     * Has it take its file again.
     *
     * @return int the status of its answer: 401 and 403 where it does not take the password
     *
     * @throws NoAnswer
     * @throws ParseError
     * @throws UnidentifiedDevice
     */
    public function refetch(string $password, bool $isSecret = true): int
    {
        return null === $this->admin->refetch ? 404 : $this->ask($this->admin->refetch, $password, [], $isSecret)->status;
    }

    /** Whether an answer means that it was done. */
    public function took(Response $response): bool
    {
        return self::isGood($response, $this->admin->settings);
    }

    private static function isGood(Response $response, AdminRequest $request): bool
    {
        return $response->status >= 200 && $response->status < 300
            && ('' === $request->sign || str_contains($response->body, $request->sign));
    }

    /**
     * @param array<string, string> $values
     *
     * @throws NoAnswer
     * @throws ParseError
     * @throws UnidentifiedDevice
     */
    private function ask(AdminRequest $request, string $password, array $values, bool $isSecret): Response
    {
        $login = [$this->user, $password];
        if (LoginWay::Session === $this->admin->login && '' === $this->cookie) {
            if ($isSecret) {
                // Who holds the address is known only once something was sent there.
                $this->send('GET', $this->admin->status->path, null, '', $request);
                $this->identity->mustBeKnown($this->trust?->known);
            }
            $body = Body::write($request->as, ['user' => $login[0], 'password' => $login[1]]);
            $door = $this->send('POST', $this->admin->door, null, $body, $request);
            $cookies = array_values(array_filter(
                $door->cookies,
                static fn (string $one): bool => 1 === preg_match('/^[A-Za-z0-9_-]{1,40}=[A-Za-z0-9._~-]{1,200}$/D', $one),
            ));
            if ([] === $cookies) {
                return $door;
            }
            $this->cookie = implode('; ', \array_slice($cookies, 0, self::COOKIES));
        }
        $query = 'GET' === $request->method && [] !== $values;

        return $this->send(
            $request->method,
            $request->path.($query ? '?'.Body::write($request->as, $values) : ''),
            LoginWay::Session === $this->admin->login ? null : $login,
            $query || 'GET' === $request->method ? '' : Body::write($request->as, $values),
            $request,
            $isSecret,
        );
    }

    /**
     * @param array{string, string}|null $login
     *
     * @throws NoAnswer
     * @throws ParseError
     * @throws UnidentifiedDevice
     */
    private function send(
        string $method,
        string $path,
        ?array $login,
        string $body,
        AdminRequest $request,
        bool $isSecret = false,
    ): Response {
        return $this->http->ask(
            $this->place,
            $this->address,
            $this->service->port->number,
            $method,
            $path,
            $login,
            $body,
            3.0,
            $this->trust,
            ('' === $body ? [] : ['content-type' => $request->as->mediaType()]) + ('' === $this->cookie ? [] : ['cookie' => $this->cookie]),
            $isSecret ? $this->identity : null,
        );
    }
}
