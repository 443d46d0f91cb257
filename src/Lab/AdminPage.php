<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\Socket\Socket;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
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
        $truth = $standIn->truth;
        $title = '<title>'.$standIn->kind->name.'</title>';
        if ([$standIn->kind->loginUser, $truth->get('adminPassword')] !== $request->login()) {
            return new Response(401, ['content-type' => 'text/html', 'www-authenticate' => 'Basic realm="'.$standIn->kind->name.'"'], $title.'<p>Log in.</p>');
        }
        $admin = $standIn->kind->admin;
        $fields = $admin->fields ?? [];
        if ('GET' === $request->method && $request->path === $admin?->status) {
            $shown = ['firmware' => $truth->get('firmware')];
            foreach ($fields as $ours => $own) {
                // What was typed and not applied yet is what the page shows.
                $value = $truth->saved[$ours] ?? $truth->get($ours);
                $shown[$own] = 'mask' === $ours && '' !== $value ? Mask::fromString($value)->dotted() : $value;
            }
            $shown['inForce'] = $truth->get('address');

            return new Response(200, ['content-type' => 'application/json'], (string) json_encode($shown));
        }
        if ('POST' === $request->method && $request->path === $admin?->settings) {
            parse_str($request->body, $form);
            foreach ($fields as $ours => $own) {
                $value = $form[$own] ?? null;
                if (!\is_string($value)) {
                    continue;
                }
                $bad = match ($ours) {
                    'address' => null === Ipv4::tryFromString($value),
                    'gateway', 'dns' => '' !== $value && null === Ipv4::tryFromString($value),
                    'mask' => null === Mask::tryFromString($value),
                    default => false,
                };
                if ($bad) {
                    return new Response(422, ['content-type' => 'text/plain'], $own.' is not valid');
                }
                $standIn->configure($ours, 'mask' === $ours ? (string) Mask::fromString($value) : $value);
            }
            if (\is_string($form['password'] ?? null) && '' !== $form['password']) {
                $standIn->configure('adminPassword', $form['password']);
            }
            $standIn->restartSoon();

            return new Response(200, ['content-type' => 'text/html'], $title.'<p>Saved. Restarting.</p>');
        }
        if ('/' === $request->path) {
            $inputs = '';
            foreach ($fields as $ours => $own) {
                $inputs .= \sprintf('<p><label>%s <input name="%s" value="%s"></label></p>', $own, $own, htmlspecialchars($truth->get($ours)));
            }

            return new Response(200, ['content-type' => 'text/html'], $title.'<form method="post" action="'.($admin->settings ?? '/').'">'.$inputs.'<button>Apply</button></form>');
        }

        return new Response(404);
    }
}
