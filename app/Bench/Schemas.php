<?php

declare(strict_types=1);

namespace App\Bench;

use LogicException;

/**
 * The JSON Schemas of resources/schemas, decoded once.
 */
final class Schemas
{
    /** @var array<string, object> */
    private array $schemas = [];

    /**
     * @param  string  $name  path below resources/schemas without its ending: "board", "observations/setting"
     */
    public function get(string $name): object
    {
        return $this->schemas[$name] ??= $this->read($name);
    }

    private function read(string $name): object
    {
        $schema = json_decode((string) file_get_contents(resource_path("schemas/{$name}.schema.json")), false, 64, JSON_THROW_ON_ERROR);

        return is_object($schema) ? $schema : throw new LogicException("resources/schemas/{$name}.schema.json holds no schema.");
    }
}
