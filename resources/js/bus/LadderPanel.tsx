import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { problemsOf } from '../api/client';
import { ladderQuery, useRecordCapture } from '../api/queries';
import type { Bus, BusCapture, Job, Ladder, Radix, Rung } from '../api/schemas';
import { BaseChoice, Button, cn, ProblemList } from '../ui';
import { inBase } from '../ui/numbers';
import { Against, useAgainst } from './Against';

/** Good and sick side by side, down to the first rung that does not fit. */
export function LadderPanel({ job, bus, capture }: { job: Job; bus: Bus; capture: BusCapture }) {
    const { references, against, choose } = useAgainst(bus, capture, (all) => all.find((each) => each.id !== 'rom') ?? all[0]);
    const [base, setBase] = useState<Radix>(job.radix);
    const ladder = useQuery({ ...ladderQuery(capture.id, against ?? '', job.changedAt), enabled: against !== undefined });
    const record = useRecordCapture(job.id);
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
                <Against label="Beside" references={references} value={against} onChange={choose} />
                <BaseChoice value={base} onChange={setBase} />
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
                            {data.divergence ? `✗ ${data.divergence.title}` : '✓ As it should be, to the end'}
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
                                    to={`/jobs/${job.id}/signals?${new URLSearchParams({ select: data.divergence.next.chip, address: `0x${inBase(data.divergence.next.address, 16, data.addressBits)}` }).toString()}`}
                                >
                                    To the select check
                                </Link>
                            </p>
                        )}
                        {capture.proof === 'unchecked' && data.divergence && (
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

function Rungs({ ladder, base, named }: { ladder: Ladder; base: Radix; named: boolean }) {
    const cycle = (each: Rung['is']) =>
        each === null
            ? ''
            : `${inBase(each.address, base, ladder.addressBits)} ${each.kind.endsWith('write') ? '←' : '→'} ${inBase(each.data, base, ladder.dataBits)}`;
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
                            <td className="text-center">{rung.same === null ? '' : rung.same ? '=' : '≠'}</td>
                            <td className="px-2 whitespace-pre">{cycle(rung.should)}</td>
                            {named && <td className="px-2">{rung.named}</td>}
                        </tr>
                    ))}
                </tbody>
            </table>
        </div>
    );
}
