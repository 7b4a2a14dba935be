import { useId } from 'react';
import type { Board, BoardPart, Suspect } from '../api/schemas';
import { cn } from '../ui';
import { percent } from '../ui/numbers';

type Props = {
    board: Board;
    suspects?: Suspect[];
    /** Chips whose bits were read right both ways. */
    cleared?: Set<string>;
    /** Parts that were replaced: drawn with a double outline. */
    replaced?: Set<string>;
    /** Parts that are warm: how much over the room, and what to make of it. */
    warmth?: Map<string, { rise: number; verdict: string }>;
    /** A few words at a part: what was seen on it. */
    flags?: Map<string, string>;
    /** Small: outlines only, names for suspects alone. */
    small?: boolean;
    /** Seen from below, mirrored as the board lies when it is turned over. */
    underside?: boolean;
    selected?: string | null;
    onSelect?: (ref: string) => void;
    className?: string;
};

const pitch = 2.54;

function bodyOf(part: BoardPart) {
    if (part.pins <= 3) {
        return { length: 14, height: 8 };
    }
    const length = (part.pins / 2) * pitch + 0.6;
    return { length, height: part.wide ? 16 : 11 };
}

/** As it lies: turned by a quarter it stands upright. */
function outlineOf(part: BoardPart) {
    const { length, height } = bodyOf(part);
    const upright = part.turn === 90 || part.turn === 270;
    return { upright, width: upright ? height : length, tall: upright ? length : height };
}

/** The board as it lies: outlines where the parts sit, red-pencil hatching where suspicion is, a tick where a chip read well. */
export function BoardPlan({
    board,
    suspects = [],
    cleared,
    replaced,
    warmth,
    flags,
    small,
    underside,
    selected,
    onSelect,
    className,
}: Props) {
    const id = useId().replaceAll(/[^a-zA-Z0-9]/g, '');
    const plan = board.plan;
    if (!plan) {
        return <p className="text-soft">This profile has no plan: it does not say where the parts sit.</p>;
    }
    // A part is drawn where it sits now; a pin and a contact at their chip.
    const shareOf = new Map<string, number>();
    for (const suspect of suspects) {
        const place = suspect.seat ?? suspect.site;
        shareOf.set(place, Math.max(shareOf.get(place) ?? 0, suspect.share));
    }
    const leading = new Set(
        suspects
            .slice(0, 3)
            .filter((suspect) => suspect.share >= 0.05)
            .map((suspect) => suspect.seat ?? suspect.site),
    );
    const lifts = liftsOf(board.parts.filter((part) => leading.has(part.ref)));
    // What was put across the edge, as one draws, is seen whole all the same.
    const margin = Math.max(
        5,
        ...board.parts.flatMap((part) => {
            if (part.x === null || part.y === null) {
                return [];
            }
            const { width, tall } = outlineOf(part);
            return [width / 2 - part.x, part.x + width / 2 - plan.width, tall / 2 - part.y, part.y + tall / 2 - plan.height];
        }),
    );
    const named = suspects.filter((suspect) => suspect.share >= 0.01).map((suspect) => `${suspect.site} ${percent(suspect.share)} %`);
    const x = (value: number) => (underside ? plan.width - value : value);

    return (
        <svg
            viewBox={`${-margin} ${-margin} ${plan.width + 2 * margin} ${plan.height + 2 * margin}`}
            className={cn('block w-full', className)}
            role="group"
            aria-label={`Board plan of ${board.name}${underside ? ', underside' : ''}. ${named.length ? `Suspects: ${named.join(', ')}` : 'No suspects.'}`}
        >
            <defs>
                {[6.5, 4.6, 3.2, 2.2].map((gap, level) => (
                    <pattern
                        key={gap}
                        id={`${id}h${level}`}
                        width={gap}
                        height={gap}
                        patternUnits="userSpaceOnUse"
                        patternTransform="rotate(45)"
                    >
                        <line x1="0" y1="0" x2="0" y2={gap} stroke="var(--red)" strokeWidth={level > 1 ? 0.85 : 0.7} />
                    </pattern>
                ))}
            </defs>
            <rect x={0} y={0} width={plan.width} height={plan.height} rx={2.5} fill="var(--board)" stroke="var(--ink)" strokeWidth={0.7} />
            {plan.holes.map((hole) => (
                <circle
                    key={`${hole.x}/${hole.y}`}
                    cx={x(hole.x)}
                    cy={hole.y}
                    r={2}
                    fill="var(--print)"
                    stroke="var(--ink)"
                    strokeWidth={0.4}
                />
            ))}
            {plan.connectors.map((connector) => {
                const across = connector.edge === 'top' || connector.edge === 'bottom';
                const left = across
                    ? underside
                        ? plan.width - connector.at - connector.length
                        : connector.at
                    : (connector.edge === 'right') !== Boolean(underside)
                      ? plan.width - 4
                      : 0;
                const top = across ? (connector.edge === 'top' ? 0 : plan.height - 5) : connector.at;
                return (
                    <g key={connector.name}>
                        <rect
                            x={left}
                            y={top}
                            width={across ? connector.length : 4}
                            height={across ? 5 : connector.length}
                            fill="var(--rule)"
                            stroke="var(--ink)"
                            strokeWidth={0.5}
                        />
                        {!small && across && (
                            <text x={left + connector.length / 2} y={top + 3.7} textAnchor="middle" fontSize={3.4} fill="var(--ink)">
                                {connector.name}
                            </text>
                        )}
                        {!small && !across && (
                            <text
                                x={left < plan.width / 2 ? left + 5 : left - 1}
                                y={top + connector.length / 2 + 1.1}
                                textAnchor={left < plan.width / 2 ? 'start' : 'end'}
                                fontSize={3.4}
                                fill="var(--soft)"
                            >
                                {connector.name}
                            </text>
                        )}
                    </g>
                );
            })}
            {board.assemblies.map(
                (assembly) =>
                    assembly.outline && (
                        <g key={assembly.id}>
                            <rect
                                x={underside ? plan.width - assembly.outline.x - assembly.outline.width : assembly.outline.x}
                                y={assembly.outline.y}
                                width={assembly.outline.width}
                                height={assembly.outline.height}
                                fill="var(--sheet)"
                                fillOpacity={0.45}
                                stroke="var(--ink)"
                                strokeWidth={0.5}
                                strokeDasharray="3 1.5"
                            />
                            {!small && (
                                <text
                                    x={underside ? plan.width - assembly.outline.x - assembly.outline.width + 2 : assembly.outline.x + 2}
                                    y={assembly.outline.y + 5}
                                    fontSize={4}
                                    fill="var(--soft)"
                                >
                                    {assembly.name}
                                </text>
                            )}
                        </g>
                    ),
            )}
            {!small && board.memoryBanks.map((bank) => <BankBracket key={bank.name} board={board} bank={bank} x={x} />)}
            {board.settings.map(
                (setting) =>
                    setting.x !== null &&
                    setting.y !== null && (
                        <g key={setting.ref}>
                            <rect
                                x={x(setting.x) - 4}
                                y={setting.y - 1.8}
                                width={8}
                                height={3.6}
                                fill={shareOf.has(setting.ref) ? `url(#${id}h1)` : 'var(--sheet)'}
                                stroke="var(--ink)"
                                strokeWidth={0.4}
                            />
                            <circle cx={x(setting.x) - 2.2} cy={setting.y} r={0.8} fill="var(--ink)" />
                            <circle cx={x(setting.x)} cy={setting.y} r={0.8} fill="var(--ink)" />
                            <circle cx={x(setting.x) + 2.2} cy={setting.y} r={0.8} fill="var(--ink)" />
                            {!small && (
                                <text x={x(setting.x) + 5} y={setting.y + 1.3} fontSize={3.6} fill="var(--soft)">
                                    {setting.ref}
                                </text>
                            )}
                        </g>
                    ),
            )}
            {board.parts.map((part) => (
                <Outline
                    key={part.ref}
                    part={part}
                    x={x}
                    hatch={id}
                    share={shareOf.get(part.ref) ?? 0}
                    labelled={!small || leading.has(part.ref)}
                    lift={lifts.get(part.ref) ?? 0}
                    cleared={cleared?.has(part.ref) ?? false}
                    replaced={replaced?.has(part.ref) ?? false}
                    warm={warmth?.get(part.ref)}
                    flag={flags?.get(part.ref)}
                    small={small ?? false}
                    underside={underside ?? false}
                    selected={selected === part.ref}
                    onSelect={onSelect}
                />
            ))}
        </svg>
    );
}

/** On the small plan, labels of neighbours would cover each other: every second one is raised. */
function liftsOf(parts: BoardPart[]): Map<string, number> {
    const lifts = new Map<string, number>();
    for (const part of [...parts].sort((a, b) => (a.x ?? 0) - (b.x ?? 0))) {
        const beside = parts.find(
            (other) =>
                lifts.get(other.ref) === 0 &&
                Math.abs((other.x ?? 0) - (part.x ?? 0)) < 36 &&
                Math.abs((other.y ?? 0) - (part.y ?? 0)) < 11,
        );
        lifts.set(part.ref, beside ? 12 : 0);
    }
    return lifts;
}

function BankBracket({ board, bank, x }: { board: Board; bank: Board['memoryBanks'][number]; x: (value: number) => number }) {
    const chips = new Set(bank.chipOfBit.map((entry) => entry.chip));
    const rows = new Map<number, BoardPart[]>();
    for (const part of board.parts) {
        if (chips.has(part.ref) && part.x !== null && part.y !== null) {
            rows.set(part.y, [...(rows.get(part.y) ?? []), part]);
        }
    }
    return [...rows].map(([y, parts]) => {
        const ends = parts.flatMap((part) => [x(part.x!) - bodyOf(part).length / 2, x(part.x!) + bodyOf(part).length / 2]);
        const left = Math.min(...ends);
        const right = Math.max(...ends);
        const below = y + 8.4;
        return (
            <g key={y} stroke="var(--edge)" fill="none" strokeWidth={0.4}>
                <path d={`M${left} ${below - 1.4}V${below}H${right}V${below - 1.4}`} />
                <text x={(left + right) / 2} y={below + 3.9} textAnchor="middle" fontSize={3.6} fill="var(--soft)" stroke="none">
                    bank {bank.name}
                </text>
            </g>
        );
    });
}

function Outline({
    part,
    x,
    hatch,
    share,
    labelled,
    lift,
    cleared,
    replaced,
    warm,
    flag,
    small,
    underside,
    selected,
    onSelect,
}: {
    part: BoardPart;
    x: (value: number) => number;
    hatch: string;
    share: number;
    labelled: boolean;
    lift: number;
    cleared: boolean;
    replaced: boolean;
    warm?: { rise: number; verdict: string };
    flag?: string;
    small: boolean;
    underside: boolean;
    selected: boolean;
    onSelect?: (ref: string) => void;
}) {
    if (part.x === null || part.y === null) {
        return null;
    }
    const { upright, width, tall } = outlineOf(part);
    const suspect = share >= 0.01;
    const level = share > 0.6 ? 3 : share > 0.25 ? 2 : share > 0.06 ? 1 : 0;
    const line = suspect ? 'var(--red)' : 'var(--ink)';
    const legs = part.pins > 3 ? part.pins / 2 : 0;
    const notch = underside ? (part.turn === 0 ? 180 : part.turn === 180 ? 0 : part.turn) : part.turn;
    const warmth = warm ? ` ${warm.rise >= 0 ? '+' : ''}${Math.round(warm.rise)} °C` : '';
    // What is to be read on it comes first, in the order in which it stands there.
    const about = `${part.ref} ${part.part}${warmth}${flag ? ` ${flag}` : ''}${suspect && share >= 0.01 ? ` ${percent(share)} %` : ''}${part.role ? `, ${part.role}` : ''}${suspect ? ', suspect' : ''}${cleared ? ', read right both ways' : ''}${warm?.verdict ? `, ${warm.verdict}` : ''}`;
    const interactive = onSelect
        ? {
              role: 'button',
              tabIndex: 0,
              'aria-pressed': selected,
              'aria-label': about,
              onClick: () => onSelect(part.ref),
              onKeyDown: (event: React.KeyboardEvent) => {
                  if (event.key === 'Enter' || event.key === ' ') {
                      event.preventDefault();
                      onSelect(part.ref);
                  }
              },
          }
        : {};
    const text = (size: number, room: number, characters: number) => Math.min(size, (room - 1.5) / (characters * 0.58));

    return (
        <g transform={`translate(${x(part.x)} ${part.y})`} {...interactive} data-chip={part.ref}>
            {!onSelect && <title>{about}</title>}
            {!small &&
                Array.from({ length: legs }, (_, leg) => {
                    const along = (leg - (legs - 1) / 2) * pitch;
                    return upright ? (
                        <path key={leg} d={`M${-width / 2} ${along}h-1M${width / 2} ${along}h1`} stroke={line} strokeWidth={0.35} />
                    ) : (
                        <path key={leg} d={`M${along} ${-tall / 2}v-1M${along} ${tall / 2}v1`} stroke={line} strokeWidth={0.35} />
                    );
                })}
            <rect
                x={-width / 2}
                y={-tall / 2}
                width={width}
                height={tall}
                rx={0.6}
                fill="var(--sheet)"
                stroke={line}
                strokeWidth={suspect ? 0.9 : cleared ? 0.35 : 0.55}
            />
            {suspect && <rect x={-width / 2} y={-tall / 2} width={width} height={tall} rx={0.6} fill={`url(#${hatch}h${level})`} />}
            {warm && (
                <rect
                    x={-width / 2}
                    y={-tall / 2}
                    width={width}
                    height={tall}
                    rx={0.6}
                    fill="var(--red)"
                    fillOpacity={Math.max(0, Math.min(0.5, warm.rise / 90))}
                    stroke={warm.verdict === 'hot' ? 'var(--red)' : warm.verdict === 'cold' ? 'var(--ochre)' : 'none'}
                    strokeWidth={1.4}
                    strokeDasharray={warm.verdict === 'cold' ? '2 1.4' : undefined}
                />
            )}
            {replaced && (
                <rect
                    x={-width / 2 + 0.9}
                    y={-tall / 2 + 0.9}
                    width={width - 1.8}
                    height={tall - 1.8}
                    fill="none"
                    stroke={line}
                    strokeWidth={0.4}
                />
            )}
            {selected && (
                <rect
                    x={-width / 2 - 1.8}
                    y={-tall / 2 - 1.8}
                    width={width + 3.6}
                    height={tall + 3.6}
                    fill="none"
                    stroke="var(--ink)"
                    strokeWidth={0.8}
                />
            )}
            {part.pins > 3 && <Notch turn={notch} width={width} tall={tall} line={line} />}
            {!small && (
                <g
                    transform={upright ? 'rotate(-90)' : undefined}
                    textAnchor="middle"
                    fill={suspect ? 'var(--red)' : 'var(--ink)'}
                    stroke="var(--sheet)"
                    strokeWidth={suspect ? 1.6 : 0}
                    paintOrder="stroke"
                >
                    <text y={part.pins <= 3 ? -0.2 : -0.3} fontSize={text(5.2, upright ? tall : width, part.ref.length)} fontWeight={650}>
                        {part.ref}
                    </text>{' '}
                    <text
                        y={part.pins <= 3 ? 3.1 : 4.2}
                        fontSize={text(4.1, upright ? tall : width, part.part.length)}
                        fontFamily="var(--font-mono)"
                        fill={suspect ? 'var(--red)' : 'var(--soft)'}
                    >
                        {part.part}
                    </text>
                </g>
            )}
            {warm && !small && (
                <g transform={`translate(0 ${tall / 2 + 2.4})`}>
                    <rect
                        x={-7.5}
                        y={-2.5}
                        width={15}
                        height={5.2}
                        rx={1}
                        fill={warm.verdict === 'hot' ? 'var(--red)' : 'var(--sheet)'}
                        stroke="var(--ink)"
                        strokeWidth={0.3}
                    />
                    <text
                        y={1.5}
                        textAnchor="middle"
                        fontSize={3.9}
                        fontWeight={650}
                        fill={warm.verdict === 'hot' ? 'var(--sheet)' : warm.verdict === 'cold' ? 'var(--ochre)' : 'var(--ink)'}
                    >
                        {warmth}
                    </text>
                </g>
            )}
            {flag && !small && (
                <g transform={`translate(0 ${tall / 2 + 2.2})`}>
                    <rect
                        x={-flag.length * 1.05 - 1.5}
                        y={-2.4}
                        width={flag.length * 2.1 + 3}
                        height={4.9}
                        fill="var(--sheet)"
                        stroke="var(--red)"
                        strokeWidth={0.5}
                    />
                    <text y={1.3} textAnchor="middle" fontSize={3.7} fontWeight={650} fill="var(--red)">
                        {` ${flag}`}
                    </text>
                </g>
            )}
            {cleared && !suspect && (
                <path
                    d={`M${width / 2 - 4.2} ${-tall / 2 + 2}l1.2 1.3 2-2.6`}
                    fill="none"
                    stroke="var(--green)"
                    strokeWidth={small ? 1.2 : 0.75}
                />
            )}{' '}
            {suspect && labelled && share >= 0.02 && (
                <g transform={`translate(0 ${-tall / 2 - (small ? 5 + lift : 2.4)})`}>
                    <rect
                        x={small ? -17 : -7}
                        y={small ? -6 : -2.5}
                        width={small ? 34 : 14}
                        height={small ? 11 : 4.9}
                        rx={1}
                        fill="var(--red)"
                    />
                    <text y={small ? 2.4 : 1.35} textAnchor="middle" fontSize={small ? 8.6 : 3.8} fontWeight={650} fill="var(--sheet)">
                        {small ? `${part.ref} ${percent(share)}%` : `${percent(share)} %`}
                    </text>
                </g>
            )}
        </g>
    );
}

function Notch({ turn, width, tall, line }: { turn: number; width: number; tall: number; line: string }) {
    const path = {
        0: `M${-width / 2} -1.3a1.3 1.3 0 0 1 0 2.6`,
        180: `M${width / 2} -1.3a1.3 1.3 0 0 0 0 2.6`,
        90: `M-1.3 ${-tall / 2}a1.3 1.3 0 0 0 2.6 0`,
        270: `M-1.3 ${tall / 2}a1.3 1.3 0 0 1 2.6 0`,
    }[turn];
    return <path d={path} fill="none" stroke={line} strokeWidth={0.45} />;
}
