<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

use LogicException;

/**
 * A typed view of a decoded JSON value that a schema has already passed: reads members by name and type.
 *
 * A mismatch here is a mistake of ours (schema and reader disagree), never of the file, so it is a LogicException.
 */
final readonly class JsonNode
{
    private function __construct(private mixed $value, public string $pointer)
    {
    }

    public static function of(mixed $value): self
    {
        return new self($value, '');
    }

    /**
     * @throws \JsonException
     */
    public static function decode(string $json): self
    {
        return new self(json_decode($json, false, 512, JSON_THROW_ON_ERROR), '');
    }

    public function has(string $name): bool
    {
        return is_object($this->value) && property_exists($this->value, $name);
    }

    public function at(string $name): self
    {
        if (! is_object($this->value) || ! property_exists($this->value, $name)) {
            throw $this->mismatch("an object with \"{$name}\"");
        }

        return new self($this->value->{$name}, "{$this->pointer}/".self::escape($name));
    }

    /**
     * @return list<self> the elements of the array member, or none when it is left out
     */
    public function each(string $name): array
    {
        return $this->has($name) ? $this->at($name)->elements() : [];
    }

    /**
     * @return list<self>
     */
    public function elements(): array
    {
        if (! is_array($this->value)) {
            throw $this->mismatch('an array');
        }
        $elements = [];
        foreach (array_values($this->value) as $i => $element) {
            $elements[] = new self($element, "{$this->pointer}/{$i}");
        }

        return $elements;
    }

    /**
     * @return array<string, self> the members of the object member, or none when it is left out
     */
    public function members(string $name): array
    {
        if (! $this->has($name)) {
            return [];
        }
        $node = $this->at($name);
        if (! is_object($node->value)) {
            throw $node->mismatch('an object');
        }
        $members = [];
        foreach (get_object_vars($node->value) as $key => $value) {
            $members[(string) $key] = new self($value, "{$node->pointer}/".self::escape((string) $key));
        }

        return $members;
    }

    /**
     * @return list<string>
     */
    public function strings(string $name): array
    {
        return array_map(static fn (self $node): string => $node->asString(), $this->each($name));
    }

    public function string(string $name, ?string $default = null): string
    {
        return $default !== null && ! $this->has($name) ? $default : $this->at($name)->asString();
    }

    public function integer(string $name, ?int $default = null): int
    {
        return $default !== null && ! $this->has($name) ? $default : $this->at($name)->asInteger();
    }

    public function number(string $name, ?float $default = null): float
    {
        return $default !== null && ! $this->has($name) ? $default : $this->at($name)->asNumber();
    }

    public function boolean(string $name, bool $default): bool
    {
        if (! $this->has($name)) {
            return $default;
        }
        $value = $this->at($name)->value;

        return is_bool($value) ? $value : throw $this->mismatch('true or false');
    }

    /**
     * An address or mask written as "0xC000".
     */
    public function address(string $name, ?int $default = null): int
    {
        return $default !== null && ! $this->has($name) ? $default : (int) hexdec(substr($this->string($name), 2));
    }

    public function asString(): string
    {
        return is_string($this->value) ? $this->value : throw $this->mismatch('a text');
    }

    public function asInteger(): int
    {
        return is_int($this->value) ? $this->value : throw $this->mismatch('a whole number');
    }

    public function asNumber(): float
    {
        return is_int($this->value) || is_float($this->value) ? (float) $this->value : throw $this->mismatch('a number');
    }

    public function raw(): mixed
    {
        return $this->value;
    }

    private function mismatch(string $wanted): LogicException
    {
        return new LogicException("Expected {$wanted} at {$this->pointer}: the schema should have refused this.");
    }

    private static function escape(string $name): string
    {
        return str_replace(['~', '/'], ['~0', '~1'], $name);
    }
}
