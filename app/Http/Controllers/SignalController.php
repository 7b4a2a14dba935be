<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\Prober;
use App\Http\Resources\SignalView;
use App\Models\Job;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Signals\Situation;

/**
 * What the probing instrument shows: pins with what they should be and what was seen, the way of a signal, a select
 * check, the clocks, and the continuity of a trace.
 */
final readonly class SignalController
{
    public function __construct(private BoardShelf $boards, private Assessor $assessor, private Prober $prober)
    {
    }

    public function show(Request $request, Job $job): JsonResponse
    {
        $board = $this->boards->find($job->board_slug);
        $assessment = $this->assessor->assess($job);
        $asked = $request->string('situation')->toString();
        $situation = $asked === '' ? SignalView::lastSituation($assessment) : Situation::tryFrom($asked) ?? throw InputRejected::of('situation', 'A situation is reset, free-run, running or as-found.');
        $chip = $board->findChip($request->string('chip')->toString());
        $net = $request->string('net')->toString();
        if ($net !== '' && $board->netlist->find($net) === null) {
            throw InputRejected::of('net', "{$board->name} has no net \"{$net}\".");
        }

        // The trace that is suspected most is followed without being asked for.
        $followed = $net === '' ? $assessment->conclusion->leadingTrace() : $board->netlist->find($net);

        return response()->json(['signals' => SignalView::of($assessment, $board, $situation, $this->prober->expected($board, $assessment->now, $situation), $chip, $followed)]);
    }

    public function select(Request $request, Job $job): JsonResponse
    {
        $board = $this->boards->find($job->board_slug);
        $chip = $board->findChip($request->string('chip')->toString());
        if ($chip === null) {
            throw InputRejected::of('chip', "There is no {$request->string('chip')} on {$board->name}.");
        }
        try {
            $address = Notation::parse($request->string('address')->toString(), Radix::from($job->radix));
        } catch (UnreadableNumber $reason) {
            throw InputRejected::of('address', 'Address: '.$reason->getMessage());
        }
        $assessment = $this->assessor->assess($job);
        $check = SignalView::select($assessment, $board, $chip->ref, $address, Radix::from($job->radix));
        if ($check === null) {
            throw InputRejected::of('chip', "{$chip->ref} is a {$chip->part}; it has no select on a net that the profile knows.");
        }

        return response()->json(['select' => $check]);
    }
}
