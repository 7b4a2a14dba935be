<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\Job;
use App\Models\Observation;
use Illuminate\Support\Facades\DB;
use ZapTrace\Problems\InputRejected;

/**
 * Takes photographs in: turned upright, made smaller, and written anew, so that nothing of where and when they were
 * taken is kept.
 */
final readonly class Photographs
{
    /** Longest side that is kept, in pixels. */
    private const LONGEST = 1600;

    /** A picture that would take more memory than this to open is refused, in pixels. */
    private const MOST_PIXELS = 50_000_000;

    private const QUALITY = 85;

    public function __construct(private FileStore $files, private Recorder $recorder)
    {
    }

    /**
     * @throws InputRejected when it is no picture that can be read
     */
    public function add(Job $job, string $path, string $name, string $caption): Observation
    {
        $size = @getimagesize($path);
        if ($size === false || ! in_array($size[2], [IMAGETYPE_JPEG, IMAGETYPE_PNG, IMAGETYPE_WEBP, IMAGETYPE_GIF], true)) {
            throw InputRejected::of($name, 'This is not a picture that can be read here. Take a JPEG, PNG, WebP or GIF file.');
        }
        if ($size[0] * $size[1] > self::MOST_PIXELS) {
            throw InputRejected::of($name, sprintf('The picture has %d x %d pixels; at most %d million are read. Make it smaller first.', $size[0], $size[1], intdiv(self::MOST_PIXELS, 1_000_000)));
        }
        ini_set('memory_limit', '768M');
        $picture = @imagecreatefromstring((string) file_get_contents($path));
        if ($picture === false) {
            throw InputRejected::of($name, 'The picture is damaged: it cannot be opened.');
        }
        $turn = $size[2] === IMAGETYPE_JPEG ? $this->turn($path) : 0;
        if ($turn !== 0) {
            $turned = imagerotate($picture, $turn, 0);
            $picture = $turned === false ? $picture : $turned;
        }
        $longest = max(imagesx($picture), imagesy($picture));
        if ($longest > self::LONGEST) {
            $smaller = imagescale($picture, max(1, intdiv(imagesx($picture) * self::LONGEST, $longest)), max(1, intdiv(imagesy($picture) * self::LONGEST, $longest)), IMG_BICUBIC);
            $picture = $smaller === false ? $picture : $smaller;
        }
        // Transparent pictures get a white ground: JPEG has none.
        $sheet = imagecreatetruecolor(imagesx($picture), imagesy($picture));
        imagefill($sheet, 0, 0, (int) imagecolorallocate($sheet, 255, 255, 255));
        imagecopy($sheet, $picture, 0, 0, 0, 0, imagesx($picture), imagesy($picture));
        ob_start();
        imagejpeg($sheet, null, self::QUALITY);
        $bytes = (string) ob_get_clean();

        return DB::transaction(fn (): Observation => $this->recorder->record($job, 'photo', (object) [
            'sha1' => $this->files->put($bytes), 'width' => imagesx($sheet), 'height' => imagesy($sheet),
            ...(trim($caption) === '' ? [] : ['caption' => mb_substr(trim($caption), 0, 300)]),
        ]));
    }

    /** Degrees against the clock that turn a camera's picture upright. */
    private function turn(string $path): int
    {
        $exif = function_exists('exif_read_data') ? @exif_read_data($path) : false;
        $orientation = is_array($exif) ? ($exif['Orientation'] ?? 1) : 1;

        return match ($orientation) {
            3 => 180,
            6 => -90,
            8 => 90,
            default => 0,
        };
    }
}
