<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\Socket\Socket;
use Vorhut\Core\Catalogue\Admin;
use Vorhut\Core\Catalogue\AdminRequest;
use Vorhut\Core\Catalogue\BodyShape;
use Vorhut\Core\Catalogue\CallRequest;
use Vorhut\Core\Catalogue\LoginWay;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Wire\Http\Body;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sip\Digest;

/**
 * The web page of a device as its kind describes it: login, a first password that has to go, a status, settings in its own shape, saved
 * and applied, a restart where an address changed.
 */
final class AdminPage
{
    private const SEAT = 'seat';
    /** An answer to a digest's question is good for a while (RFC 7616 §3.3). */
    private const QUESTIONS = 200;

    /** @var array<string, true> */
    private array $seats = [];
    /** @var array<string, true> */
    private array $questions = [];

    private function __construct(private readonly StandIn $standIn, private readonly Admin $admin)
    {
    }

    public static function at(StandIn $standIn, Admin $admin, Ipv4 $host, int $port): Behaviour
    {
        $page = new self($standIn, $admin);
        $serve = $page->serve(...);

        return $standIn->kind->isSelfSigned()
            ? TcpServer::overTls($host, $port, $standIn->certificate(), $serve)
            : new TcpServer($host, $port, $serve);
    }

    private function serve(Socket $client): void
    {
        $bytes = '';
        try {
            while (null === ($length = Request::length($bytes)) || \strlen($bytes) < $length) {
                $more = $client->read();
                if (null === $more) {
                    return;
                }
                $bytes .= $more;
            }
            $response = $this->answer(Request::fromString($bytes));
        } catch (ParseError) {
            $response = new Response(400);
        }
        $client->write((string) $response);
    }

    private function answer(Request $request): Response
    {
        [$path, $query] = explode('?', $request->path, 2) + [1 => ''];
        if (LoginWay::Session === $this->way() && 'POST' === $request->method && $path === $this->admin->door) {
            return $this->seat($request);
        }
        if (!$this->isIn($request)) {
            return $this->refuse();
        }
        if ($this->firstPasswordIsLeft() && !$this->changesPassword($request, $path, $query)) {
            return $this->page(403, '<p>Change the password first.</p>');
        }

        $call = $this->admin->call;

        return match (true) {
            $this->is($this->admin->status, $request, $path) && '' === $query => $this->status(),
            $this->is($this->admin->settings, $request, $path) => $this->takeForm($this->fieldsOf($request, $query)),
            null !== $this->admin->apply && $this->is($this->admin->apply, $request, $path) => $this->apply(),
            null !== $this->admin->refetch && $this->is($this->admin->refetch, $request, $path) => $this->refetches(),
            null !== $call && $this->is($call->dial, $request, $path) => $this->dials($call, $request, $query),
            null !== $call && $this->is($call->status, $request, $path) => $this->call($call),
            'POST' === $request->method && '/licence' === $path => $this->pressButton(Stimulus::LICENCE, $request),
            'POST' === $request->method && '/unlock' === $path => $this->pressButton(Stimulus::UNLOCK, $request),
            '/' === $path => $this->form(),
            default => new Response(404),
        };
    }

    /** It starts anew, and fetches as it does whenever it starts. */
    private function refetches(): Response
    {
        $this->standIn->restartSoon();

        return new Response(200, ['content-type' => 'text/plain'], $this->admin->refetch->sign ?? '');
    }

    private function dials(CallRequest $call, Request $request, string $query): Response
    {
        $phone = $this->standIn->callsOut();
        $body = 'GET' === $call->dial->method ? $query : $request->body;
        $typed = '' === $body ? [] : Body::read($call->dial->as, $body);
        $number = $typed[$call->names['number']] ?? '';
        if (null === $phone || 1 !== preg_match('/^[0-9*#+]{0,32}$/D', $number)) {
            return new Response(409);
        }
        $phone->dial($number);

        return new Response(200, ['content-type' => 'text/plain'], $call->dial->sign);
    }

    private function call(CallRequest $call): Response
    {
        $stands = $this->standIn->callsOut()?->call() ?? ['state' => 'idle', 'with' => '', 'sent' => 0, 'heard' => 0];
        $said = [];
        foreach ($stands as $field => $value) {
            $said[$call->names[$field]] = (string) $value;
        }

        return new Response(200, ['content-type' => $call->status->as->mediaType()], Body::write($call->status->as, $said));
    }

    private function is(AdminRequest $wanted, Request $request, string $path): bool
    {
        return $wanted->method === $request->method && $wanted->path === $path;
    }

    private function way(): LoginWay
    {
        return $this->standIn->kind->login->exists() ? $this->admin->login : LoginWay::None;
    }

    private function isIn(Request $request): bool
    {
        $state = $this->standIn->state;

        return match ($this->way()) {
            LoginWay::None => true,
            LoginWay::Basic => [$state->get('adminUser'), $state->get('adminPassword')] === $request->login(),
            LoginWay::Digest => $this->proves($request),
            LoginWay::Session => 1 === preg_match('/\b'.self::SEAT.'=([0-9a-f]+)/', $request->headers['cookie'] ?? '', $found)
                && isset($this->seats[$found[1]]),
        };
    }

    private function proves(Request $request): bool
    {
        $answer = Digest::tryFromString($request->headers['authorization'] ?? '');
        $state = $this->standIn->state;

        return null !== $answer
            && isset($this->questions[$answer->field('nonce')])
            && $answer->field('username') === $state->get('adminUser')
            && $answer->field('uri') === $request->path
            && $answer->proves($state->get('adminPassword'), $request->method);
    }

    private function refuse(): Response
    {
        $realm = $this->standIn->kind->name;
        $headers = ['content-type' => 'text/html'];
        if (LoginWay::Digest === $this->way()) {
            $nonce = bin2hex(random_bytes(16));
            $this->questions = \array_slice($this->questions, -self::QUESTIONS, null, true) + [$nonce => true];
            $headers['www-authenticate'] = (string) Digest::challenge($realm, $nonce, 'SHA-256');
        } elseif (LoginWay::Basic === $this->way()) {
            $headers['www-authenticate'] = 'Basic realm="'.$realm.'"';
        }

        return new Response(401, $headers, $this->title().'<p>Log in.</p>');
    }

    private function seat(Request $request): Response
    {
        $state = $this->standIn->state;
        $fields = Body::read($this->shapeOf($request), $request->body);
        if ([$state->get('adminUser'), $state->get('adminPassword')] !== [$fields['user'] ?? '', $fields['password'] ?? '']) {
            return $this->refuse();
        }
        $seat = bin2hex(random_bytes(12));
        $this->seats = \array_slice($this->seats, -self::QUESTIONS, null, true) + [$seat => true];

        return new Response(200, ['set-cookie' => self::SEAT.'='.$seat.'; HttpOnly', 'content-type' => 'text/html'], $this->title());
    }

    private function shapeOf(Request $request): BodyShape
    {
        foreach (BodyShape::cases() as $shape) {
            if (str_starts_with($request->headers['content-type'] ?? '', $shape->mediaType())) {
                return $shape;
            }
        }

        return BodyShape::Form;
    }

    private function firstPasswordIsLeft(): bool
    {
        $state = $this->standIn->state;

        return $this->standIn->kind->login->forcedChange && $state->get('adminPassword') === $state->firstPassword;
    }

    private function changesPassword(Request $request, string $path, string $query): bool
    {
        return $this->is($this->admin->settings, $request, $path)
            && '' !== ($this->fieldsOf($request, $query)[$this->admin->fields['adminPassword'] ?? ''] ?? '');
    }

    /** @return array<string, string> */
    private function fieldsOf(Request $request, string $query): array
    {
        try {
            return Body::read($this->admin->settings->as, 'GET' === $this->admin->settings->method ? $query : $request->body);
        } catch (ParseError) {
            return [];
        }
    }

    private function status(): Response
    {
        $kind = $this->standIn->kind;
        $settings = $kind->locals();
        $state = $this->standIn->state;
        $shown = [];
        foreach ($kind->adminFields() as $local => $own) {
            if (null === $settings[$local]->secret) {
                // The page shows values that were typed but not applied yet.
                $shown[$own] = $settings[$local]->type->format($state->saved[$local] ?? $state->get($local));
            }
        }
        foreach ($this->standIn->shows() as $word => $how) {
            $shown[strtr($word, ' ', '-').'-state'] = $how;
        }
        $shown['inForce'] = $state->get('address');
        $as = $this->admin->status->as;

        return new Response(200, ['content-type' => $as->mediaType()], Body::write($as, $shown));
    }

    /**
     * One field after the other, until one is invalid: earlier ones are stored, as in real devices.
     *
     * @param array<string, string> $form
     */
    private function takeForm(array $form): Response
    {
        $kind = $this->standIn->kind;
        $settings = $kind->locals();
        $state = $this->standIn->state;
        $restart = false;
        foreach ($kind->adminFields() as $local => $own) {
            $value = $form[$own] ?? null;
            $setting = $settings[$local];
            if (null === $value || $setting->found) {
                continue;
            }
            if (null !== $setting->secret) {
                if ('' !== $value) {
                    $this->standIn->configure('admin' === $setting->secret ? 'adminPassword' : $local, $value);
                }
                continue;
            }
            try {
                $read = $setting->read($value);
            } catch (Malformed) {
                return new Response(422, ['content-type' => 'text/plain'], $own.' is not valid');
            }
            $why = $this->standIn->refuses($local, $read);
            if (null !== $why) {
                return new Response(409, ['content-type' => 'text/plain'], $own.': '.$why);
            }
            if (null !== $this->admin->apply) {
                $state->saved[$local] = $read;
            } else {
                $restart = $restart || ($this->standIn->restartsFor($setting) && $read !== $state->get($local));
                $this->standIn->configure($local, $read);
            }
        }
        $this->finish($restart);

        return $this->page(200, '<p>Saved.'.($restart ? ' Restarting.' : '').'</p><p>'.$this->admin->settings->sign.'</p>');
    }

    private function apply(): Response
    {
        $this->standIn->apply();
        $this->finish(true);

        return $this->page(200, '<p>Applied. Restarting.</p>');
    }

    private function pressButton(string $what, Request $request): Response
    {
        $with = Body::read(BodyShape::Form, $request->body)['with'] ?? '';

        return $this->standIn->feels(new Stimulus($what, $with))
            ? $this->page(200, '<p>Done.</p>')
            : $this->page(422, '<p>Not accepted.</p>');
    }

    private function finish(bool $restart): void
    {
        if ($restart) {
            $this->standIn->restartSoon();
        } else {
            $this->standIn->onChange();
        }
    }

    private function form(): Response
    {
        $kind = $this->standIn->kind;
        $settings = $kind->locals();
        $inputs = '';
        foreach ($kind->adminFields() as $local => $own) {
            $inputs .= \sprintf(
                '<p><label>%s <input name="%s" value="%s"></label></p>',
                $own,
                $own,
                null === $settings[$local]->secret ? htmlspecialchars($this->standIn->state->get($local)) : '',
            );
        }

        return $this->page(200, \sprintf(
            '<form method="post" action="%s">%s<button>Apply</button></form>',
            $this->admin->settings->path,
            $inputs,
        ));
    }

    private function title(): string
    {
        return '<title>'.htmlspecialchars($this->standIn->kind->name).'</title>';
    }

    private function page(int $status, string $html): Response
    {
        return new Response($status, ['content-type' => 'text/html'], $this->title().$html);
    }
}
