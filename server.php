<?php

declare(strict_types=1);

/*
 * Router of PHP's own server: files of public/ as they are, everything else to the application.
 */
$path = urldecode((string) parse_url((string) $_SERVER['REQUEST_URI'], PHP_URL_PATH));

if ($path !== '/' && ! str_contains($path, '..') && is_file(__DIR__.'/public'.$path) && ! str_ends_with($path, '.php')) {
    return false;
}

require __DIR__.'/public/index.php';
