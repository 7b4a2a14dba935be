import type { Radix, Ruler } from '../api/schemas';
import { inBase } from '../ui/numbers';

const fill = { ram: 'var(--sheet)', rom: 'var(--rule)', io: 'var(--board)', open: 'transparent' };

/**
 * The memory map as a ruler. Ranges get a width by the logarithm of their size, so that a page of I/O stays visible
 * beside sixteen megabytes; within a range the scale is even.
 */
export function AddressRuler({
    ruler,
    radix,
    addressWidth,
    testedWords = 'read',
    lanes = [],
}: {
    ruler: Ruler;
    radix: Radix;
    addressWidth: number;
    testedWords?: string;
    /** What each diagnostic covers, drawn below the map. */
    lanes?: { name: string; covers: number[][]; chosen: boolean }[];
}) {
    const width = 1000;
    const sizes = ruler.ranges.map((range) => Math.max(1, Math.log2(range.to - range.from + 1) - 5) ** 1.6);
    const total = sizes.reduce((sum, size) => sum + size, 0);
    const starts = sizes.map((_, place) => (sizes.slice(0, place).reduce((sum, size) => sum + size, 0) / total) * width);
    const at = (address: number): number | null => {
        const place = ruler.ranges.findIndex((range) => address >= range.from && address <= range.to);
        const range = ruler.ranges[place];
        return range ? starts[place]! + ((address - range.from) / (range.to - range.from + 1)) * (sizes[place]! / total) * width : null;
    };
    const shown = (address: number) => inBase(address, radix, addressWidth);
    const summary = `${lanes.map((lane) => `${lane.name} tests ${lane.covers.map(([from, to]) => `${shown(from!)} to ${shown(to!)}`).join(', ')}. `).join('')}${ruler.failing.length === 0 ? 'No failing address' : `Failing addresses from ${shown(ruler.failing[0]!)} to ${shown(ruler.failing.at(-1)!)}`}; ${ruler.ranges.map((range) => `${range.name} ${shown(range.from)} to ${shown(range.to)}`).join(', ')}.`;

    return (
        <figure>
            <svg
                viewBox={`-2 0 ${width + 4} ${84 + lanes.length * 34}`}
                className="block w-full"
                role="img"
                aria-label={`Address ruler. ${summary}`}
            >
                <defs>
                    <pattern id="ruler-tested" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
                        <line x1="0" y1="0" x2="0" y2="7" stroke="var(--edge)" strokeWidth="1.4" />
                    </pattern>
                </defs>
                {ruler.ranges.map((range, place) => {
                    const w = (sizes[place]! / total) * width;
                    const label = range.bank ? `bank ${range.bank}` : range.name;
                    return (
                        <g key={range.from}>
                            <rect
                                x={starts[place]}
                                y={22}
                                width={w}
                                height={28}
                                fill={fill[range.kind]}
                                stroke="var(--ink)"
                                strokeWidth={1.2}
                                strokeDasharray={range.kind === 'open' ? '4 3' : undefined}
                            />
                            {w > label.length * 9.5 && (
                                <text
                                    x={starts[place]! + w / 2}
                                    y={41}
                                    textAnchor="middle"
                                    fontSize={16.5}
                                    fill="var(--ink)"
                                    stroke="var(--sheet)"
                                    strokeWidth={3}
                                    paintOrder="stroke"
                                >
                                    {label}
                                    {range.linked ? ' *' : ''}
                                </text>
                            )}
                            {w > shown(range.from).length * 9.6 + 4 && (
                                <text x={starts[place]! + 1} y={69} fontSize={15.5} fontFamily="var(--font-mono)" fill="var(--soft)">
                                    {shown(range.from)}
                                </text>
                            )}
                        </g>
                    );
                })}
                {ruler.tested.map(([from, to]) => {
                    const left = at(from!);
                    const right = at(to!);
                    return left === null || right === null ? null : (
                        <rect
                            key={from}
                            x={left}
                            y={44}
                            width={Math.max(1.5, right - left)}
                            height={6}
                            fill="url(#ruler-tested)"
                            stroke="var(--edge)"
                            strokeWidth={0.5}
                        />
                    );
                })}
                {lanes.map((lane, place) => (
                    <g key={lane.name}>
                        <text
                            x={0}
                            y={92 + place * 34}
                            fontSize={15}
                            fontWeight={lane.chosen ? 700 : 400}
                            fill={lane.chosen ? 'var(--ink)' : 'var(--soft)'}
                        >
                            {lane.name}
                        </text>
                        <line x1={0} x2={width} y1={109 + place * 34} y2={109 + place * 34} stroke="var(--rule)" />
                        {lane.covers.map(([from, to]) => {
                            const left = at(from!);
                            const right = at(to!);
                            return left === null || right === null ? null : (
                                <rect
                                    key={from}
                                    x={left}
                                    y={99 + place * 34}
                                    width={Math.max(3, right - left)}
                                    height={10}
                                    fill="url(#ruler-tested)"
                                    stroke={lane.chosen ? 'var(--ink)' : 'var(--edge)'}
                                />
                            );
                        })}
                    </g>
                ))}
                {ruler.failing.map((address) => {
                    const left = at(address);
                    return left === null ? null : (
                        <line key={address} x1={left} x2={left} y1={6} y2={22} stroke="var(--red)" strokeWidth={2} />
                    );
                })}
                {ruler.firstFailing.map((address) => {
                    const left = at(address);
                    return left === null ? null : (
                        <g key={address}>
                            <path d={`M${left - 6} 2h12l-6 10z`} fill="var(--ochre)" />
                            <line x1={left} x2={left} y1={10} y2={50} stroke="var(--ochre)" strokeWidth={2} strokeDasharray="3 2" />
                        </g>
                    );
                })}
            </svg>
            <figcaption className="flex flex-wrap gap-x-4 text-[13px] text-soft">
                <span>
                    <i className="mr-1 inline-block h-3 w-0.5 bg-red align-middle" aria-hidden />
                    failed here
                </span>
                <span>
                    <i className="hatch-soft mr-1 inline-block h-2.5 w-4 border border-edge align-middle" aria-hidden />
                    {testedWords}
                </span>
                {ruler.firstFailing.length > 0 && (
                    <span>
                        <span className="text-ochre" aria-hidden>
                            ▼
                        </span>{' '}
                        first failing by the free-memory figure, {ruler.firstFailing.map(shown).join(', ')}
                    </span>
                )}
                {ruler.ranges.some((range) => range.linked) && <span>* depends on a link or latch</span>}
            </figcaption>
        </figure>
    );
}
