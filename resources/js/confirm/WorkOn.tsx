import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRecord } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { BoardPlan } from '../board/BoardPlan';
import { results, type Action } from '../job/done';
import { Entries } from '../job/Entries';
import { Button, Field, ProblemList, Switches, TextInput } from '../ui';
import { percent } from '../ui/numbers';

const nowhere = ['elsewhere', 'setup', 'second-machine'];

/** The site that work is done on: the leading suspect until another is chosen. */
export function useSite(job: Job) {
    return useState(job.suspects.find((suspect) => !nowhere.includes(suspect.kind))?.site ?? '');
}

/** Which part, what is done to it, and what the machine did then: two clicks. */
export function WorkOn({
    job,
    board,
    actions,
    site,
    onSite,
    children,
}: {
    job: Job;
    board: Board;
    actions: Action[];
    site: string;
    onSite: (site: string) => void;
    children?: (props: {
        action: string;
        extra: Record<string, unknown>;
        setExtra: (extra: Record<string, unknown>) => void;
    }) => React.ReactNode;
}) {
    const record = useRecord(job.id);
    const [action, setAction] = useState(actions[0]!.value);
    const [extra, setExtra] = useState<Record<string, unknown>>({});
    const [partner, setPartner] = useState('');
    const [second, setSecond] = useState<'works' | 'fails' | ''>('');
    const chosen = actions.find((candidate) => candidate.value === action);
    const likely = job.suspects.filter((suspect) => !nowhere.includes(suspect.kind)).slice(0, 6);
    const part = board.parts.find((candidate) => candidate.ref.toLowerCase() === site.trim().toLowerCase());
    const alike = board.parts.filter((candidate) => part && candidate.part === part.part && candidate.ref !== part.ref);
    const refused = record.isPending || site.trim() === '' || (action === 'swap' && partner === '');
    const keep = (result?: string) =>
        record.mutate({
            kind: 'intervention',
            payload: {
                action,
                site: site.trim(),
                ...extra,
                ...(action === 'swap' ? { with: partner } : {}),
                ...(action === 'exchange-second' && second ? { secondResult: second } : {}),
                ...(result ? { result } : {}),
            },
        });
    const choose = (value: string) => {
        setAction(value);
        setExtra({});
    };

    return (
        <div className="flex flex-col gap-3">
            <div className="flex flex-wrap items-end gap-3">
                <TextInput label="Which part, pin or line" className="w-36 font-mono" value={site} onChange={onSite} autoComplete="off" />
                {likely.length > 0 && (
                    <div role="group" aria-label="Leading suspects" className="flex flex-wrap gap-1.5">
                        {likely.map((suspect) => (
                            <Button
                                key={suspect.site}
                                aria-pressed={suspect.site === site}
                                className={suspect.site === site ? 'bg-ink text-sheet hover:bg-ink' : 'font-normal'}
                                onClick={() => onSite(suspect.site)}
                            >
                                {suspect.site} {percent(suspect.share)} %
                            </Button>
                        ))}
                    </div>
                )}
            </div>
            <div>
                <Switches label="What you do" options={actions} on={[action]} onToggle={choose} />
                <p className="mt-1 text-[13px] text-soft">{chosen?.tells}</p>
            </div>
            {action === 'swap' && (
                <Field label="Swap it with">
                    {(id) => (
                        <select id={id} className="w-36" value={partner} onChange={(event) => setPartner(event.target.value)}>
                            <option value="">which?</option>
                            {alike.map((candidate) => (
                                <option key={candidate.ref} value={candidate.ref}>
                                    {candidate.ref}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
            )}
            {action === 'exchange-second' && (
                <Switches
                    label="The second machine with this part"
                    options={[
                        { value: 'works', label: 'second machine works with it' },
                        { value: 'fails', label: 'second machine shows the fault now' },
                    ]}
                    on={[second]}
                    onToggle={(value, on) => setSecond(on ? (value as 'works' | 'fails') : '')}
                />
            )}
            {children?.({ action, extra, setExtra })}
            <div role="group" aria-label="What the complaint did" className="flex flex-wrap items-center gap-2">
                <span className="text-[13px] font-semibold text-soft">Then it was</span>
                {[...(action === 'swap' ? [{ value: 'moved', label: 'Moved with it' }] : []), ...results].map((result) => (
                    <Button key={result.value} disabled={refused} onClick={() => keep(result.value)}>
                        {result.label}
                    </Button>
                ))}
                <Button look="quiet" disabled={refused} onClick={() => keep()}>
                    not tried yet
                </Button>
            </div>
            <ProblemList problems={problemsOf(record.error)} />
        </div>
    );
}

/** What was done, newest first, and the plan to choose the next part on. */
export function WorkDone({
    job,
    board,
    kinds,
    site,
    onSite,
}: {
    job: Job;
    board: Board;
    kinds: string[];
    site: string;
    onSite: (site: string) => void;
}) {
    const fitted = Object.entries(job.done).filter(([, what]) => ['replace', 'exchange', 'exchange-second', 'swap'].includes(what));
    return (
        <>
            <section aria-labelledby="done-title">
                <h3 id="done-title" className="mb-1 font-semibold">
                    As the machine stands
                </h3>
                {job.context.length === 0 && job.displaced.length === 0 ? (
                    <p className="text-soft">Every part is where it came from.</p>
                ) : (
                    <ul>
                        {job.context.map((phrase) => (
                            <li key={phrase} className="border-b border-rule py-1">
                                {phrase}
                            </li>
                        ))}
                        {job.displaced.map((part) => (
                            <li key={part.part} className="border-b border-rule py-1 text-soft">
                                the original {part.part} {part.seat === null ? 'is out of the machine' : `sits in ${part.seat}`}
                                {part.borrowed && ', borrowed'}
                            </li>
                        ))}
                    </ul>
                )}
            </section>
            <Entries job={job} kinds={kinds} title="What was tried" testId="interventions" />
            <BoardPlan
                board={board}
                suspects={job.suspects}
                cleared={new Set(job.memory.clearedChips)}
                replaced={new Set(fitted.map(([where]) => where))}
                selected={site.toUpperCase()}
                onSelect={onSite}
            />
        </>
    );
}
