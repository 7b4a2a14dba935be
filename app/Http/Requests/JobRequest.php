<?php

declare(strict_types=1);

namespace App\Http\Requests;

use App\Bench\BoardShelf;
use Closure;
use Illuminate\Foundation\Http\FormRequest;
use ZapTrace\Record\JobState;

/**
 * The head of a job: its machine, board, symptom, number base and state.
 */
final class JobRequest extends FormRequest
{
    /**
     * @return array<string, mixed>
     */
    public function rules(BoardShelf $boards): array
    {
        $new = $this->isMethod('POST');

        return [
            'machine' => [$new ? 'required' : 'sometimes', 'string', 'max:80'],
            'board' => [$new ? 'required' : 'prohibited', 'string', static function (string $field, mixed $value, Closure $fail) use ($boards): void {
                if (! is_string($value) || ! $boards->has($value)) {
                    $fail('There is no such board profile. Choose one from the list, or import one.');
                }
            }],
            'symptom' => ['sometimes', 'nullable', 'string', 'max:2000'],
            'radix' => ['sometimes', 'in:8,10,16'],
            'fitted' => ['sometimes', 'nullable', 'string', 'max:2000'],
            'acknowledge' => ['sometimes', 'string', 'max:40'],
            'timer' => ['sometimes', 'nullable', 'array'],
            'timer.what' => ['required_with:timer', 'string', 'max:120'],
            'timer.minutes' => ['required_with:timer', 'numeric', 'min:1', 'max:10080'],
            'seen' => ['sometimes', 'array'],
            'state' => [$new ? 'prohibited' : 'sometimes', 'in:'.implode(',', array_column(JobState::cases(), 'value'))],
        ];
    }

    /**
     * @return array<string, string>
     */
    public function messages(): array
    {
        return [
            'machine.required' => 'Give the machine a name, so that you find it again.',
            'machine.max' => 'The name of the machine is too long: at most 80 characters.',
            'board.required' => 'Choose the board profile of the machine.',
            'board.prohibited' => 'The board of a job cannot be changed; open a new job.',
            'symptom.max' => 'The symptom is too long: at most 2000 characters.',
            'radix.in' => 'The number base is 8, 10 or 16.',
            'state.in' => 'A job is open, repaired, waiting for parts, parked or given up; or no fault was found, or it was cured without knowing why.',
            'fitted.max' => 'What is fitted is too long: at most 2000 characters.',
            'timer.minutes.*' => 'A long run takes between 1 minute and a week.',
            'timer.what.*' => 'What is running? Say it in a few words.',
            'string' => 'A text is wanted here.',
        ];
    }
}
