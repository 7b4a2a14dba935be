import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRecord } from '../api/queries';
import type { Board, Job, RailPoint, SupplyRail } from '../api/schemas';
import { Entries, StageHead } from '../job/Entries';
import { Button, cn, Field, ProblemList, TextInput } from '../ui';

const volts = (value: number) => value.toFixed(2);

/** Stage 3: the supply, at the pins of the chips. Nothing measured later means much while a rail is out. */
export default function RailsStage({ job, board }: { job: Job; board: Board }) {
    const supply = job.round.supply;
    if (board.rails.length === 0) {
        return (
            <div className="flex flex-col gap-4">
                <StageHead title="Rails">The profile of this board describes no rails.</StageHead>
                <p className="text-soft">
                    Add a member &ldquo;rails&rdquo; to the board file, and the limits of every part on them are shown here.
                </p>
            </div>
        );
    }
    return (
        <div className="flex flex-col gap-5">
            <StageHead title="Rails">Measured at the chips, against what each part says of itself.</StageHead>
            <details open={!supply.measured} className="border-l-4 border-ochre pl-3">
                <summary className="font-semibold">In which order</summary>
                <ol className="list-decimal pl-5">
                    {supply.order.map((sentence) => (
                        <li key={sentence}>{sentence}</li>
                    ))}
                </ol>
            </details>
            {supply.rails.map((rail) => (
                <Rail key={rail.name} rail={rail} job={job} />
            ))}
            <Entries job={job} kinds={['rail']} title="Measured" />
        </div>
    );
}

function Rail({ rail, job }: { rail: SupplyRail; job: Job }) {
    const out = rail.problems.length > 0;
    return (
        <section
            aria-label={`${rail.name} V`}
            className={cn('border p-3', out ? 'border-2 border-red' : 'border-rule')}
            data-testid={`rail-${rail.name}`}
        >
            <div className="mb-2 flex flex-wrap items-baseline gap-x-4">
                <h3 className="text-lg">
                    {rail.name} V{' '}
                    <span className="text-base font-normal text-soft">from {[...rail.feeds, rail.regulator].join(' through ')}</span>
                </h3>
                <span className={cn('font-semibold', out ? 'text-red' : rail.measured ? 'text-green' : 'text-soft')}>
                    {out ? '◆ out of limits' : rail.measured ? '✓ within limits where measured' : 'not measured'}
                </span>
            </div>
            <Scale rail={rail} />
            <dl className="my-2 flex flex-wrap gap-x-6 gap-y-1 text-sm">
                <Figure name="the parts should draw" value={`${Math.round(rail.budget)} mA`} />
                <Figure name="it draws" value={rail.amps === null ? '–' : `${Math.round(rail.amps * 1000)} mA`} />
                <Figure name="lost on the board" value={rail.drop === null ? '–' : `${rail.drop} mV`} />
                <Figure
                    name={`before ${rail.regulator}`}
                    value={rail.input === null ? (rail.nominalInput === null ? '–' : `(${rail.nominalInput} V)`) : `${rail.input} V`}
                />
                <Figure name={`burnt in ${rail.regulator}`} value={rail.watts === null ? '–' : `${rail.watts} W`} />
                <Figure name="ripple allowed" value={`${rail.rippleAllowed} mV`} />
            </dl>
            {rail.problems.map((sentence) => (
                <p key={sentence} className="text-red">
                    {sentence}
                </p>
            ))}
            {rail.notices.map((sentence) => (
                <p key={sentence} className="text-ochre">
                    {sentence}
                </p>
            ))}
            <Measure rail={rail} job={job} />
            <details className="mt-2">
                <summary className="text-[13px] text-soft underline underline-offset-2">every pin on this rail, with its limits</summary>
                <table className="mt-1 w-full font-mono text-[13px]">
                    <thead>
                        <tr className="text-left text-soft">
                            <th className="font-normal">at</th>
                            <th className="font-normal">from</th>
                            <th className="font-normal">to</th>
                            <th className="font-normal">measured</th>
                            <th className="font-normal">ripple</th>
                        </tr>
                    </thead>
                    <tbody>
                        {rail.points.map((point) => (
                            <tr key={nameOf(point)} className={cn('border-t border-rule', point.out && 'text-red')}>
                                <td>{nameOf(point)}</td>
                                <td>{volts(point.min)} V</td>
                                <td>{volts(point.max)} V</td>
                                <td>{point.volts === null ? '' : `${volts(point.volts)} V${point.unloaded ? ', unloaded' : ''}`}</td>
                                <td>{point.ripple === null ? '' : `${point.ripple} mV`}</td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            </details>
        </section>
    );
}

const nameOf = (point: RailPoint) => (point.pin === null ? point.site : `${point.site}.${point.pin}`);

function Figure({ name, value }: { name: string; value: string }) {
    return (
        <div className="flex gap-1.5">
            <dt className="text-soft">{name}</dt>
            <dd className="font-mono">{value}</dd>
        </div>
    );
}

/** The rail as a scale: the limits of the strictest part, and where each measurement lies. */
function Scale({ rail }: { rail: SupplyRail }) {
    const { min, max } = rail;
    const measured = rail.points.filter((point) => point.volts !== null);
    const all = [min, max, ...measured.map((point) => point.volts!)];
    const span = Math.max(max - min, 0.1);
    const from = Math.min(...all) - span * 0.35;
    const to = Math.max(...all) + span * 0.35;
    const x = (value: number) => ((value - from) / (to - from)) * 600;
    const placed: { point: RailPoint; row: number }[] = [];
    for (const point of [...measured].sort((a, b) => a.volts! - b.volts!)) {
        const near = placed.filter((other) => Math.abs(x(other.point.volts!) - x(point.volts!)) < 74).map((other) => other.row);
        placed.push({ point, row: [0, 1, 2, 3].find((row) => !near.includes(row)) ?? 0 });
    }
    return (
        <svg
            viewBox="0 0 600 92"
            className="block w-full max-w-[720px]"
            role="img"
            aria-label={`Limits ${volts(min)} to ${volts(max)} V${measured.length ? `; ${measured.map((point) => `${nameOf(point)} ${volts(point.volts!)} V`).join(', ')}` : ''}`}
        >
            <rect x={x(min)} y={60} width={x(max) - x(min)} height={12} fill="var(--board)" stroke="var(--green)" />
            <line x1={0} y1={72} x2={600} y2={72} stroke="var(--ink)" />
            {[min, max].map((limit) => (
                <g key={limit}>
                    <line x1={x(limit)} y1={56} x2={x(limit)} y2={76} stroke="var(--green)" strokeWidth={2} />
                    <text x={x(limit)} y={88} textAnchor="middle" fontSize={12} fill="var(--ink)" fontFamily="var(--font-mono)">
                        {volts(limit)}
                    </text>
                </g>
            ))}
            {placed.map(({ point, row }) => (
                <g key={nameOf(point)} fill={point.out ? 'var(--red)' : 'var(--ink)'}>
                    <line
                        x1={x(point.volts!)}
                        y1={48 - row * 12}
                        x2={x(point.volts!)}
                        y2={72}
                        stroke={point.out ? 'var(--red)' : 'var(--ink)'}
                        strokeWidth={1.5}
                    />
                    <text x={x(point.volts!)} y={45 - row * 12} textAnchor="middle" fontSize={11}>
                        {nameOf(point)} {volts(point.volts!)}
                    </text>
                </g>
            ))}
        </svg>
    );
}

function Measure({ rail, job }: { rail: SupplyRail; job: Job }) {
    const record = useRecord(job.id);
    const [site, setSite] = useState(rail.regulator);
    const [what, setWhat] = useState<'volts' | 'ripple' | 'amps' | 'input'>('volts');
    const [value, setValue] = useState('');
    const [unloaded, setUnloaded] = useState(false);
    const number = Number(value.replace(',', '.'));
    const at = what === 'volts' || what === 'ripple';
    const units = { volts: 'V', ripple: 'mV', amps: 'A', input: 'V' };
    return (
        <form
            className="mt-2 flex flex-wrap items-end gap-3"
            onSubmit={(event) => {
                event.preventDefault();
                record.mutate(
                    {
                        kind: 'rail',
                        payload: {
                            rail: rail.name,
                            ...(at ? { site } : {}),
                            [what]: number,
                            ...(what === 'volts' && unloaded ? { unloaded: true } : {}),
                        },
                    },
                    { onSuccess: () => setValue('') },
                );
            }}
        >
            <Field label="What">
                {(id) => (
                    <select id={id} value={what} onChange={(event) => setWhat(event.target.value as typeof what)}>
                        <option value="volts">volts</option>
                        <option value="ripple">ripple</option>
                        <option value="amps">current of the whole</option>
                        <option value="input">volts before {rail.regulator}</option>
                    </select>
                )}
            </Field>
            {at && (
                <Field label="Where">
                    {(id) => (
                        <select id={id} value={site} onChange={(event) => setSite(event.target.value)}>
                            {rail.points.map((point) => (
                                <option key={nameOf(point)} value={nameOf(point)}>
                                    {nameOf(point)}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
            )}
            <TextInput label={`Reading, ${units[what]}`} className="w-24 font-mono" inputMode="decimal" value={value} onChange={setValue} />
            {what === 'volts' && (
                <label className="flex min-h-8 items-center gap-2 text-sm">
                    <input type="checkbox" checked={unloaded} onChange={(event) => setUnloaded(event.target.checked)} /> unloaded, or chips
                    out
                </label>
            )}
            <Button type="submit" disabled={record.isPending || value.trim() === '' || Number.isNaN(number)}>
                Record
            </Button>
            <ProblemList problems={problemsOf(record.error)} />
        </form>
    );
}
