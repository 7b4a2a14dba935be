import type { Board, Job } from '../api/schemas';
import { useSite, WorkDone, WorkOn } from '../confirm/WorkOn';
import { repairs } from '../job/done';

/** Stage 13: what is done to stay. A repair that changed nothing is evidence too. */
export default function RepairStage({ job, board }: { job: Job; board: Board }) {
    const [site, setSite] = useSite(job);
    const step = job.steps[0];
    return (
        <div className="flex flex-col gap-4">
            <header className="flex flex-wrap items-baseline gap-x-3">
                <h2 className="text-[22px]">Repair</h2>
                <p className="text-soft">Then the cheapest test that showed the fault. A repair that changed nothing is evidence too.</p>
            </header>
            {step?.missing && <p className="border-l-4 border-ochre pl-3 text-ochre">{step.missing}</p>}
            <WorkOn job={job} board={board} actions={repairs} site={site} onSite={setSite}>
                {({ action, extra, setExtra }) =>
                    action === 'replace' && (
                        <div className="flex flex-col gap-1">
                            <label className="flex items-center gap-2">
                                <input
                                    type="checkbox"
                                    checked={extra.tested === true}
                                    onChange={(event) => setExtra(event.target.checked ? { tested: true } : {})}
                                />
                                the new part was tested before it went in
                            </label>
                            <p className="text-[13px] text-soft">
                                Check its direction, mark it, and see that every pin of the socket still reaches its trace. Solder fume and
                                lead: air the place, wash your hands.
                            </p>
                        </div>
                    )
                }
            </WorkOn>
            <p className="text-[13px] text-soft">A link is set in the sentence at the top of the screen, or by a note: lk1 16k cured.</p>
            <WorkDone job={job} board={board} kinds={['intervention', 'setting']} site={site} onSite={setSite} />
        </div>
    );
}
