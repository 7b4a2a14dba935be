import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { problemsOf } from '../api/client';
import { ladderQuery, useRecordCapture } from '../api/queries';
import type { Bus, BusCapture, Job, Ladder, Rung } from '../api/schemas';
import { Button, Choice, cn, Field, ProblemList } from '../ui';

type Base = '16' | '8' | '10';

const kinds: Record<string, string> = {
    'nothing-selected': 'Nothing selected',
    'data-bits': 'Data bits wrong',
    'address-bits': 'Address bits wrong',
    'wrong-target': 'The wrong place answers',
    'never-starts': 'It never starts',
    stops: 'It stops',
    repeats: 'It repeats',
};

/** Good and sick side by side, down to the first rung that does not fit. */
export function LadderPanel({ job, bus, capture }: { job: Job; bus: Bus; capture: BusCapture }) {
    const others = bus.against.filter((each) => each.id !== capture.id);
    const [wanted, setWanted] = useState('');
    const [base, setBase] = useState<Base>(job.radix === 8 ? '8' : job.radix === 10 ? '10' : '16');
    const against = others.some((each) => each.id === wanted) ? wanted : (others.find((each) => each.id !== 'rom') ?? others[0])?.id;
    const ladder = useQuery({ ...ladderQuery(capture.id, against ?? '', job.changedAt), enabled: against !== undefined });
    const record = useRecordCapture(job.id);
    // The same clips on a good machine prove those on the sick one.
    const proven =
        capture.setup !== null ||
        bus.captures.some((each) => each.role === 'good' && each.setup?.right && JSON.stringify(each.map) === JSON.stringify(capture.map));
    const data = ladder.data;
    if (against === undefined) {
        return (
            <p className="text-soft">
                There is nothing to hold it against yet: bring a recording of a good machine, or the good image of the ROM on the page of
                the ROM.
            </p>
        );
    }
    return (
        <section aria-label="Ladder" className="flex flex-col gap-3">
            <div className="flex flex-wrap items-end gap-3">
                <Field label="Beside">
                    {(id) => (
                        <select id={id} className="max-w-96" value={against} onChange={(event) => setWanted(event.target.value)}>
                            {others.map((each) => (
                                <option key={each.id} value={each.id}>
                                    {each.name}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                <Choice
                    label="Number base"
                    value={base}
                    onChange={setBase}
                    options={[
                        { value: '16', label: 'hex' },
                        { value: '8', label: 'octal' },
                        { value: '10', label: 'decimal' },
                    ]}
                />
                {capture.role === 'sick' && data && (
                    <Button look="act" disabled={record.isPending} onClick={() => record.mutate({ id: capture.id, against })}>
                        Record what it says
                    </Button>
                )}
            </div>
            <ProblemList problems={problemsOf(ladder.error ?? record.error)} />
            {ladder.isPending && <p role="status">Laying them side by side…</p>}
            {data && (
                <>
                    <div data-testid="divergence">
                        <h2 className={cn('text-xl font-semibold', data.divergence ? 'text-red' : 'text-green')}>
                            {data.divergence ? `✗ ${kinds[data.divergence.kind] ?? data.divergence.kind}` : '✓ As it should be, to the end'}
                        </h2>
                        {data.divergence && <p>{data.divergence.words}</p>}
                        <p className="text-soft">
                            {data.distance} of {data.cycles} cycles fit{data.skipped > 0 && `, ${data.skipped} of waiting passed over`}
                            {data.partly && '; only some of the lines were probed'}.
                        </p>
                        {data.divergence?.next && (
                            <p className="mt-1 border-l-4 border-red pl-3">
                                {data.divergence.next.words}{' '}
                                <Link
                                    className="font-semibold underline"
                                    to={`/jobs/${job.id}/signals?${new URLSearchParams({ select: data.divergence.next.chip, address: `0x${data.divergence.next.address.toString(16).toUpperCase()}` }).toString()}`}
                                >
                                    To the select check
                                </Link>
                            </p>
                        )}
                        {!proven && data.divergence && (
                            <p className="mt-1 text-[14px] text-soft">
                                The channels were not checked yet: a clip on the wrong pin looks like a fault. See under Channels.
                            </p>
                        )}
                    </div>
                    <Rungs ladder={data} base={base} named={bus.named} />
                </>
            )}
        </section>
    );
}

function Rungs({ ladder, base, named }: { ladder: Ladder; base: Base; named: boolean }) {
    const radix = Number(base);
    const digits = (bits: number) => Math.ceil((bits * Math.LN2) / Math.log(radix));
    const shown = (value: number, bits: number) =>
        value
            .toString(radix)
            .toUpperCase()
            .padStart(digits(bits), base === '10' ? ' ' : '0');
    const cycle = (each: Rung['is']) =>
        each === null
            ? ''
            : `${shown(each.address, ladder.addressBits)} ${each.kind.endsWith('write') ? '←' : '→'} ${shown(each.data, ladder.dataBits)}`;
    const box = useRef<HTMLDivElement>(null);
    useEffect(() => {
        const row = box.current?.querySelector<HTMLElement>('[aria-current]');
        if (box.current && row) {
            box.current.scrollTop = row.offsetTop - box.current.clientHeight / 2;
        }
    }, [ladder]);
    return (
        <div
            ref={box}
            role="region"
            aria-label="Cycles side by side"
            // It scrolls, so the keyboard must reach it.
            // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
            tabIndex={0}
            className="relative max-h-[30rem] overflow-auto border border-rule bg-sheet"
        >
            <table className="w-full font-mono text-[13px]" data-testid="rungs">
                <thead className="sticky top-0 bg-board">
                    <tr className="text-left font-sans text-[13px] text-soft">
                        <th className="px-2 font-normal">cycle</th>
                        <th className="px-2 font-normal">this machine</th>
                        <td className="w-6" />
                        <th className="px-2 font-normal">{ladder.against}</th>
                        {named && <th className="px-2 font-normal">instruction</th>}
                    </tr>
                </thead>
                <tbody>
                    {ladder.rungs.map((rung, place) => (
                        <tr
                            key={place}
                            className={cn('border-t border-rule', rung.parts && 'bg-wash font-bold text-red')}
                            aria-current={rung.parts ? 'true' : undefined}
                        >
                            <td className="px-2 text-soft">{rung.number}</td>
                            <td className="px-2 whitespace-pre">{cycle(rung.is)}</td>
                            <td className="text-center">{rung.is && rung.should ? (same(rung) ? '=' : '≠') : ''}</td>
                            <td className="px-2 whitespace-pre">{cycle(rung.should)}</td>
                            {named && <td className="px-2">{rung.named}</td>}
                        </tr>
                    ))}
                </tbody>
            </table>
        </div>
    );
}

const same = (rung: Rung) => rung.is!.address === rung.should!.address && rung.is!.data === rung.should!.data;
