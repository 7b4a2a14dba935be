import { useState } from 'react';
import { BoardPlan } from '../board/BoardPlan';
import type { Board, Job, ReadingRow } from '../api/schemas';
import { Button } from '../ui';
import { count, grouped } from '../ui/numbers';
import { AddressRuler } from './AddressRuler';
import { BitComb } from './BitComb';
import { Entry } from './Entry';
import { ReadingsTable } from './ReadingsTable';

/** Stage 7: what the machine's memory returned, and which chips that speaks of. */
export default function MemoryStage({ job, board }: { job: Job; board: Board }) {
    const { memory } = job;
    const [chosen, setChosen] = useState<ReadingRow | null>(null);
    const [underside, setUnderside] = useState(false);
    const row = memory.table.rows.find((candidate) => sameRow(candidate, chosen)) ?? memory.table.rows[0] ?? null;
    const cleared = new Set(job.memory.clearedChips);

    return (
        <div className="flex flex-col gap-4">
            <header className="flex flex-wrap items-baseline gap-x-3">
                <h2 className="text-[22px]">Memory</h2>
                <p className="text-soft" data-testid="counts">
                    {count(memory.readings, 'reading', 'readings')}, {grouped(memory.failed)} failed
                    {memory.outside > 0 && `, ${memory.outside} where no bank answers`}
                </p>
            </header>
            {memory.beforeTheParts && (
                <p className="border-l-4 border-ochre pl-3 text-sm">
                    <b className="text-ochre">These readings were made before the last part was changed.</b> Read again to see how memory
                    stands now.
                </p>
            )}
            <Entry key={job.id} job={job} board={board} open={memory.readings === 0} />
            {memory.readings === 0 ? (
                <Empty hasScreen={board.screen !== null} />
            ) : (
                <>
                    <Findings job={job} />
                    <BitComb banks={memory.banks} width={board.dataWidth} reading={row} />
                </>
            )}
            <AddressRuler ruler={memory.ruler} radix={job.radix} addressWidth={board.addressWidth} />
            <div className="grid gap-5 min-[1500px]:grid-cols-[1fr_2fr]">
                {memory.readings > 0 && (
                    <div className="order-2 min-[1500px]:order-1">
                        <h3 className="mb-1 font-semibold">Readings</h3>
                        <ReadingsTable
                            table={memory.table}
                            radix={job.radix}
                            addressWidth={board.addressWidth}
                            chosen={row}
                            onChoose={setChosen}
                        />
                    </div>
                )}
                <section aria-labelledby="plan-title" className="order-1 min-[1500px]:order-2">
                    <div className="mb-1 flex items-baseline gap-3">
                        <h3 id="plan-title" className="font-semibold">
                            {board.name} {underside ? 'from below' : 'from above'}
                        </h3>
                        <Button
                            look="quiet"
                            className="min-h-6 px-2 py-0 text-[13px] font-normal underline underline-offset-2"
                            onClick={() => setUnderside(!underside)}
                        >
                            turn over
                        </Button>
                    </div>
                    <BoardPlan board={board} suspects={job.suspects} cleared={cleared} underside={underside} />
                </section>
            </div>
        </div>
    );
}

function Findings({ job }: { job: Job }) {
    const { findings, failed } = job.memory;
    if (failed === 0) {
        return (
            <p className="border-l-4 border-green bg-print px-3 py-1.5">
                <b className="text-green">Nothing that was read is wrong.</b> That clears only the addresses and values that were tried.
            </p>
        );
    }
    return (
        <ul className="flex max-h-40 flex-col gap-1.5 overflow-y-auto" data-testid="findings">
            {findings.map((finding) => {
                const end = finding.sentence.search(/[.:] /);
                return (
                    <li key={finding.sentence} className="settle border-l-4 border-red px-3">
                        <b className="text-red">{end > 0 ? finding.sentence.slice(0, end + 1) : finding.sentence}</b>
                        {end > 0 && finding.sentence.slice(end + 1)}
                        {finding.confidence < 0.85 && (
                            <span className="ml-2 text-[13px] text-ochre">
                                few readings: {Math.round(finding.confidence * 100)} % sure of the pattern
                            </span>
                        )}
                    </li>
                );
            })}
        </ul>
    );
}

function Empty({ hasScreen }: { hasScreen: boolean }) {
    return (
        <div className="border border-dashed border-edge px-4 py-3 text-soft">
            <p>
                <b className="text-ink">No readings yet.</b> Write a known value, read it back, and give the address, what was written and
                what came back. One reading is enough for a first answer.
            </p>
            <p className="mt-1">
                Short of a working prompt? A dump read by another instrument{hasScreen ? ', a wrong character on the screen' : ''} or the
                free-memory figure will do. The line at the bottom takes <code className="font-mono text-ink">6c00 00&gt;20</code>.
            </p>
        </div>
    );
}

function sameRow(a: ReadingRow, b: ReadingRow | null): boolean {
    return b !== null && a.address === b.address && a.expected === b.expected && a.read === b.read && a.bits === b.bits;
}
