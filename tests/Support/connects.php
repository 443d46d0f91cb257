<?php

declare(strict_types=1);

/*
 * Runs inside a namespace, without the project: connects to all addresses at once and prints who answered with which name.
 *   php connects.php SECONDS '{"name": "tcp://10.0.0.1:80", …}'
 */
$until = microtime(true) + (float) $argv[1];
$answers = [];
$open = [];
foreach ((array) json_decode($argv[2], true) as $name => $destination) {
    $answers[$name] = '';
    $socket = !is_string($destination)
        ? false
        : @stream_socket_client($destination, $errno, $error, 0, \STREAM_CLIENT_CONNECT | \STREAM_CLIENT_ASYNC_CONNECT);
    if (false !== $socket) {
        stream_set_blocking($socket, false);
        $open[$name] = $socket;
    }
}
while ([] !== $open && ($left = $until - microtime(true)) > 0) {
    $readable = $open;
    $none = null;
    if (0 < (int) @stream_select($readable, $none, $none, 0, (int) min(200_000, $left * 1_000_000))) {
        foreach ($readable as $name => $socket) {
            $answers[$name] = (string) @fread($socket, 64);
            unset($open[$name]);
        }
    }
}
echo json_encode($answers);
