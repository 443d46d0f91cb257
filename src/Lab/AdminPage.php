<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\Socket\Socket;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\Unreadable;

/** The web page of a device: a login, a status, a form that takes an address and restarts. */
final class AdminPage
{
    public static function at(StandIn $standIn, Ipv4 $address, int $port): Behaviour
    {
        return new TcpServer($address, $port, static function (Socket $client) use ($standIn): void {
            $bytes = '';
            try {
                while (null === ($length = Request::length($bytes)) || \strlen($bytes) < $length) {
                    $more = $client->read();
                    if (null === $more) {
                        return;
                    }
                    $bytes .= $more;
                }
                $response = self::answer($standIn, Request::fromString($bytes));
            } catch (Unreadable) {
                $response = new Response(400);
            }
            $client->write((string) $response);
        });
    }

    private static function answer(StandIn $standIn, Request $request): Response
    {
        $state = $standIn->state;
        $title = '<title>'.$standIn->kind->name.'</title>';
        if ([$state->get('adminUser'), $state->get('adminPassword')] !== $request->login()) {
            return new Response(
                401,
                ['content-type' => 'text/html', 'www-authenticate' => 'Basic realm="'.$standIn->kind->name.'"'],
                $title.'<p>Log in.</p>',
            );
        }
        $admin = $standIn->kind->admin;
        $fields = $standIn->kind->adminFields();

        return match (true) {
            'GET' === $request->method && $request->path === $admin?->status => self::status($standIn, $fields),
            'POST' === $request->method && $request->path === $admin?->settings => self::taken($standIn, $fields, $request->body, $title),
            '/' === $request->path => self::form($standIn, $fields, $title.'<form method="post" action="'.($admin->settings ?? '/').'">'),
            default => new Response(404),
        };
    }

    /** @param array<string, string> $fields local name of a setting → the device's own name */
    private static function status(StandIn $standIn, array $fields): Response
    {
        $settings = $standIn->kind->locals();
        $shown = [];
        foreach ($fields as $local => $own) {
            // What was typed and not applied yet is what the page shows.
            $value = $standIn->state->saved[$local] ?? $standIn->state->get($local);
            $shown[$own] = $settings[$local]->type->typed($value);
        }
        $shown['inForce'] = $standIn->state->get('address');

        return new Response(200, ['content-type' => 'application/json'], (string) json_encode($shown));
    }

    /** @param array<string, string> $fields */
    private static function taken(StandIn $standIn, array $fields, string $body, string $title): Response
    {
        parse_str($body, $form);
        $settings = $standIn->kind->locals();
        foreach ($fields as $local => $own) {
            $value = $form[$own] ?? null;
            if (!\is_string($value) || $settings[$local]->found) {
                continue;
            }
            try {
                $standIn->configure($local, $settings[$local]->read($value));
            } catch (Malformed) {
                return new Response(422, ['content-type' => 'text/plain'], $own.' is not valid');
            }
        }
        if (\is_string($form['password'] ?? null) && '' !== $form['password']) {
            $standIn->configure('adminPassword', $form['password']);
        }
        $standIn->restartSoon();

        return new Response(200, ['content-type' => 'text/html'], $title.'<p>Saved. Restarting.</p>');
    }

    /** @param array<string, string> $fields */
    private static function form(StandIn $standIn, array $fields, string $head): Response
    {
        $inputs = '';
        foreach ($fields as $local => $own) {
            $inputs .= \sprintf(
                '<p><label>%s <input name="%s" value="%s"></label></p>',
                $own,
                $own,
                htmlspecialchars($standIn->state->get($local)),
            );
        }

        return new Response(200, ['content-type' => 'text/html'], $head.$inputs.'<button>Apply</button></form>');
    }
}
