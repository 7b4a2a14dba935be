import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRecord } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { trials } from '../job/done';
import { Button, ProblemList } from '../ui';
import { useSite, WorkDone, WorkOn } from './WorkOn';

const methods = ['chip tester', 'static tester', 'home-made tester', 'known-good machine'];

/** Stage 12: something is done to a part, and the complaint is watched; each thing can be undone. */
export default function ConfirmStage({ job, board }: { job: Job; board: Board }) {
    const [site, setSite] = useSite(job);
    return (
        <div className="flex flex-col gap-4">
            <header className="flex flex-wrap items-baseline gap-x-3">
                <h2 className="text-[22px]">Confirm</h2>
                <p className="text-soft">One thing at a time, then see what the complaint does.</p>
            </header>
            <WorkOn job={job} board={board} actions={trials} site={site} onSite={setSite} />
            <Tested job={job} site={site} />
            <Second job={job} />
            <WorkDone job={job} board={board} kinds={['intervention', 'chip-test', 'second-machine']} site={site} onSite={setSite} />
        </div>
    );
}

/** A part tested by itself, with the method it was tested by. */
function Tested({ job, site }: { job: Job; site: string }) {
    const record = useRecord(job.id);
    const [method, setMethod] = useState(methods[0]!);
    const [fitted, setFitted] = useState(false);
    const keep = (result: 'fail' | 'pass') =>
        record.mutate({ kind: 'chip-test', payload: { site: `${fitted ? 'new ' : ''}${site.trim()}`, result, method } });
    return (
        <div className="flex flex-col gap-2">
            <div role="group" aria-label="What the chip tester says" className="flex flex-wrap items-center gap-2">
                <span className="text-[13px] font-semibold text-soft">Or tested by itself, in the</span>
                <select aria-label="Method of the test" value={method} onChange={(event) => setMethod(event.target.value)}>
                    {methods.map((each) => (
                        <option key={each}>{each}</option>
                    ))}
                </select>
                <label className="flex items-center gap-1 text-[13px]">
                    <input type="checkbox" checked={fitted} onChange={(event) => setFitted(event.target.checked)} /> the one fitted since
                </label>
                {(['fail', 'pass'] as const).map((result) => (
                    <Button key={result} disabled={record.isPending || site.trim() === ''} onClick={() => keep(result)}>
                        {site.trim() || 'it'} {result === 'fail' ? 'fails' : 'passes'}
                    </Button>
                ))}
                <span className="text-[13px] text-soft">A fail is good evidence; a pass is weak.</span>
            </div>
            <ProblemList problems={problemsOf(record.error)} />
        </div>
    );
}

/** The second machine: proved before parts are exchanged with it, tested again afterwards. */
function Second({ job }: { job: Job }) {
    const record = useRecord(job.id);
    return (
        <div role="group" aria-label="The second machine as it stands" className="flex flex-wrap items-center gap-2">
            <span className="text-[13px] font-semibold text-soft">The second machine, as it stands,</span>
            {(['works', 'fails'] as const).map((result) => (
                <Button
                    key={result}
                    disabled={record.isPending}
                    onClick={() => record.mutate({ kind: 'second-machine', payload: { result } })}
                >
                    {result === 'works' ? 'works' : 'shows the fault'}
                </Button>
            ))}
            <span className="text-[13px] text-soft">Prove it before anything is exchanged with it.</span>
            <ProblemList problems={problemsOf(record.error)} />
        </div>
    );
}
