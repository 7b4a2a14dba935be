<?php

declare(strict_types=1);

namespace ZapTrace\Parts\Logic;

/**
 * A Boolean expression over the levels of pins and over what a part keeps: ! & ^ | and a ? b : c, in this order of
 * binding.
 */
final readonly class Expression
{
    /**
     * @param  'name'|'constant'|'!'|'&'|'^'|'|'|'?'  $operator
     * @param  string  $name  of a pin, or of something kept
     * @param  list<self>  $operands
     */
    private function __construct(private string $operator, private string $name, private array $operands)
    {
    }

    /**
     * @throws LogicMistake with what is wrong in the text
     */
    public static function parse(string $text): self
    {
        if (preg_match_all('/\s*([A-Za-z0-9.\/]+|[!&^|?:()])/A', $text, $match) === false || implode('', $match[0]) !== rtrim($text)) {
            throw new LogicMistake("\"{$text}\" has something in it that is neither a pin nor one of ! & ^ | ? : ( ).");
        }
        $tokens = $match[1];
        $at = 0;
        $expression = self::choice($tokens, $at, $text);
        if ($at < count($tokens)) {
            throw new LogicMistake("\"{$tokens[$at]}\" in \"{$text}\" was not expected.");
        }

        return $expression;
    }

    /**
     * @param  array<string, int>  $levels  0 or 1 by name
     */
    public function value(array $levels): int
    {
        return match ($this->operator) {
            'constant' => (int) $this->name,
            'name' => $levels[$this->name],
            '!' => 1 - $this->operands[0]->value($levels),
            '&' => $this->operands[0]->value($levels) & $this->operands[1]->value($levels),
            '|' => $this->operands[0]->value($levels) | $this->operands[1]->value($levels),
            '^' => $this->operands[0]->value($levels) ^ $this->operands[1]->value($levels),
            '?' => $this->operands[$this->operands[0]->value($levels) === 1 ? 1 : 2]->value($levels),
        };
    }

    /**
     * @return list<string> each once, in order of the text
     */
    public function names(): array
    {
        if ($this->operator === 'name') {
            return [$this->name];
        }

        return array_values(array_unique(array_merge([], ...array_map(static fn (self $operand): array => $operand->names(), $this->operands))));
    }

    /**
     * @param  array<string, self>  $meanings  what stands for a name
     */
    public function with(array $meanings): self
    {
        return $this->operator === 'name' ? ($meanings[$this->name] ?? $this) : new self($this->operator, $this->name, array_map(static fn (self $operand): self => $operand->with($meanings), $this->operands));
    }

    /**
     * @param  list<string>  $tokens
     */
    private static function choice(array $tokens, int &$at, string $text): self
    {
        $condition = self::binary($tokens, $at, $text, ['|', '^', '&']);
        if (($tokens[$at] ?? '') !== '?') {
            return $condition;
        }
        $at++;
        $yes = self::choice($tokens, $at, $text);
        if (($tokens[$at++] ?? '') !== ':') {
            throw new LogicMistake("In \"{$text}\" there is a ? without its colon.");
        }

        return new self('?', '', [$condition, $yes, self::choice($tokens, $at, $text)]);
    }

    /**
     * @param  list<string>  $tokens
     * @param  list<string>  $operators  the loosest first
     */
    private static function binary(array $tokens, int &$at, string $text, array $operators): self
    {
        $operator = array_shift($operators);
        if ($operator === null) {
            return self::single($tokens, $at, $text);
        }
        $left = self::binary($tokens, $at, $text, $operators);
        while (($tokens[$at] ?? '') === $operator) {
            $at++;
            assert($operator === '|' || $operator === '^' || $operator === '&');
            $left = new self($operator, '', [$left, self::binary($tokens, $at, $text, $operators)]);
        }

        return $left;
    }

    /**
     * @param  list<string>  $tokens
     */
    private static function single(array $tokens, int &$at, string $text): self
    {
        $token = $tokens[$at++] ?? throw new LogicMistake("\"{$text}\" ends too early.");
        if ($token === '!') {
            return new self('!', '', [self::single($tokens, $at, $text)]);
        }
        if ($token === '(') {
            $inner = self::choice($tokens, $at, $text);
            if (($tokens[$at++] ?? '') !== ')') {
                throw new LogicMistake("In \"{$text}\" a bracket is not closed.");
            }

            return $inner;
        }
        if (preg_match('/^[A-Za-z0-9.\/]+$/', $token) !== 1) {
            throw new LogicMistake("\"{$token}\" in \"{$text}\" was not expected.");
        }

        return new self($token === '0' || $token === '1' ? 'constant' : 'name', $token, []);
    }
}
