import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { problemsOf } from '../api/client';
import { adapterQuery } from '../api/queries';
import type { Adapter } from '../api/schemas';
import { Choice, cn, ProblemList, SelectInput } from '../ui';

/** One type of ROM in the socket of another: which pins sit right, and what becomes of the others. */
export function AdapterSheet({ socket: preset }: { socket: string }) {
    const [socket, setSocket] = useState(preset);
    const [chip, setChip] = useState(socket === '2764' ? '27128' : '2764');
    const [selects, setSelects] = useState<Record<string, string>>({});
    const sheet = useQuery(adapterQuery(chip, socket, selects));
    const adapter = sheet.data;
    return (
        <section aria-label="Adapter" className="flex flex-col gap-3">
            <div className="flex flex-wrap items-end gap-4">
                {(
                    [
                        ['Put a', chip, setChip],
                        ['in the socket of a', socket, setSocket],
                    ] as const
                ).map(([label, value, set]) => (
                    <SelectInput
                        key={label}
                        label={label}
                        value={value}
                        onChange={set}
                        options={(adapter?.types ?? [value]).map((type) => ({ value: type, label: type }))}
                    />
                ))}
                {adapter?.selects.map((name) => (
                    <Choice
                        key={name}
                        label={`${name} selects when`}
                        value={selects[name] ?? 'low'}
                        onChange={(level) => setSelects({ ...selects, [name]: level })}
                        options={[
                            { value: 'low', label: `${name} selects low` },
                            { value: 'high', label: `${name} selects high` },
                        ]}
                    />
                ))}
            </div>
            <ProblemList problems={problemsOf(sheet.error)} />
            {adapter && (
                <div className="flex flex-wrap items-start gap-6">
                    <Drawing adapter={adapter} />
                    <div className="flex max-w-xl min-w-72 flex-1 flex-col gap-2">
                        <table className="text-[14px]" aria-label="Pins to lift and wire">
                            <thead>
                                <tr className="text-left text-[13px] text-soft">
                                    <th className="font-normal">pin of the {adapter.chip}</th>
                                    <th className="font-normal">goes to</th>
                                    <th className="font-normal">because</th>
                                </tr>
                            </thead>
                            <tbody>
                                {adapter.pins
                                    .filter((pin) => !pin.straight)
                                    .map((pin) => (
                                        <tr key={pin.pin} className="border-t border-rule align-baseline">
                                            <td className="py-0.5 font-mono">
                                                {pin.pin} {pin.name}
                                            </td>
                                            <td className="pr-3">{pin.goes}</td>
                                            <td className="text-[13px] text-soft">{pin.why}</td>
                                        </tr>
                                    ))}
                            </tbody>
                        </table>
                        <ul className="flex list-disc flex-col gap-1 pl-5 text-[14px]">
                            {adapter.notes.map((note) => (
                                <li key={note}>{note}</li>
                            ))}
                        </ul>
                    </div>
                </div>
            )}
        </section>
    );
}

/** The longer chip over its socket, notch up; pins that must be lifted are struck through. */
function Drawing({ adapter }: { adapter: Adapter }) {
    const half = adapter.chipPins / 2;
    const step = 20;
    const height = half * step + 16;
    const x = (pin: number) => (pin <= half ? 100 : 220);
    const y = (pin: number) => 14 + (pin <= half ? pin - 0.5 : adapter.chipPins - pin + 0.5) * step;
    return (
        <svg
            width={320}
            height={height + 10}
            role="img"
            aria-label={`${adapter.chip} in the socket of a ${adapter.socket}, seen from above`}
        >
            <rect x={110} y={8} width={100} height={height - 6} className="fill-(--color-board) stroke-(--color-ink)" />
            <path d="M 150 8 a 10 10 0 0 0 20 0" className="fill-(--color-sheet) stroke-(--color-ink)" />
            <text x={160} y={height / 2} textAnchor="middle" className="fill-(--color-ink)" fontSize={14} fontWeight={600}>
                {adapter.chip}
            </text>
            {adapter.pins.map((pin) => {
                const left = pin.pin <= half;
                const outer = left ? -1 : 1;
                return (
                    <g key={pin.pin} fontSize={12}>
                        <line
                            x1={x(pin.pin) + (left ? 10 : -10)}
                            x2={x(pin.pin) - (left ? 0 : 0)}
                            y1={y(pin.pin)}
                            y2={y(pin.pin)}
                            className={pin.straight ? 'stroke-(--color-ink)' : 'stroke-(--color-red)'}
                            strokeWidth={2}
                            strokeDasharray={pin.straight ? undefined : '2 2'}
                        />
                        <text
                            x={x(pin.pin) + (left ? 14 : -14)}
                            y={y(pin.pin) + 4}
                            textAnchor={left ? 'start' : 'end'}
                            className={cn('font-mono', pin.straight ? 'fill-(--color-ink)' : 'fill-(--color-red)')}
                        >
                            {pin.pin}
                        </text>
                        <text
                            x={x(pin.pin) + 6 * outer}
                            y={y(pin.pin) + 4}
                            textAnchor={left ? 'end' : 'start'}
                            className={cn('font-mono', pin.straight ? 'fill-(--color-soft)' : 'fill-(--color-red)')}
                        >
                            {pin.straight
                                ? pin.name
                                : `${pin.name} ${pin.how === 'join' ? `→ ${pin.to}` : pin.how === 'low' ? '→ ground' : pin.how === 'high' ? '→ +5' : 'open'}`}
                        </text>
                    </g>
                );
            })}
        </svg>
    );
}
