<?php

declare(strict_types=1);

use Symfony\Component\HttpFoundation\Request;
use Vorhut\Kernel;

// PHP's own server hands every request over; files that are there it serves itself.
if ('cli-server' === \PHP_SAPI && is_file(__DIR__.parse_url((string) $_SERVER['REQUEST_URI'], \PHP_URL_PATH))) {
    return false;
}

require dirname(__DIR__).'/config/bootstrap.php';

$kernel = new Kernel($_SERVER['APP_ENV'], (bool) $_SERVER['APP_DEBUG']);
$request = Request::createFromGlobals();
$response = $kernel->handle($request);
$response->send();
$kernel->terminate($request, $response);
