<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\Bus;
use ZapTrace\Formats\MemoryImage;
use ZapTrace\Problems\InputRejected;

/**
 * What a dump is compared with: a fill value, an alternating pattern, each address as data, or a second image.
 */
final readonly class Expectation
{
    /**
     * @param  'pattern'|'address'|'image'  $kind
     * @param  string  $pattern  bytes that repeat from address 0 on, for a fill or an alternation
     * @param  int  $shift  for addresses as data: 0 the low byte, 8 the next
     */
    private function __construct(
        private string $kind,
        private string $pattern,
        private int $shift,
        private ?MemoryImage $image,
        public string $words,
    ) {
    }

    /**
     * Reads the short form: "fill:00", "alternate:55AA", "address", "address:high". Values are hexadecimal.
     *
     * @throws InputRejected
     */
    public static function parse(string $text): self
    {
        $text = trim($text);
        if (preg_match('/^(fill|alternate):(?:0x|\$)?([0-9A-Fa-f]+)$/i', $text, $match) === 1) {
            $bytes = strlen($match[2]) % 2 === 0 ? (string) hex2bin($match[2]) : (strlen($match[2]) === 1 ? (string) hex2bin('0'.$match[2]) : '');
            $fill = strtolower($match[1]) === 'fill';
            if ($bytes === '' || strlen($bytes) > 8 || (! $fill && strlen($bytes) < 2)) {
                throw InputRejected::of('expect', $fill
                    ? "\"{$text}\" is no fill: one byte is wanted, such as fill:00, or the bytes of a word, such as fill:A5A5."
                    : "\"{$text}\" does not alternate: two or more bytes are wanted, such as alternate:55AA.");
            }

            return self::repeating($bytes);
        }

        return match (strtolower($text)) {
            'address', 'address:low' => self::address(),
            'address:high' => self::address(8),
            default => throw InputRejected::of('expect', "\"{$text}\" is not a known comparison. Use fill:00, alternate:55AA, address, address:high, or a file."),
        };
    }

    /**
     * @param  non-empty-string  $bytes  laid from address 0 on
     */
    public static function repeating(string $bytes): self
    {
        $shown = strtoupper(bin2hex($bytes));

        return new self('pattern', $bytes, 0, null, strlen($bytes) === 1 ? "fill {$shown}" : "alternating {$shown}");
    }

    /** Each location holds its own address: on an 8-bit bus one byte of it, on a wider bus as much as a word takes. */
    public static function address(int $shift = 0): self
    {
        return new self('address', '', $shift, null, $shift === 0 ? 'address as data' : 'high byte of the address as data');
    }

    public static function image(MemoryImage $image, string $name): self
    {
        return new self('image', '', 0, $image, "second file {$name}");
    }

    /**
     * Lays a dump against the expectation.
     *
     * @return list<array{int, string, string}> first address, bytes expected, bytes read
     *
     * @throws InputRejected when a second image shares no address with the dump
     */
    public function against(MemoryImage $dump, Bus $bus): array
    {
        $stretches = [];
        foreach ($dump->segments as $from => $bytes) {
            if ($this->kind !== 'image') {
                $stretches[] = [$from, $this->expectedAt($from, strlen($bytes), $bus), $bytes];

                continue;
            }
            foreach ($this->image->segments ?? [] as $start => $expected) {
                $first = max($from, $start);
                $length = min($from + strlen($bytes), $start + strlen($expected)) - $first;
                if ($length > 0) {
                    $stretches[] = [$first, substr($expected, $first - $start, $length), substr($bytes, $first - $from, $length)];
                }
            }
        }
        if ($stretches === []) {
            throw InputRejected::of('expect', sprintf(
                'The two files share no address: the dump runs from %04X to %04X, the second file from %04X to %04X.',
                $dump->firstAddress(), $dump->lastAddress(), $this->image?->firstAddress() ?? 0, $this->image?->lastAddress() ?? 0,
            ));
        }

        return $stretches;
    }

    private function expectedAt(int $from, int $length, Bus $bus): string
    {
        if ($this->kind === 'pattern') {
            $phase = $from % strlen($this->pattern);

            return substr(str_repeat($this->pattern, intdiv($length + $phase, strlen($this->pattern)) + 1), $phase, $length);
        }
        $expected = '';
        for ($page = $from & ~0xFF; $page < $from + $length; $page += 0x100) {
            $expected .= $this->page($page, $bus);
        }

        return substr($expected, $from & 0xFF, $length);
    }

    /**
     * Addresses as data for the 256 bytes from here on.
     */
    private function page(int $page, Bus $bus): string
    {
        $step = $bus->lanes();
        if ($step === 1) {
            return $this->shift === 0 ? pack('C*', ...range(0, 0xFF)) : str_repeat(chr(($page >> $this->shift) & 0xFF), 0x100);
        }
        $words = range($page, $page + 0x100 - $step, $step);
        if ($this->shift !== 0) {
            $words = array_map(fn (int $address): int => $address >> $this->shift, $words);
        }

        return pack($step === 2 ? ($bus->bigEndian ? 'n*' : 'v*') : ($bus->bigEndian ? 'N*' : 'V*'), ...$words);
    }
}
