<?php

declare(strict_types=1);

return (new PhpCsFixer\Config())
    ->setRiskyAllowed(true)
    ->setRules([
        '@Symfony' => true,
        '@Symfony:risky' => true,
        '@PHP82Migration' => true,
        'declare_strict_types' => true,
        'single_quote' => true,
        'phpdoc_to_comment' => false,
        'phpdoc_align' => false,
        'phpdoc_separation' => false,
        'phpdoc_summary' => false,
        'native_function_invocation' => ['include' => ['@compiler_optimized'], 'scope' => 'namespaced', 'strict' => false],
        'native_constant_invocation' => true,
        'single_line_throw' => false,
        'concat_space' => ['spacing' => 'none'],
    ])
    ->setCacheFile(__DIR__.'/var/cache/php-cs-fixer.json')
    ->setFinder(
        (new PhpCsFixer\Finder())->in([
            __DIR__.'/src',
            __DIR__.'/tests',
            __DIR__.'/config',
            __DIR__.'/migrations',
            __DIR__.'/public',
        ])->append([__DIR__.'/bin/console']),
    );
