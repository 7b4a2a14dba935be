<?php

declare(strict_types=1);

/*
 * Stand-ins for symfony/polyfill-php85, which could not be installed when this was written.
 * Drop this folder when the packages named under "replace" in composer.json can be.
 */

if (! function_exists('array_first')) {
    /**
     * @param  array<array-key, mixed>  $array
     */
    function array_first(array $array): mixed
    {
        return $array === [] ? null : $array[array_key_first($array)];
    }
}

if (! function_exists('array_last')) {
    /**
     * @param  array<array-key, mixed>  $array
     */
    function array_last(array $array): mixed
    {
        return $array === [] ? null : $array[array_key_last($array)];
    }
}
