<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\Socket\Socket;
use Vorhut\Core\Catalogue\BodyShape;
use Vorhut\Core\Wire\Http\Body;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Socket\Background;

use function Amp\Socket\listen;

/**
 * The front panels of all stand-ins as pages on this machine only: `/JOB`, `/JOB/DEVICE`, and `/JOB/DEVICE.json` for programs. A form names
 * an action: `do` is power, put, reset, code or a stimulus, `with` and `value` are its parameters.
 */
final class PanelServer
{
    /**
     * @param \Closure(): array<string, Simulation> $jobs by slug
     *
     * @return \Closure(): void closes it
     */
    public static function open(int $port, \Closure $jobs): \Closure
    {
        $server = listen('127.0.0.1:'.$port);
        Background::run('front panels', static function () use ($server, $jobs, $port): void {
            while (null !== $client = $server->accept()) {
                Background::run('front panels', static function () use ($client, $jobs, $port): void {
                    try {
                        self::serve($client, $jobs(), $port);
                    } catch (\Amp\ByteStream\StreamException) {
                        // The other end went away.
                    } finally {
                        $client->close();
                    }
                });
            }
        });

        return $server->close(...);
    }

    /** @param array<string, Simulation> $jobs */
    private static function serve(Socket $client, array $jobs, int $port): void
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
            $response = self::answer(Request::fromString($bytes), $jobs, $port);
        } catch (ParseError) {
            $response = new Response(400);
        }
        $client->write((string) $response);
    }

    /** @param array<string, Simulation> $jobs */
    private static function answer(Request $request, array $jobs, int $port): Response
    {
        // Another site's page must not press keys here, nor read them by a name of its own.
        $here = ['127.0.0.1:'.$port, 'localhost:'.$port];
        if (!\in_array($request->headers['host'] ?? '', $here, true)) {
            return new Response(400);
        }
        [$slug, $name] = explode('/', trim(explode('?', $request->path)[0], '/'), 2) + [1 => ''];
        $job = $jobs[$slug] ?? null;
        if (null === $job) {
            return '' === $slug ? self::page('Lab', self::links('', array_keys($jobs))) : new Response(404);
        }
        $json = str_ends_with($name, '.json');
        $key = $json ? substr($name, 0, -5) : $name;
        $standIn = $job->standIn($key);
        if (null === $standIn) {
            return '' === $name ? self::page($slug, self::links('/'.$slug, array_keys($job->standIns()))) : new Response(404);
        }
        $panel = new FrontPanel($standIn);
        if ('POST' === $request->method) {
            $origin = $request->headers['origin'] ?? null;
            if (null !== $origin && !\in_array($origin, array_map(static fn (string $one): string => 'http://'.$one, $here), true)) {
                return new Response(400);
            }
            $said = self::does($panel, Body::read(BodyShape::Form, $request->body));

            return $json
                ? new Response(
                    null === $said ? 200 : 422,
                    ['content-type' => 'application/json'],
                    (string) json_encode(['said' => $said] + $panel->shows()),
                )
                : new Response(303, ['location' => "/$slug/$key?said=".rawurlencode($said ?? '')]);
        }

        return $json
            ? new Response(200, ['content-type' => 'application/json'], (string) json_encode($panel->shows()))
            : self::front($slug, $job->plan()->devices[$key]->tag, $panel->shows(), $request->path);
    }

    /**
     * @param array<string, string> $form
     *
     * @return string|null the reason for a failure, or the text shown
     */
    private static function does(FrontPanel $panel, array $form): ?string
    {
        $with = $form['with'] ?? '';
        $value = $form['value'] ?? '';
        $nothing = 'Nothing happens.';
        switch ($form['do'] ?? '') {
            case 'power':
                $panel->power('on' === $with);

                return null;
            case 'put':
                return $panel->put($with, $value);
            case 'reset':
                return $panel->reset() ? null : $nothing;
            case 'code':
                return $panel->code($with) ?? $nothing;
            default:
                $seconds = is_numeric($value) ? (float) $value : 0.0;

                return $panel->touch(new Stimulus($form['do'] ?? '', $with, $seconds)) ? null : $nothing;
        }
    }

    /** @param list<string> $names */
    private static function links(string $path, array $names): string
    {
        return '<ul>'.implode('', array_map(
            static fn (string $name): string => \sprintf('<li><a href="%s/%s">%s</a></li>', $path, rawurlencode($name), self::text($name)),
            $names,
        )).'</ul>';
    }

    /**
     * @param array{
     *     kind: string, label: array<string, string>, power: string, screen: list<string>, lamps: array<string, string>,
     *     dials: list<string>, held: array<string, string>, reset: string,
     * } $shows
     */
    private static function front(string $slug, string $tag, array $shows, string $path): Response
    {
        $said = 1 === preg_match('/[?&]said=([^&]*)/', $path, $found) ? rawurldecode($found[1]) : '';
        $action = self::text(explode('?', $path)[0]);
        $form = static fn (string $inner): string => '<form method="post" action="'.$action.'">'.$inner.'</form>';
        $html = '<p><a href="/'.rawurlencode($slug).'">'.self::text($slug).'</a></p><p class="faint">'.self::text($shows['kind']).'</p>'
            .('' === $said ? '' : '<p class="said">'.self::text($said).'</p>')
            .'<div class="screen">'.implode('<br>', array_map(self::text(...), $shows['screen'])).'</div>';
        foreach (['label' => $shows['label'], 'lamps' => $shows['lamps']] as $what => $lines) {
            $html .= '<h2>'.ucfirst($what).'</h2><dl>';
            foreach ($lines as $name => $value) {
                $html .= '<dt>'.self::text($name).'</dt><dd>'.self::text($value).'</dd>';
            }
            $html .= '</dl>';
        }
        $on = 'off' !== $shows['power'];
        $html .= '<h2>Power: '.$shows['power'].'</h2>'.$form('<input type="hidden" name="do" value="power"><button name="with" value="'
            .($on ? 'off' : 'on').'">'.($on ? 'Pull the plug' : 'Plug in').'</button>');
        if ('' !== $shows['reset']) {
            $html .= $form('<button name="do" value="reset">Hold '.self::text($shows['reset']).'</button>');
        }
        $html .= '<h2>Keys, sockets, codes</h2>'.$form(
            '<select name="do"><option>key</option><option>hold</option><option>plug</option><option>pull</option><option>code</option>'
            .'<option>licence</option><option>unlock</option></select> <input name="with" aria-label="which"> '
            .'<input name="value" aria-label="seconds" size="4"> <button>Do</button>',
        );
        $html .= '<h2>By hand</h2>';
        foreach ($shows['held'] as $local => $value) {
            $html .= $form(\sprintf(
                '<input type="hidden" name="do" value="put"><input type="hidden" name="with" value="%1$s"><label>%1$s%3$s '
                .'<input name="value" value="%2$s"></label> <button>Set</button>',
                self::text($local),
                self::text($value),
                \in_array($local, $shows['dials'], true) ? ' (dial)' : '',
            ));
        }

        return self::page($tag, $html);
    }

    private static function page(string $title, string $html): Response
    {
        $look = 'body{font:16px/1.5 sans-serif;max-width:44rem;margin:2rem auto;padding:0 1rem;background:#f4efe6;color:#2b2a27}'
            .'.screen{background:#1d2a2b;color:#d7f0dc;font:1.5rem/1.4 monospace;padding:1rem;min-height:3rem;border-radius:4px}'
            .'dl{display:grid;grid-template-columns:10rem 1fr}dd{margin:0}h2{font-size:1rem;margin:1.4rem 0 .3rem}.faint{color:#6b675e}'
            .'form{margin:.25rem 0}input,select,button{font:inherit;padding:.3rem .5rem}.said{background:#fff3c9;padding:.5rem}';

        return new Response(
            200,
            [
                'content-type' => 'text/html; charset=utf-8',
                'content-security-policy' => "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'",
            ],
            '<!doctype html><html lang="en"><meta name="viewport" content="width=device-width"><title>'.self::text($title).'</title><style>'
            .$look.'</style><h1>'.self::text($title).'</h1>'.$html.'</html>',
        );
    }

    private static function text(string $text): string
    {
        return htmlspecialchars($text, \ENT_QUOTES | \ENT_SUBSTITUTE, 'UTF-8');
    }
}
