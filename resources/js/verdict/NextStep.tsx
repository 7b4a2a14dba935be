import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { problemsOf } from '../api/client';
import { useRecord, useTakeStep, useUpdateJob, useWithdraw, workshopQuery } from '../api/queries';
import type { Job, Step } from '../api/schemas';
import { results } from '../job/done';
import { Button, cn, Menu, ProblemList } from '../ui';
import { percent } from '../ui/numbers';

const risks = {
    none: 'nothing at risk',
    handling: 'handling only',
    borrowed: 'puts the borrowed part at risk',
    heat: 'heat near the board',
    irreversible: 'cannot be undone',
};

const reasons = [
    { value: 'no-spare', label: 'no spare at hand' },
    { value: 'no-tool', label: 'the tool is not at hand' },
    { value: 'no-access', label: 'it cannot be reached now' },
    { value: 'risk', label: 'too great a risk' },
    { value: 'done', label: 'already done' },
    { value: 'later', label: 'later' },
];

/** What to do next: one step, large; "not now" with a reason gives the next best. */
export function NextStep({ job }: { job: Job }) {
    const [skipped, setSkipped] = useState<{ basis: string; count: number }>({ basis: '', count: 0 });
    const record = useRecord(job.id);
    const cost = useQuery(workshopQuery).data?.workshop.hourlyCost;
    const basis = job.steps.map((step) => step.sentence).join('|');
    const place = skipped.basis === basis ? Math.min(skipped.count, job.steps.length - 1) : 0;
    const step = job.steps[place];
    if (!step) {
        return <SetAside job={job} />;
    }
    // Nothing is left to be done on the machine itself.
    const proved = step.action === 'prove' && job.round.proof.proved;

    return (
        <section aria-label="Next step" className="border-2 border-red bg-sheet p-4" data-testid="next-step">
            <p className="text-[13px] font-semibold text-red">
                {place === 0 ? 'Next' : `Or, number ${place + 1}`}, {Math.round(step.minutes)} min
                {cost && ` (${Math.ceil((step.minutes / 60) * cost.amount)} ${cost.currency})`}, {risks[step.risk]}
            </p>
            <h2 className="text-[19px] leading-snug">{step.sentence}</h2>
            {step.access && <p className="mt-1 text-sm">{step.access}</p>}
            <p className="mt-1 text-sm text-soft">It {step.tells}.</p>
            <Cautions job={job} step={step} />
            {step.caution && <p className="mt-1 border-l-4 border-ochre pl-2 text-sm text-ochre">{step.caution}</p>}
            {step.missing && <p className="mt-1 border-l-4 border-edge pl-2 text-sm">{step.missing}</p>}
            {proved ? (
                <p className="mt-2 flex flex-wrap gap-x-4">
                    {job.practice && !job.practice.result && (
                        <Link to={`/jobs/${job.id}/practice`} className="underline underline-offset-2">
                            Finish the run on the practice bench
                        </Link>
                    )}
                    <Link to={`/jobs/${job.id}/record`} className="underline underline-offset-2">
                        To the record for the owner
                    </Link>
                </p>
            ) : (
                job.practice && !job.practice.result && <DoIt job={job} step={step} />
            )}
            <Outcomes step={step} busy={record.isPending} onRecord={(observation) => record.mutate(observation)} />
            {step.action === 'pins' && (
                <Link to={`/jobs/${job.id}/traces?removed=${step.site}`} className="mt-1 text-sm underline underline-offset-2">
                    Pin by pin, under Traces
                </Link>
            )}
            <ProblemList problems={problemsOf(record.error)} />
            <div className="mt-2 flex flex-wrap items-center gap-x-4">
                {!['prove', 'try', 'obtain'].includes(step.action) && step.outcomes.some((outcome) => outcome.chance > 0) && (
                    <Menu
                        label="not now, because"
                        items={reasons}
                        disabled={record.isPending}
                        onChoose={(reason) =>
                            record.mutate({ kind: 'set-aside', payload: { action: step.action, site: step.site, reason } })
                        }
                    />
                )}
                {job.steps.length > 1 && (
                    <button
                        type="button"
                        className="min-h-6 text-[13px] text-soft underline underline-offset-2"
                        onClick={() => setSkipped({ basis, count: (place + 1) % job.steps.length })}
                    >
                        {place + 1 < job.steps.length ? 'what else?' : 'back to the first'}
                    </button>
                )}
            </div>
            <SetAside job={job} />
        </section>
    );
}

/** On the practice bench the step can be taken with one click: the instrument answers. */
function DoIt({ job, step }: { job: Job; step: Step }) {
    const take = useTakeStep(job.id);
    return (
        <div className="mt-2">
            <Button
                look="act"
                disabled={take.isPending}
                onClick={() => take.mutate({ action: step.action, site: step.site, sentence: step.sentence })}
            >
                {take.isPending ? 'At it…' : 'Do it on the practice bench'}
            </Button>
            <ProblemList problems={problemsOf(take.error)} />
        </div>
    );
}

/** What can hurt at this step: in full until it was read once for this job, then by its name. */
function Cautions({ job, step }: { job: Job; step: Step }) {
    const update = useUpdateJob(job.id);
    const fresh = step.cautions.filter((caution) => !job.acknowledged.includes(caution.kind));
    const known = step.cautions.filter((caution) => job.acknowledged.includes(caution.kind));
    return (
        <>
            {fresh.map((caution) => (
                <div
                    key={caution.kind}
                    className="mt-2 border-l-4 border-ochre pl-2 text-sm text-ochre"
                    data-testid={`caution-${caution.kind}`}
                >
                    <p>
                        <b>{capital(caution.name)}.</b> {caution.words}
                    </p>
                    <button
                        type="button"
                        className="min-h-6 underline underline-offset-2"
                        disabled={update.isPending}
                        onClick={() => update.mutate({ acknowledge: caution.kind })}
                    >
                        understood, for this job
                    </button>
                </div>
            ))}
            {known.length > 0 && (
                <p className="mt-1 text-[13px] text-ochre">
                    Mind:{' '}
                    {known.map((caution, place) => (
                        <span key={caution.kind} title={caution.words}>
                            {place > 0 && ', '}
                            {caution.name}
                        </span>
                    ))}
                    .
                </p>
            )}
        </>
    );
}

/** Steps put off, and the way back. */
function SetAside({ job }: { job: Job }) {
    const withdraw = useWithdraw(job.id);
    const aside = job.log.filter((entry) => entry.kind === 'set-aside' && entry.withdrawnAt === null);
    if (aside.length === 0) {
        return null;
    }
    return (
        <details className="mt-1 text-[13px] text-soft" data-testid="set-aside">
            <summary>{aside.length === 1 ? 'One step put off' : `${aside.length} steps put off`}</summary>
            <ul>
                {aside.map((entry) => (
                    <li key={entry.id}>
                        {entry.title}{' '}
                        <button type="button" className="min-h-6 underline underline-offset-2" onClick={() => withdraw.mutate(entry.id)}>
                            propose it again
                        </button>
                    </li>
                ))}
            </ul>
        </details>
    );
}

/** What each outcome would mean; one click on it records it. */
function Outcomes({
    step,
    busy,
    onRecord,
}: {
    step: Step;
    busy: boolean;
    onRecord: (observation: { kind: string; payload: object }) => void;
}) {
    const first = step.outcomes.find((outcome) => outcome.observation)?.observation;
    const others =
        first && first.kind === 'intervention'
            ? results.filter((result) => !step.outcomes.some((outcome) => payloadOf(outcome).result === result.value))
            : [];
    if (step.outcomes.length === 0) {
        return step.action === 'run' || step.action === 'read' ? (
            <p className="mt-2 text-sm">Give what it said in the note line below.</p>
        ) : null;
    }
    return (
        <div className="mt-3 flex flex-col gap-1.5" role="group" aria-label="How it came out">
            {step.outcomes.map((outcome) => (
                <div
                    key={outcome.words}
                    className={cn(
                        'grid items-center gap-2 text-[13px]',
                        (outcome.chance > 0 || outcome.means) && 'grid-cols-[minmax(0,1fr)_minmax(0,1fr)]',
                    )}
                >
                    {outcome.observation ? (
                        <Button
                            className="justify-start text-left whitespace-normal"
                            disabled={busy}
                            onClick={() => outcome.observation && onRecord(outcome.observation as { kind: string; payload: object })}
                        >
                            {capital(outcome.words)}
                        </Button>
                    ) : (
                        <span className="font-semibold">{capital(outcome.words)}</span>
                    )}
                    {(outcome.chance > 0 || outcome.means) && (
                        <span className="leading-tight text-soft">
                            {outcome.chance > 0 && `${percent(outcome.chance)} %`}
                            {outcome.means && `: then ${outcome.means}`}
                        </span>
                    )}
                </div>
            ))}
            {others.length > 0 && (
                <div className="flex flex-wrap gap-1.5">
                    {others.map((result) => (
                        <Button
                            key={result.value}
                            className="font-normal"
                            disabled={busy}
                            onClick={() => first && onRecord({ kind: first.kind, payload: { ...first.payload, result: result.value } })}
                        >
                            {result.label}
                        </Button>
                    ))}
                </div>
            )}
            {!first && <p className="text-sm">Give what it read in the note line below.</p>}
        </div>
    );
}

const payloadOf = (outcome: Step['outcomes'][number]) => (outcome.observation?.payload ?? {}) as { result?: string };

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
