<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

use Opis\JsonSchema\Errors\ValidationError;
use Opis\JsonSchema\Validator;
use ZapTrace\Problems\ProblemList;

/**
 * Checks a decoded JSON value against a schema and tells every problem by JSON pointer and sentence.
 *
 * This is the one place where the core uses a package: opis/json-schema, which has no framework.
 */
final class SchemaValidator
{
    /**
     * @param  object|bool  $schema  the decoded schema
     */
    public function validate(mixed $value, object|bool $schema, ProblemList $problems): void
    {
        $validator = new Validator(null, ProblemList::LIMIT, false);
        $error = $validator->validate($value, $schema)->error();
        if ($error !== null) {
            $this->gather($error, $problems);
        }
    }

    private function gather(ValidationError $error, ProblemList $problems): void
    {
        $inner = $error->subErrors();
        if ($inner !== []) {
            foreach ($inner as $cause) {
                if ($cause instanceof ValidationError) {
                    $this->gather($cause, $problems);
                }
            }

            return;
        }

        $unknown = $error->keyword() === 'additionalProperties' ? $this->unknownMembers($error) : [];
        if ($error->keyword() === 'additionalProperties' && $unknown === []) {
            return; // The validator also counts declared members that failed their own rule.
        }

        $path = '';
        foreach ($error->data()->fullPath() as $step) {
            $path .= '/'.str_replace(['~', '/'], ['~0', '~1'], (string) $step);
        }
        $args = $error->args();
        $found = $this->show($error->data()->value());
        $rule = $error->schema()->info()->data();
        $meaning = is_object($rule) && isset($rule->description) && is_string($rule->description) ? ' '.$rule->description : '';
        $allowed = is_object($rule) && isset($rule->enum) ? $this->words($rule->enum) : '';
        $problems->add($path === '' ? '/' : $path, match ($error->keyword()) {
            'required' => 'Missing: '.$this->words($args['missing'] ?? []).'.',
            'additionalProperties' => 'Not known here: '.$this->words($unknown).'. Check the spelling, or leave it out.',
            'type' => "Found {$found}, but ".$this->typeWords($args['expected'] ?? '').' is wanted here.',
            'enum' => "Found {$found}, but only {$allowed} can stand here.{$meaning}",
            'const' => 'Found '.$found.', but '.$this->show($args['const'] ?? null).' is wanted here.',
            'pattern' => "Found {$found}, which is not written in the form wanted here.".($meaning === '' ? ' The form is '.$this->show($args['pattern'] ?? '').'.' : $meaning),
            'minLength' => 'This text is empty.',
            'maxLength' => 'This text is too long: at most '.$this->show($args['max'] ?? null).' characters.',
            'minItems' => 'Too few entries: at least '.$this->show($args['min'] ?? null).' wanted.',
            'minimum', 'exclusiveMinimum' => "Found {$found}, which is too small: at least ".$this->show($args['min'] ?? 0).' wanted.',
            'maximum', 'exclusiveMaximum' => "Found {$found}, which is too large: at most ".$this->show($args['max'] ?? null).' wanted.',
            default => ucfirst($error->keyword()).' is not met here: found '.$found.'.',
        });
    }

    /**
     * @return list<string> the members that the schema does not declare
     */
    private function unknownMembers(ValidationError $error): array
    {
        $rule = $error->schema()->info()->data();
        $declared = is_object($rule) && isset($rule->properties) && is_object($rule->properties) ? get_object_vars($rule->properties) : [];
        $value = $error->data()->value();

        return is_object($value) ? array_map(strval(...), array_keys(array_diff_key(get_object_vars($value), $declared))) : [];
    }

    private function words(mixed $names): string
    {
        $names = is_array($names) ? $names : [$names];

        return implode(', ', array_map(fn (mixed $name): string => $this->show($name), $names));
    }

    private function typeWords(mixed $types): string
    {
        $words = ['string' => 'a text', 'integer' => 'a whole number', 'number' => 'a number', 'boolean' => 'true or false', 'array' => 'a list', 'object' => 'an object'];
        $types = is_array($types) ? $types : [$types];

        return implode(' or ', array_map(static fn (mixed $type): string => is_string($type) ? ($words[$type] ?? $type) : '?', $types));
    }

    private function show(mixed $value): string
    {
        return match (true) {
            is_array($value) => 'a list',
            is_object($value) => 'an object',
            $value === null => 'nothing',
            default => mb_strimwidth((string) json_encode($value, JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE), 0, 60, '…'),
        };
    }
}
