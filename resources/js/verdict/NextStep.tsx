import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRecord } from '../api/queries';
import type { Job, Step } from '../api/schemas';
import { Button, cn, ProblemList } from '../ui';
import { percent } from '../ui/numbers';

const risks = { none: 'nothing at risk', handling: 'handling only', heat: 'heat near the board' };

/** What to do next: one step, large; "not now" offers the one after it. */
export function NextStep({ job }: { job: Job }) {
    const [skipped, setSkipped] = useState<{ basis: string; count: number }>({ basis: '', count: 0 });
    const record = useRecord(job.id);
    const basis = job.steps.map((step) => step.sentence).join('|');
    const place = skipped.basis === basis ? Math.min(skipped.count, job.steps.length - 1) : 0;
    const step = job.steps[place];
    if (!step) {
        return null;
    }
    const physical = !['read', 'widen', 'prove'].includes(step.action);

    return (
        <section aria-label="Next step" className="border-2 border-red bg-sheet p-4" data-testid="next-step">
            <p className="text-[13px] font-semibold text-red">
                {place === 0 ? 'Next' : `Or, number ${place + 1}`}, {Math.round(step.minutes)} min, {risks[step.risk]}
            </p>
            <h2 className="text-[19px] leading-snug">{step.sentence}</h2>
            <p className="mt-1 text-sm text-soft">It {step.tells}.</p>
            {step.caution && <p className="mt-1 border-l-4 border-ochre pl-2 text-sm text-ochre">{step.caution}</p>}
            {step.outcomes.length > 0 && <Outcomes step={step} />}
            {physical ? (
                <div className="mt-3 flex flex-wrap gap-2" role="group" aria-label="What the complaint did then">
                    {results.map((result) => (
                        <Button
                            key={result.value}
                            look={result.value === 'cured' ? 'act' : 'plain'}
                            disabled={record.isPending}
                            onClick={() =>
                                record.mutate({
                                    kind: 'intervention',
                                    payload: { action: step.action, site: step.site, result: result.value },
                                })
                            }
                        >
                            {result.label}
                        </Button>
                    ))}
                </div>
            ) : (
                step.action === 'read' && <p className="mt-2 text-sm">Give what it read in the note line below.</p>
            )}
            <ProblemList problems={problemsOf(record.error)} />
            {job.steps.length > 1 && (
                <button
                    type="button"
                    className="mt-2 min-h-6 text-[13px] text-soft underline underline-offset-2"
                    onClick={() => setSkipped({ basis, count: (place + 1) % job.steps.length })}
                >
                    {place + 1 < job.steps.length ? 'not now, what else?' : 'back to the first'}
                </button>
            )}
        </section>
    );
}

export const results = [
    { value: 'cured', label: 'Cured' },
    { value: 'better', label: 'Better' },
    { value: 'as-before', label: 'As before' },
    { value: 'worse', label: 'Worse' },
    { value: 'different', label: 'Different' },
];

function Outcomes({ step }: { step: Step }) {
    return (
        <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-3 text-[13px]">
            {step.outcomes.map((outcome) => (
                <div key={outcome.result} className="contents">
                    <dt className={cn('text-soft')}>
                        {outcome.words} ({percent(outcome.chance)} %)
                    </dt>
                    <dd>then {outcome.means}</dd>
                </div>
            ))}
        </dl>
    );
}
