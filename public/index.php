<?php

declare(strict_types=1);

use Symfony\Component\HttpFoundation\Request;
use Vorhut\Kernel;
use Vorhut\Provisioning\FastPathEntry;

header_remove('X-Powered-By');

// PHP's own server hands every request over; files that are there it serves itself.
if (
    'cli-server' === \PHP_SAPI
    && is_file(__DIR__.strtok(is_string($_SERVER['REQUEST_URI'] ?? null) ? $_SERVER['REQUEST_URI'] : '/', '?'))
) {
    return false;
}

// A request builds trees of values and ends: looking for circles in them would be half of its time.
gc_disable();
require dirname(__DIR__).'/config/bootstrap.php';

// Phones that start by the hundred are served before the house is opened, as far as that is plain.
if (is_string($_SERVER['REQUEST_URI'] ?? null) && str_starts_with($_SERVER['REQUEST_URI'], '/p/') && FastPathEntry::serves($_SERVER)) {
    return;
}

$kernel = new Kernel(is_string($_SERVER['APP_ENV']) ? $_SERVER['APP_ENV'] : 'prod', (bool) $_SERVER['APP_DEBUG']);
$request = Request::createFromGlobals();
$response = $kernel->handle($request);
$response->send();
$kernel->terminate($request, $response);
