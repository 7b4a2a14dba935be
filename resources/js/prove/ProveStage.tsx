import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { problemsOf } from '../api/client';
import { useRecord, useUpdateJob } from '../api/queries';
import type { Board, Job, Timer } from '../api/schemas';
import { Entries, StageHead } from '../job/Entries';
import { Button, ProblemList, TextInput } from '../ui';

const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;

/** Stage 14: enough clean power-ons, a long run, and every function of the board. */
export default function ProveStage({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const update = useUpdateJob(job.id);
    const proof = job.round.proof;
    const [many, setMany] = useState('');
    const left = Math.max(0, proof.needed - proof.clean);
    return (
        <div className="flex flex-col gap-5">
            <StageHead title="Prove">A repair is proved when a fault would have shown again by now.</StageHead>
            <section aria-labelledby="runs-title" className="flex flex-col gap-2">
                <h3 id="runs-title" className="font-semibold">
                    Clean power-ons: {proof.clean} of {proof.needed}
                </h3>
                <Tally clean={proof.clean} needed={proof.needed} />
                <p>{proof.words}</p>
                <p className="text-sm text-soft">
                    {proof.of > 0 &&
                        `Of ${proof.of} counted it showed in ${proof.shown}: a rate between ${percent(proof.lower)} and ${percent(proof.upper)}. `}
                    {proof.rateLeft !== null &&
                        `After ${proof.clean} clean ones it could still show in at most ${percent(proof.rateLeft)} of them.`}
                </p>
                <div className="flex flex-wrap items-end gap-2">
                    <Button
                        look={left > 0 ? 'act' : 'plain'}
                        disabled={record.isPending}
                        onClick={() => record.mutate({ kind: 'power-ons', payload: { clean: 1 } })}
                    >
                        Clean once more
                    </Button>
                    <Button disabled={record.isPending} onClick={() => record.mutate({ kind: 'power-ons', payload: { failed: 1 } })}>
                        The fault showed
                    </Button>
                    <form
                        className="flex items-end gap-2"
                        onSubmit={(event) => {
                            event.preventDefault();
                            record.mutate(
                                { kind: 'power-ons', payload: { clean: Math.max(0, Math.round(Number(many))) } },
                                { onSuccess: () => setMany('') },
                            );
                        }}
                    >
                        <TextInput
                            label="Several clean ones"
                            className="w-20 font-mono"
                            inputMode="numeric"
                            value={many}
                            onChange={setMany}
                        />
                        <Button type="submit" disabled={record.isPending || !(Number(many) > 0)}>
                            Record
                        </Button>
                    </form>
                </div>
                <ProblemList problems={problemsOf(record.error)} />
            </section>
            {proof.unmeasured.length > 0 && (
                <section aria-labelledby="pins-title" className="flex flex-col gap-1">
                    <h3 id="pins-title" className="font-semibold">
                        Pins to measure where a part was unsoldered
                    </h3>
                    <p className="text-sm text-soft">
                        A trace that the iron tore off may show in nothing that is tested below. Power off; each leg to the next point of
                        its line.
                    </p>
                    <ul>
                        {proof.unmeasured.map((ref) => (
                            <li key={ref} className="flex flex-wrap items-center gap-x-3 border-b border-rule py-1">
                                <span className="w-12 font-mono">{ref}</span>
                                <Button
                                    className="font-normal"
                                    aria-label={`${ref}: all connected`}
                                    disabled={record.isPending}
                                    onClick={() => record.mutate({ kind: 'pins-measured', payload: { chip: ref, open: [] } })}
                                >
                                    all connected
                                </Button>
                                <Link to={`/jobs/${job.id}/traces?removed=${ref}`} className="underline underline-offset-2">
                                    pin by pin, under Traces
                                </Link>
                            </li>
                        ))}
                    </ul>
                </section>
            )}
            {proof.open.length > 0 && (
                <section aria-labelledby="open-title" className="flex flex-col gap-1">
                    <h3 id="open-title" className="font-semibold text-red">
                        Found open, and not wired yet
                    </h3>
                    <ul>
                        {proof.open.map((each) => (
                            <li key={each.pin} className="border-b border-rule py-1 font-mono">
                                {each.pin} – {each.to} <span className="text-soft">{each.net}</span>
                            </li>
                        ))}
                    </ul>
                </section>
            )}
            <LongRun job={job} />
            <section aria-labelledby="functions-title">
                <h3 id="functions-title" className="mb-1 font-semibold">
                    What this board has to be tested for
                </h3>
                {board.functions.length === 0 && <p className="text-soft">The profile of this board names none.</p>}
                <ul data-testid="functions">
                    {board.functions.map((each) => {
                        const entry = proof.functions.find((one) => one.id === each.id);
                        const works = entry?.works ?? null;
                        return (
                            <li key={each.id} className="grid grid-cols-[1.4rem_1fr_auto] items-center gap-x-2 border-b border-rule py-1">
                                <span
                                    className={works ? 'text-green' : 'text-red'}
                                    role="img"
                                    aria-label={works === null ? 'not tested' : works ? 'works' : 'does not work'}
                                >
                                    {works === null ? '·' : works ? '✓' : '◆'}
                                </span>
                                <span>
                                    {each.name.charAt(0).toUpperCase() + each.name.slice(1)}
                                    {works === null && (
                                        <span className={entry?.wanted ? 'text-ochre' : 'text-soft'}>
                                            {entry?.wanted ? ', wanted for the proof' : ', before it goes back'}
                                        </span>
                                    )}
                                    <span className="block text-[13px] text-soft">
                                        {[each.how, [...each.sites, ...each.banks.map((bank) => `bank ${bank}`)].join(', ')]
                                            .filter(Boolean)
                                            .join(' ')}
                                    </span>
                                </span>
                                <span className="flex gap-1.5">
                                    {(['works', 'fails'] as const).map((result) => (
                                        <Button
                                            key={result}
                                            className="font-normal"
                                            aria-label={`${each.name} ${result}`}
                                            disabled={record.isPending}
                                            onClick={() => record.mutate({ kind: 'function-test', payload: { function: each.id, result } })}
                                        >
                                            {result}
                                        </Button>
                                    ))}
                                </span>
                            </li>
                        );
                    })}
                </ul>
            </section>
            {proof.proved && (
                <section className="flex flex-wrap items-center gap-3 border-2 border-green p-3" data-testid="proved">
                    <p className="text-lg text-green">Proved.</p>
                    <Link to={`/jobs/${job.id}/record`} className="underline underline-offset-2">
                        To the record for the owner
                    </Link>
                    {job.state === 'open' && (
                        <Button disabled={update.isPending} onClick={() => update.mutate({ state: 'repaired' })}>
                            The job is repaired
                        </Button>
                    )}
                </section>
            )}
            <Entries job={job} kinds={['power-ons', 'function-test', 'pins-measured']} title="Tested" />
        </div>
    );
}

/** Strokes in fives, as on the edge of the sheet. */
function Tally({ clean, needed }: { clean: number; needed: number }) {
    const most = Math.min(needed, 120);
    const groups = Math.ceil(most / 5);
    const wide = 46;
    const perRow = 12;
    return (
        <svg
            viewBox={`0 0 ${Math.min(groups, perRow) * wide} ${Math.ceil(groups / perRow) * 30}`}
            className="block h-auto w-full"
            style={{ maxWidth: Math.min(groups, perRow) * wide }}
            role="img"
            aria-label={`${clean} of ${needed} strokes`}
        >
            {Array.from({ length: most }, (_, place) => {
                const group = Math.floor(place / 5);
                const x = (group % perRow) * wide + 6;
                const y = Math.floor(group / perRow) * 30 + 4;
                const on = place < clean;
                const line =
                    place % 5 === 4
                        ? { x1: x - 3, y1: y + 19, x2: x + 29, y2: y + 3 }
                        : { x1: x + (place % 5) * 8, y1: y, x2: x + (place % 5) * 8, y2: y + 22 };
                return (
                    <line
                        key={place}
                        {...line}
                        stroke={on ? 'var(--green)' : 'var(--rule)'}
                        strokeWidth={on ? 3 : 1.5}
                        strokeLinecap="round"
                    />
                );
            })}
        </svg>
    );
}

/** A long run goes on when this page is closed: the server knows when it began. */
function LongRun({ job }: { job: Job }) {
    const update = useUpdateJob(job.id);
    const [what, setWhat] = useState('the full memory test in a loop');
    const [minutes, setMinutes] = useState('60');
    return (
        <section aria-labelledby="long-title" className="flex flex-col gap-2">
            <h3 id="long-title" className="font-semibold">
                A long run
            </h3>
            {job.timer ? (
                <Running job={job} timer={job.timer} />
            ) : (
                <form
                    className="flex flex-wrap items-end gap-3"
                    onSubmit={(event) => {
                        event.preventDefault();
                        update.mutate({ timer: { what, minutes: Number(minutes) } });
                    }}
                >
                    <TextInput label="What runs" around="min-w-56 flex-1" value={what} maxLength={120} onChange={setWhat} />
                    <TextInput label="Minutes" className="w-20 font-mono" inputMode="numeric" value={minutes} onChange={setMinutes} />
                    <Button type="submit" disabled={update.isPending || what.trim() === ''}>
                        It runs now
                    </Button>
                </form>
            )}
            <ProblemList problems={problemsOf(update.error)} />
        </section>
    );
}

function Running({ job, timer }: { job: Job; timer: Timer }) {
    const update = useUpdateJob(job.id);
    const record = useRecord(job.id);
    const now = useNow();
    const gone = Math.max(0, (now - Date.parse(timer.startedAt)) / 60_000);
    const left = timer.minutes - gone;
    const over = left <= 0;
    const clock = (value: number) => `${Math.floor(value / 60)}:${String(Math.floor(value % 60)).padStart(2, '0')} h`;
    const end = (failed: boolean) =>
        record.mutate(
            {
                kind: 'power-ons',
                payload: { [failed ? 'failed' : 'clean']: 1, minutes: Math.round(Math.min(gone, timer.minutes) * 10) / 10 },
            },
            { onSuccess: () => update.mutate({ timer: null }) },
        );
    return (
        <div className="border border-edge p-3" data-testid="timer">
            <p>
                {over ? 'Over: ' : 'Running: '}
                {timer.what}, {timer.minutes} minutes since{' '}
                {new Date(timer.startedAt).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })}
            </p>
            <div
                className="my-2 h-3 border border-ink"
                role="progressbar"
                aria-label="Long run"
                aria-valuemin={0}
                aria-valuemax={timer.minutes}
                aria-valuenow={Math.round(Math.min(gone, timer.minutes))}
            >
                <div className="h-full bg-green" style={{ width: `${Math.min(100, (gone / timer.minutes) * 100)}%` }} />
            </div>
            <p className="font-mono text-xl">{over ? 'the time is up' : `${clock(left)} left`}</p>
            <div className="mt-2 flex flex-wrap gap-2">
                <Button look={over ? 'act' : 'plain'} disabled={record.isPending || gone < 0.1} onClick={() => end(false)}>
                    {over ? 'It ran clean' : 'Clean so far: end it here'}
                </Button>
                <Button disabled={record.isPending} onClick={() => end(true)}>
                    The fault showed
                </Button>
                <Button look="quiet" disabled={update.isPending} onClick={() => update.mutate({ timer: null })}>
                    Do not count it
                </Button>
            </div>
            <ProblemList problems={problemsOf(record.error ?? update.error)} />
        </div>
    );
}

function useNow(): number {
    const [now, setNow] = useState(() => Date.now());
    useEffect(() => {
        const timer = setInterval(() => setNow(Date.now()), 1000);
        return () => clearInterval(timer);
    }, []);
    return now;
}
