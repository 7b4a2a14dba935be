import { useState } from 'react';
import { Link } from 'react-router';
import { problemsOf } from '../api/client';
import { useRecord } from '../api/queries';
import type { Board, Job, SignRow } from '../api/schemas';
import { Entries, StageHead } from '../job/Entries';
import { Button, cn, Field, ProblemList, TextInput } from '../ui';

/** Stage 5: what the machine does by itself, at each power-on and some minutes after. */
export default function SignsStage({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const signs = job.round.signs;
    const last = Math.max(0, ...signs.rows.map((row) => row.powerOn));
    const [powerOn, setPowerOn] = useState<number | null>(null);
    const [minutes, setMinutes] = useState('');
    const at = powerOn ?? Math.max(1, last);
    const after = Number(minutes.replace(',', '.')) || 0;
    const words = new Map(board.signs.map((sign) => [sign.id, sign.words]));
    const shown = new Set(signs.rows.filter((row) => row.powerOn === at && row.minutes > 0 === after > 0).map((row) => row.sign));
    const groups = [
        { title: 'Known of this machine', signs: board.signs.filter((sign) => !sign.generic && !sign.good) },
        { title: 'Signs of trouble', signs: board.signs.filter((sign) => sign.generic && !sign.good) },
        { title: 'Signs of health', signs: board.signs.filter((sign) => sign.good) },
    ];

    return (
        <div className="flex flex-col gap-4">
            <StageHead title="Signs">What it does by itself. Power off and on, and see whether it does so every time.</StageHead>
            <div className="flex flex-wrap items-end gap-4">
                <Field label="Power-on">
                    {(id) => (
                        <select id={id} value={at} onChange={(event) => setPowerOn(Number(event.target.value))}>
                            {Array.from({ length: last + 1 }, (_, place) => place + 1).map((number) => (
                                <option key={number} value={number}>
                                    {number > last && last > 0 ? `${number}, a new one` : number}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                <Button disabled={last === 0} onClick={() => setPowerOn(last + 1)}>
                    Switched off and on again
                </Button>
                <TextInput
                    label="Minutes after it, if not at once"
                    className="w-24 font-mono"
                    inputMode="decimal"
                    value={minutes}
                    onChange={setMinutes}
                />
            </div>
            {groups.map(
                (group) =>
                    group.signs.length > 0 && (
                        <section key={group.title} aria-label={group.title}>
                            <h3 className="mb-1 text-sm font-semibold text-soft">{group.title}</h3>
                            <ul className="grid gap-x-6 gap-y-1 md:grid-cols-2">
                                {group.signs.map((sign) => (
                                    <li key={sign.id}>
                                        <button
                                            type="button"
                                            disabled={record.isPending}
                                            aria-pressed={shown.has(sign.id)}
                                            className={cn(
                                                'block w-full border-l-4 py-1 pl-2 text-left hover:bg-print',
                                                shown.has(sign.id) ? 'border-ink bg-print' : 'border-rule',
                                            )}
                                            onClick={() =>
                                                record.mutate({
                                                    kind: 'sign',
                                                    payload: { sign: sign.id, powerOn: at, ...(after > 0 ? { minutes: after } : {}) },
                                                })
                                            }
                                        >
                                            <span className="font-semibold">{sign.words}</span>
                                            <span className="block text-[13px] leading-tight text-soft">{sign.means}</span>
                                        </button>
                                    </li>
                                ))}
                            </ul>
                        </section>
                    ),
            )}
            <ProblemList problems={problemsOf(record.error)} />
            <PowerOns rows={signs.rows} words={words} />
            {signs.words && (
                <p className={cn('border-l-4 pl-3 font-semibold', signs.stable ? 'border-green text-green' : 'border-ochre text-ochre')}>
                    {signs.words}
                </p>
            )}
            <p className="text-[13px] text-soft">
                Free-memory figures, characters and stripes are given under{' '}
                <Link to={`/jobs/${job.id}/memory`} className="underline">
                    Memory
                </Link>
                : a figure counts as an address only when it is the same each time.
            </p>
            <Entries job={job} kinds={['sign', 'free-memory', 'screen-character', 'screen-stripe']} title="Seen" />
        </div>
    );
}

/** Each power-on as a line over time, so that stability is seen. */
function PowerOns({ rows, words }: { rows: SignRow[]; words: Map<string, string> }) {
    const numbers = [...new Set(rows.map((row) => row.powerOn))].sort((a, b) => a - b);
    if (numbers.length === 0) {
        return null;
    }
    return (
        <ol className="flex flex-col gap-1" aria-label="Power-ons" data-testid="power-ons">
            {numbers.map((number) => (
                <li key={number} className="flex items-center gap-3">
                    <span className="w-24 text-right text-[13px] text-soft">power-on {number}</span>
                    <span className="flex flex-1 flex-wrap items-center gap-2 border-l-2 border-ink pl-2">
                        {rows
                            .filter((row) => row.powerOn === number)
                            .sort((a, b) => a.minutes - b.minutes)
                            .map((row) => (
                                <span key={row.observation} className="border border-edge bg-sheet px-2 py-0.5 text-sm">
                                    {row.minutes > 0 && <span className="mr-1 font-mono text-[12px] text-soft">{row.minutes} min</span>}
                                    {words.get(row.sign) ?? row.sign}
                                </span>
                            ))}
                    </span>
                </li>
            ))}
        </ol>
    );
}
