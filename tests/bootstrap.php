<?php

declare(strict_types=1);

putenv('APP_ENV=test');
putenv('APP_DEBUG=0');
require dirname(__DIR__).'/config/bootstrap.php';
