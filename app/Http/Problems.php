<?php

declare(strict_types=1);

namespace App\Http;

use Illuminate\Database\Eloquent\ModelNotFoundException;
use Illuminate\Http\Exceptions\PostTooLargeException;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Validation\ValidationException;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;
use Throwable;
use ZapTrace\Memory\ReadingsFile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\Problem;

/**
 * Everything that can go wrong with a request, as sentences: {"problems": [{"place", "sentence"}]}. Never a trace.
 */
final class Problems
{
    public static function render(Throwable $reason, Request $request): JsonResponse|Response
    {
        [$status, $problems] = match (true) {
            $reason instanceof InputRejected => [422, $reason->problems],
            $reason instanceof ValidationException => [422, self::fromValidation($reason)],
            $reason instanceof PostTooLargeException => [413, [new Problem('file', 'What was sent is too large: one file may have '.(ReadingsFile::MAX_BYTES >> 20).' MiB at most. Nothing was stored.')]],
            $reason instanceof ModelNotFoundException || $reason->getPrevious() instanceof ModelNotFoundException => [404, [new Problem('', 'There is no such job, board or observation. It may have been on another bench; go back to the list.')]],
            $reason instanceof HttpExceptionInterface => [$reason->getStatusCode(), [new Problem('', match ($reason->getStatusCode()) {
                401, 403 => $reason->getMessage() ?: 'This is not allowed from here.',
                404 => 'There is nothing at this address.',
                405 => 'This address does not take that kind of request.',
                default => 'The request could not be carried out.',
            })]],
            default => [500, [new Problem('', 'Something went wrong inside Zap Trace, and nothing was stored. Try again; if it comes back, the reason is in storage/logs.')]],
        };

        if (! $request->is('api/*')) {
            return response(e($problems[0]->sentence), $status)->header('Content-Type', 'text/plain; charset=utf-8');
        }

        return response()->json(['problems' => array_map(
            static fn (Problem $problem): array => ['place' => $problem->place, 'sentence' => $problem->sentence],
            $problems,
        )], $status);
    }

    /**
     * @return list<Problem>
     */
    private static function fromValidation(ValidationException $reason): array
    {
        $problems = [];
        foreach ($reason->errors() as $field => $sentences) {
            foreach ($sentences as $sentence) {
                $problems[] = new Problem((string) $field, is_string($sentence) ? $sentence : 'This is not right.');
            }
        }

        return $problems;
    }
}
