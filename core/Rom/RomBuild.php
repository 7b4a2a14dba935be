<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

use ZapTrace\Problems\InputRejected;

/**
 * Makes an image for a chip out of others.
 */
final readonly class RomBuild
{
    /**
     * Repeats an image until a chip is full, so that it reads the same whatever the spare address lines do.
     */
    public static function repeat(RomImage $image, int $size): RomImage
    {
        self::refuseSmaller($image, $size);
        if ($size % $image->size() !== 0) {
            throw InputRejected::of('size', sprintf('%d bytes do not hold %d a whole number of times. Pad the image to a power of two first.', $size, $image->size()));
        }

        return RomImage::of(str_repeat($image->bytes, intdiv($size, $image->size())), $image->name);
    }

    /**
     * @param  int  $fill  byte that fills the rest
     */
    public static function pad(RomImage $image, int $size, int $fill = 0xFF): RomImage
    {
        self::refuseSmaller($image, $size);

        return RomImage::of(str_pad($image->bytes, $size, chr($fill & 0xFF)), $image->name);
    }

    /**
     * @return array{RomImage, RomImage} the even bytes and the odd ones
     */
    public static function split(RomImage $image): array
    {
        if ($image->size() % 2 !== 0) {
            throw InputRejected::of($image->name, "The image has {$image->size()} bytes, an odd number: it cannot be split in two halves of one size.");
        }
        $words = str_split($image->bytes, 2);

        return [
            RomImage::of(implode('', array_map(static fn (string $word): string => $word[0], $words)), "{$image->name} even"),
            RomImage::of(implode('', array_map(static fn (string $word): string => $word[1], $words)), "{$image->name} odd"),
        ];
    }

    public static function interleave(RomImage $even, RomImage $odd): RomImage
    {
        if ($even->size() !== $odd->size()) {
            throw InputRejected::of($odd->name, "Interleaving wants two images of one size; these have {$even->size()} and {$odd->size()} bytes.");
        }

        return RomImage::of(implode('', array_map(static fn (string $a, string $b): string => $a.$b, str_split($even->bytes), str_split($odd->bytes))), $even->name);
    }

    /** Bytes of each pair change places. */
    public static function swap(RomImage $image): RomImage
    {
        [$even, $odd] = self::split($image);

        return RomImage::of(self::interleave($odd, $even)->bytes, $image->name);
    }

    public static function cut(RomImage $image, int $from, int $length): RomImage
    {
        if ($from < 0 || $length < 1 || $from + $length > $image->size()) {
            throw InputRejected::of('cut', sprintf('From %X on %d bytes is not within the image: it has %d, 0 to %X.', $from, $length, $image->size(), $image->size() - 1));
        }

        return RomImage::of(substr($image->bytes, $from, $length), $image->name);
    }

    /**
     * @param  non-empty-list<RomImage>  $banks  the lowest first
     */
    public static function concatenate(array $banks): RomImage
    {
        return RomImage::of(implode('', array_map(static fn (RomImage $bank): string => $bank->bytes, $banks)), $banks[0]->name);
    }

    /**
     * Sets one byte so that the sum of all of them is what it has to be.
     *
     * @param  int  $at  the byte that may be changed
     */
    public static function correct(RomImage $image, int $at, int $sum, ChecksumKind $kind = ChecksumKind::Sum8): RomImage
    {
        if ($at < 0 || $at >= $image->size()) {
            throw InputRejected::of('at', sprintf('There is no byte %X: the image ends at %X.', $at, $image->size() - 1));
        }
        if ($kind->width() !== 1) {
            throw InputRejected::of('kind', 'One byte can correct an 8-bit sum or exclusive-or only.');
        }
        $bytes = $image->bytes;
        $bytes[$at] = "\0";
        $without = $kind->of($bytes);
        $bytes[$at] = chr(($kind === ChecksumKind::Xor8 ? $sum ^ $without : $sum - $without) & 0xFF);

        return RomImage::of($bytes, $image->name);
    }

    private static function refuseSmaller(RomImage $image, int $size): void
    {
        if ($size < $image->size()) {
            throw InputRejected::of('size', "The chip has {$size} bytes and the image {$image->size()}: cut it first.");
        }
        if ($size > RomImage::MAX_BYTES) {
            throw InputRejected::of('size', sprintf('At most %d MiB are built.', RomImage::MAX_BYTES >> 20));
        }
    }
}
