import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { problemsOf } from '../api/client';
import { signalsQuery, useRecord } from '../api/queries';
import type { Board, Continuity, Job, Signals } from '../api/schemas';
import { Entries, StageHead } from '../job/Entries';
import { Button, cn, SelectInput, ProblemList } from '../ui';

/** Stage 9: from pin to pin along a trace, the suspected one where none was chosen, halving, until the break is found; and every pin of a part that was out. */
export default function TracesStage({ job }: { job: Job; board: Board }) {
    const [params] = useSearchParams();
    const [net, setNet] = useState(params.get('net') ?? '');
    const [removed, setRemoved] = useState(() => params.get('removed') ?? out(job));
    const signals = useQuery({ ...signalsQuery(job.id, 'running', removed, net, job.changedAt), placeholderData: keepPreviousData });
    const record = useRecord(job.id);
    const data = signals.data;
    const test = (from: string, to: string, result: 'open' | 'closed') =>
        record.mutate({ kind: 'continuity', payload: { from, to, result } });
    return (
        <div className="flex flex-col gap-5">
            <StageHead title="Traces">
                Power off. A trace can look perfect and be open; halve it with the meter, on both sides of the board.
            </StageHead>
            <ProblemList problems={problemsOf(signals.error ?? record.error)} />
            <SelectInput
                label="Net"
                className="max-w-60 font-mono"
                value={net === '' ? (data?.continuity?.net ?? '') : net}
                onChange={setNet}
                options={[
                    { value: '', label: 'choose one' },
                    ...(data?.nets ?? []).map((each) => ({ value: each.name, label: each.name })),
                ]}
            />
            {data?.continuity ? (
                <Plan plan={data.continuity} busy={record.isPending} onTested={test} />
            ) : !data && !signals.error ? (
                <p className="text-soft">Reading the netlist…</p>
            ) : (
                <p className="text-soft">
                    Choose the net that is wrong behind some point and right before it; probing it under Signals shows which.
                </p>
            )}
            <section aria-label="Pins to check" className="flex flex-col gap-2 border-t border-rule pt-3">
                <h3 className="font-semibold">After a chip or its socket was out</h3>
                <SelectInput
                    label="Chip"
                    className="max-w-60"
                    value={removed}
                    onChange={setRemoved}
                    options={[
                        { value: '', label: 'choose one' },
                        ...(data?.chips ?? []).map((each) => ({ value: each.ref, label: `${each.ref} ${each.part}` })),
                    ]}
                />
                {data && data.removal.length > 0 && (
                    <Removal
                        signals={data}
                        busy={record.isPending}
                        onTested={test}
                        onRest={(open) => record.mutate({ kind: 'pins-measured', payload: { chip: removed, open } })}
                    />
                )}
            </section>
            <Entries job={job} kinds={['continuity', 'pins-measured', 'line-drop']} title="Tested" />
        </div>
    );
}

/** The chip that came out last, if any did. */
const out = (job: Job) =>
    Object.entries(job.done)
        .filter(([, what]) => ['replace', 'exchange', 'remove'].includes(what))
        .at(-1)?.[0] ?? '';

function Plan({
    plan,
    busy,
    onTested,
}: {
    plan: Continuity;
    busy: boolean;
    onTested: (from: string, to: string, result: 'open' | 'closed') => void;
}) {
    return (
        <section aria-label={`Trace of ${plan.net}`} className="flex flex-col gap-3">
            <div className="flex" role="group" aria-label={`Points of ${plan.net} in the order in which they lie`}>
                <ol className="flex flex-wrap items-center gap-y-2 py-2">
                    {plan.points.map((point, place) => (
                        <li key={point.pin} className="flex items-center">
                            {place > 0 && (
                                <span
                                    aria-hidden
                                    className={cn(
                                        'w-8 border-t-2',
                                        plan.wire?.to === point.pin ? 'border-dashed border-red' : 'border-ink',
                                    )}
                                />
                            )}
                            <span
                                className={cn(
                                    'flex flex-col items-center border-2 px-2 py-1 font-mono text-[13px]',
                                    point.reached === 'yes'
                                        ? 'border-green'
                                        : point.reached === 'no'
                                          ? 'border-red'
                                          : 'border-dashed border-soft',
                                )}
                            >
                                {point.pin}
                                <span
                                    className={cn(
                                        'font-sans text-[12px]',
                                        point.reached === 'yes' ? 'text-green' : point.reached === 'no' ? 'text-red' : 'text-soft',
                                    )}
                                >
                                    {point.reached === 'yes' ? '✓ reached' : point.reached === 'no' ? '✗ cut off' : 'not known'}
                                </span>
                            </span>
                        </li>
                    ))}
                </ol>
            </div>
            {plan.test && (
                <div className="flex flex-wrap items-center gap-3">
                    <p>
                        Test <strong className="font-mono">{plan.test.from}</strong> to{' '}
                        <strong className="font-mono">{plan.test.to}</strong>
                        <span className="text-soft">{plan.most > 1 ? ` – at most ${plan.most} tests from here` : ''}</span>
                    </p>
                    <Button disabled={busy} onClick={() => onTested(plan.test!.from, plan.test!.to, 'closed')}>
                        Connected
                    </Button>
                    <Button disabled={busy} onClick={() => onTested(plan.test!.from, plan.test!.to, 'open')}>
                        Open
                    </Button>
                </div>
            )}
            {plan.wire && (
                <p className="border-l-4 border-red pl-3">
                    The break lies between {plan.wire.from} and {plan.wire.to}.{' '}
                    <strong>
                        Fit a wire from {plan.wire.from} to {plan.wire.to}
                    </strong>{' '}
                    and note it: <span className="font-mono">wire {plan.net.toLowerCase()} cured</span>. A clip lead between the two proves
                    it first.
                </p>
            )}
            {!plan.test && !plan.wire && <p className="text-green">✓ The whole trace is connected.</p>}
        </section>
    );
}

function Removal({
    signals,
    busy,
    onTested,
    onRest,
}: {
    signals: Signals;
    busy: boolean;
    onTested: (from: string, to: string, result: 'open' | 'closed') => void;
    onRest: (open: string[]) => void;
}) {
    const known = new Map(
        signals.tested.flatMap((test) => [
            [`${test.from} ${test.to}`, test.closed] as const,
            [`${test.to} ${test.from}`, test.closed] as const,
        ]),
    );
    const done = signals.removal.filter((each) => known.has(`${each.pin} ${each.to}`)).length;
    return (
        <>
            <div className="flex flex-wrap items-center gap-3">
                <p className="text-soft">
                    {done} of {signals.removal.length} pins done.
                </p>
                {done < signals.removal.length && (
                    <Button
                        disabled={busy}
                        onClick={() =>
                            onRest(signals.removal.filter((each) => known.get(`${each.pin} ${each.to}`) === false).map((each) => each.pin))
                        }
                    >
                        {done === 0 ? `All ${signals.removal.length} are connected` : 'The others are connected'}
                    </Button>
                )}
            </div>
            <ul className="grid grid-cols-[repeat(auto-fill,minmax(20rem,1fr))] gap-x-6">
                {signals.removal.map((each) => {
                    const closed = known.get(`${each.pin} ${each.to}`);
                    return (
                        <li key={each.pin} className="flex items-center gap-2 border-b border-rule py-0.5 text-[14px]">
                            <span className="w-36 font-mono text-[13px] whitespace-nowrap">
                                {each.pin} – {each.to}
                            </span>
                            <span className="w-16 truncate text-soft">{each.net}</span>
                            <span className={cn('flex-1 font-semibold', closed ? 'text-green' : 'text-red')}>
                                {closed === undefined ? '' : closed ? '✓' : '✗ open'}
                            </span>
                            <Button
                                look="quiet"
                                className="px-2 text-[13px] font-normal"
                                disabled={busy}
                                aria-label={`${each.pin} to ${each.to} connected`}
                                onClick={() => onTested(each.pin, each.to, 'closed')}
                            >
                                connected
                            </Button>
                            <Button
                                look="quiet"
                                className="px-2 text-[13px] font-normal"
                                disabled={busy}
                                aria-label={`${each.pin} to ${each.to} open`}
                                onClick={() => onTested(each.pin, each.to, 'open')}
                            >
                                open
                            </Button>
                        </li>
                    );
                })}
            </ul>
        </>
    );
}
