import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRecord } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { BoardPlan } from '../board/BoardPlan';
import { Entries, StageHead } from '../job/Entries';
import { Button, ProblemList, Switches, TextInput } from '../ui';

const feels = [
    { value: 'cold', label: 'stone cold' },
    { value: 'cool', label: 'hardly warm' },
    { value: 'warm', label: 'warm' },
    { value: 'hot', label: 'hot' },
];

/** Stage 4: how warm each part is, over the room and over its like. */
export default function HeatStage({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const [site, setSite] = useState('');
    const [celsius, setCelsius] = useState('');
    const [room, setRoom] = useState('');
    const [only, setOnly] = useState(false);
    const heat = job.round.heat;
    const warmth = new Map(heat.parts.map((part) => [part.site, { rise: part.rise, verdict: part.verdict }]));
    const keep = (payload: object) => record.mutate({ kind: 'heat', payload }, { onSuccess: () => setCelsius('') });
    const degrees = Number(celsius.replace(',', '.'));

    return (
        <div className="flex flex-col gap-4">
            <StageHead title="Heat">
                A minute after power-on: click a part, and say how warm it is. The rise counts, not the figure.
            </StageHead>
            <div className="flex flex-wrap items-end gap-3">
                <TextInput label="Part" className="w-24 font-mono" value={site} placeholder="U14" onChange={setSite} />
                <Switches
                    label="By finger"
                    options={feels}
                    on={[]}
                    disabled={record.isPending || site.trim() === ''}
                    onToggle={(feel) => keep({ site: site.trim(), feel, ...(only ? { onlyWithFault: true } : {}) })}
                />
                <form
                    className="flex items-end gap-2"
                    onSubmit={(event) => {
                        event.preventDefault();
                        keep({ site: site.trim(), celsius: degrees, ...(only ? { onlyWithFault: true } : {}) });
                    }}
                >
                    <TextInput label="By camera, °C" className="w-20 font-mono" inputMode="decimal" value={celsius} onChange={setCelsius} />
                    <Button
                        type="submit"
                        disabled={record.isPending || site.trim() === '' || celsius.trim() === '' || Number.isNaN(degrees)}
                    >
                        Record
                    </Button>
                </form>
                <label className="flex min-h-8 items-center gap-2 text-sm">
                    <input type="checkbox" checked={only} onChange={(event) => setOnly(event.target.checked)} /> only while the fault shows
                </label>
            </div>
            <form
                className="flex flex-wrap items-end gap-2"
                onSubmit={(event) => {
                    event.preventDefault();
                    record.mutate({ kind: 'heat', payload: { room: Number(room.replace(',', '.')) } }, { onSuccess: () => setRoom('') });
                }}
            >
                <TextInput label="The room, °C" className="w-20 font-mono" inputMode="decimal" value={room} onChange={setRoom} />
                <Button type="submit" disabled={record.isPending || room.trim() === ''}>
                    Record
                </Button>
                <span className="pb-1.5 text-[13px] text-soft">
                    {heat.roomMeasured ? `The room has ${heat.room} °C.` : `Not measured: ${heat.room} °C is taken.`}
                </span>
            </form>
            <ProblemList problems={problemsOf(record.error)} />
            <BoardPlan board={board} warmth={warmth} selected={site.toUpperCase()} onSelect={setSite} />
            {heat.parts.some((part) => part.words) && (
                <ul className="flex flex-col gap-1">
                    {heat.parts
                        .filter((part) => part.words)
                        .map((part) => (
                            <li
                                key={part.site}
                                className={part.verdict === 'hot' ? 'border-l-4 border-red pl-3' : 'border-l-4 border-ochre pl-3'}
                            >
                                {part.words}.{part.onlyWithFault && ' Only while the fault shows.'}
                            </li>
                        ))}
                </ul>
            )}
            {heat.parts.length > 0 && (
                <table className="w-full max-w-xl text-sm" aria-label="Rise over the room and over like parts">
                    <thead>
                        <tr className="text-left text-soft">
                            <th className="font-normal">part</th>
                            <th className="font-normal">over the room</th>
                            <th className="font-normal">over its like</th>
                        </tr>
                    </thead>
                    <tbody>
                        {[...heat.parts]
                            .sort((a, b) => b.rise - a.rise)
                            .map((part) => (
                                <tr
                                    key={part.site}
                                    className={part.verdict ? 'border-t border-rule font-semibold text-red' : 'border-t border-rule'}
                                >
                                    <td>
                                        {part.site} {part.felt && <span className="font-normal text-soft">by finger</span>}
                                    </td>
                                    <td className="font-mono">{part.rise} °C</td>
                                    <td className="font-mono">{part.overLike === null ? '–' : `${part.overLike} °C`}</td>
                                </tr>
                            ))}
                    </tbody>
                </table>
            )}
            <Entries
                job={job}
                kinds={['heat']}
                title="Felt and measured"
                empty="Nothing yet. Memory hardly warms up when it is well; processors and video chips do."
            />
        </div>
    );
}
