<?php

declare(strict_types=1);

/*
 * Symfony 7.4 calls one function of PHP 8.5 and its polyfill package is not to be had everywhere: this is that function.
 */
if (!function_exists('get_error_handler')) {
    function get_error_handler(): ?callable
    {
        $handler = set_error_handler(null);
        restore_error_handler();

        return $handler;
    }
}
