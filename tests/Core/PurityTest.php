<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\TestCase;
use RecursiveDirectoryIterator;
use RecursiveIteratorIterator;
use SplFileInfo;

final class PurityTest extends TestCase
{
    /** The core stands alone: no framework, no application, no clock, no randomness, no files. */
    public function test_the_core_leans_on_nothing_outside_itself(): void
    {
        $forbidden = '/Illuminate|\bLaravel\b|\buse App\\\\|\b(?:app|config|now|collect|request|resolve|env|base_path|resource_path)\s*\(|\b(?:time|microtime|date|rand|mt_rand|random_int|random_bytes|uniqid|file_get_contents|fopen|file_put_contents)\s*\(|new DateTime|new Randomizer\(\)|new Secure/';
        $found = [];
        $packages = [];
        foreach ($this->sources() as $path => $source) {
            foreach (explode("\n", $source) as $number => $line) {
                if (preg_match($forbidden, $line) === 1 && ! str_starts_with(ltrim($line), '*')) {
                    $found[] = "{$path}:".($number + 1).": {$line}";
                }
                if (preg_match('/^use (?!ZapTrace\\\\|Random\\\\)([A-Z]\w*)\\\\/', $line, $match) === 1) {
                    $packages["{$match[1]} in {$path}"] = true;
                }
            }
        }

        self::assertSame([], $found);
        self::assertSame(['Opis in Formats/SchemaValidator.php'], array_keys($packages));
    }

    /**
     * @return array<string, string>
     */
    private function sources(): array
    {
        $root = dirname(__DIR__, 2).'/core';
        $sources = [];
        foreach (new RecursiveIteratorIterator(new RecursiveDirectoryIterator($root, RecursiveDirectoryIterator::SKIP_DOTS)) as $file) {
            if ($file instanceof SplFileInfo && $file->getExtension() === 'php') {
                $sources[substr($file->getPathname(), strlen($root) + 1)] = (string) file_get_contents($file->getPathname());
            }
        }
        self::assertGreaterThan(20, count($sources));

        return $sources;
    }
}
