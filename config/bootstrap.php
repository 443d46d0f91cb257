<?php

declare(strict_types=1);

/*
 * One start for page, console and tests: the environment comes from the process, and where it is silent from the files that set-up wrote
 * under var/.
 */

use Symfony\Component\Dotenv\Dotenv;

require dirname(__DIR__).'/vendor/autoload.php';

$_SERVER['APP_ENV'] = $_ENV['APP_ENV'] = getenv('APP_ENV') ?: 'prod';
$_SERVER['APP_DEBUG'] = $_ENV['APP_DEBUG'] = getenv('APP_DEBUG') ?: '0';
$ground = getenv('VORHUT_STATE_DIR') ?: dirname(__DIR__).'/var/'.('prod' === $_SERVER['APP_ENV'] ? 'demo' : 'test');
$basis = $ground.'/env';
$defaults = [
    // Set-up writes one under var/; without it every process has its own, and nothing that one signed holds in another.
    'APP_SECRET' => bin2hex(random_bytes(16)),
    'DATABASE_URL' => 'mysql://nobody@127.0.0.1:1/none',
    'VORHUT_KEY_FILE' => dirname(__DIR__).'/var/key',
    'VORHUT_OUTPOST' => 'lab',
    // A folder with kinds, settings and agreements of one's own.
    'VORHUT_LIBRARY' => '',
    'VORHUT_LAB_PORT' => '8420',
    'VORHUT_LAB_SHIFT' => '0',
    'VORHUT_URL' => 'http://127.0.0.1:8400',
    // Where phones fetch over HTTPS; port 443 is mostly taken by the web server.
    'VORHUT_FILES' => '0.0.0.0:8443',
    // A changed style or script has another name, so that no browser shows the old one.
    'ASSETS_VERSION' => (string) max(array_map(filemtime(...), glob(dirname(__DIR__).'/assets/*') ?: [__FILE__])),
];
if (is_file($basis)) {
    $defaults = (new Dotenv())->parse((string) file_get_contents($basis)) + $defaults;
}
foreach ($defaults as $name => $value) {
    if (false === getenv($name)) {
        $_SERVER[$name] = $_ENV[$name] = $value;
    }
}
