<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Http\UploadedFile;
use ZapTrace\Memory\ReadingsFile;
use ZapTrace\Problems\InputRejected;

/**
 * A request that brings a file.
 */
class FileRequest extends FormRequest
{
    /**
     * @return array<string, mixed>
     */
    public function rules(): array
    {
        return [];
    }

    /**
     * The content of the file in this field.
     *
     * @throws InputRejected when it is missing, too large or was cut off on the way
     */
    public function content(string $field): string
    {
        return (string) file_get_contents($this->upload($field)->getPathname());
    }

    /**
     * @throws InputRejected
     */
    public function upload(string $field): UploadedFile
    {
        $file = $this->file($field);
        if (! $file instanceof UploadedFile) {
            throw InputRejected::of($field, 'Choose a file first.');
        }
        $name = $file->getClientOriginalName();
        if (in_array($file->getError(), [UPLOAD_ERR_INI_SIZE, UPLOAD_ERR_FORM_SIZE], true)) {
            throw InputRejected::of($name, 'The file is too large: at most '.(ReadingsFile::MAX_BYTES >> 20).' MiB are read. Nothing was stored.');
        }
        if (! $file->isValid()) {
            throw InputRejected::of($name, 'The file did not arrive whole. Nothing was stored; try again.');
        }
        ReadingsFile::refuseSize((int) $file->getSize(), $name);

        return $file;
    }
}
