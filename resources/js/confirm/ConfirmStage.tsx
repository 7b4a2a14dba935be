import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRecord, useWithdraw } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { BoardPlan } from '../board/BoardPlan';
import { doneWords } from '../job/done';
import { Button, Field, ProblemList } from '../ui';
import { results } from '../verdict/NextStep';

const actions = [
    { value: 'reseat', label: 'reseat', tells: 'Out of its socket and back, or pressed home. Tells a bad contact from a bad part.' },
    { value: 'clean', label: 'clean the contacts', tells: 'Tells a dirty contact from a bad part.' },
    {
        value: 'piggyback',
        label: 'press a good one on top',
        tells: 'Cures a dead output, seldom one that drives hard: "as before" says little.',
    },
    {
        value: 'exchange',
        label: 'exchange for a known good one',
        tells: 'If the fault goes, put the original back: if it does not return, it was the contact.',
    },
    { value: 'replace', label: 'replace for good', tells: 'A repair. Try the cheapest test that showed the fault.' },
    { value: 'remove', label: 'take out', tells: 'Frees the lines that it holds. Some machines do not start without it.' },
    { value: 'refit', label: 'put the original back', tells: 'Tells a bad part from a contact that was only disturbed.' },
    { value: 'bridge', label: 'bridge', tells: 'For a line, such as D5: proves an open trace.' },
];

/** Stages 12 and 13: something is done to a part, and the complaint is watched. */
export default function ConfirmStage({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const withdraw = useWithdraw(job.id);
    const [action, setAction] = useState('exchange');
    const [site, setSite] = useState(job.suspects.find((suspect) => !['elsewhere', 'setup'].includes(suspect.kind))?.site ?? '');
    const done = Object.entries(job.done);
    const interventions = [...job.log].filter((entry) => entry.kind === 'intervention' || entry.kind === 'chip-test').reverse();
    const keep = (result?: string) => record.mutate({ kind: 'intervention', payload: { action, site, ...(result ? { result } : {}) } });

    return (
        <div className="flex flex-col gap-4">
            <header className="flex flex-wrap items-baseline gap-x-3">
                <h2 className="text-[22px]">Confirm and repair</h2>
                <p className="text-soft">One thing at a time, then see what the complaint does.</p>
            </header>
            <div className="grid gap-3 sm:grid-cols-[12rem_1fr]">
                <Field label="Which part or line">
                    {(id) => (
                        <>
                            <input
                                id={id}
                                className="font-mono"
                                list={`${id}-sites`}
                                value={site}
                                onChange={(event) => setSite(event.target.value)}
                                autoComplete="off"
                            />
                            <datalist id={`${id}-sites`}>
                                {job.suspects
                                    .filter((suspect) => !['elsewhere', 'setup'].includes(suspect.kind))
                                    .map((suspect) => (
                                        <option key={suspect.site} value={suspect.site} />
                                    ))}
                            </datalist>
                        </>
                    )}
                </Field>
                <Field label="What you do" hint={actions.find((candidate) => candidate.value === action)?.tells}>
                    {(id) => (
                        <select id={id} value={action} onChange={(event) => setAction(event.target.value)}>
                            {actions.map((candidate) => (
                                <option key={candidate.value} value={candidate.value}>
                                    {candidate.label}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
            </div>
            <div role="group" aria-label="What the complaint did" className="flex flex-wrap items-center gap-2">
                <span className="text-[13px] font-semibold text-soft">Then it was</span>
                {results.map((result) => (
                    <Button key={result.value} disabled={record.isPending || site.trim() === ''} onClick={() => keep(result.value)}>
                        {result.label}
                    </Button>
                ))}
                <Button look="quiet" disabled={record.isPending || site.trim() === ''} onClick={() => keep()}>
                    not tried yet
                </Button>
            </div>
            <div role="group" aria-label="What the chip tester says" className="flex flex-wrap items-center gap-2">
                <span className="text-[13px] font-semibold text-soft">Or the chip tester says that the original</span>
                {(['fail', 'pass'] as const).map((result) => (
                    <Button
                        key={result}
                        disabled={record.isPending || site.trim() === ''}
                        onClick={() => record.mutate({ kind: 'chip-test', payload: { site, result } })}
                    >
                        {result === 'fail' ? 'fails' : 'passes'}
                    </Button>
                ))}
                <span className="text-[13px] text-soft">A fail is good evidence; a pass is weak.</span>
            </div>
            <ProblemList problems={problemsOf(record.error)} />
            <section aria-labelledby="done-title">
                <h3 id="done-title" className="mb-1 font-semibold">
                    As the machine stands
                </h3>
                {done.length === 0 ? (
                    <p className="text-soft">Every part is where it came from.</p>
                ) : (
                    <ul>
                        {done.map(([where, what]) => {
                            const was = job.cured.find((cured) => cured.site === where);
                            return (
                                <li key={where} className="border-b border-rule py-1">
                                    <b>{where}</b> {doneWords[what] ?? what}
                                    {was && (
                                        <span className="text-soft">; what came out was faulty with {Math.round(was.share * 100)} %</span>
                                    )}
                                </li>
                            );
                        })}
                    </ul>
                )}
            </section>
            {interventions.length > 0 && (
                <section aria-labelledby="steps-title">
                    <h3 id="steps-title" className="mb-1 font-semibold">
                        What was tried
                    </h3>
                    <ol data-testid="interventions">
                        {interventions.map((entry) => (
                            <li key={entry.id} className="flex items-center gap-3 border-b border-rule py-1">
                                <span className={entry.withdrawnAt ? 'text-soft line-through' : ''}>{entry.title}</span>
                                {entry.withdrawnAt === null && (
                                    <button
                                        type="button"
                                        className="ml-auto min-h-6 text-[13px] text-soft underline underline-offset-2"
                                        aria-label={`Withdraw observation ${entry.sequence}`}
                                        onClick={() => withdraw.mutate(entry.id)}
                                    >
                                        withdraw
                                    </button>
                                )}
                            </li>
                        ))}
                    </ol>
                </section>
            )}
            <BoardPlan
                board={board}
                suspects={job.suspects}
                cleared={new Set(job.memory.clearedChips)}
                replaced={new Set(done.filter(([, what]) => what === 'replace' || what === 'exchange').map(([where]) => where))}
                selected={site.toUpperCase()}
                onSelect={setSite}
            />
        </div>
    );
}
