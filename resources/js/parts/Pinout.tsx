import type { LibraryPart, LibraryPin } from '../api/schemas';
import { cn } from '../ui';

const arrows = { in: '→', out: '←', both: '↔', supply: '', passive: '', none: '' };
const says = { in: 'input', out: 'output', both: 'both ways', supply: 'supply', passive: '', none: 'not connected' };

/**
 * The pins as they lie, the notch at the top: down the left side and up the right, seen from above; from below the
 * sides change places.
 */
export function Pinout({ part, below, className }: { part: LibraryPart; below?: boolean; className?: string }) {
    const dual = part.pins > 3 && part.pins % 2 === 0 && !['connector', 'discrete'].includes(part.kind);
    const half = part.pins / 2;
    const step = 26;
    const width = part.wide ? 170 : 120;
    const left = 160;
    const rows = dual ? half : part.pins;
    const height = rows * step + 24;
    const at = (number: number) => {
        if (!dual) {
            return { onLeft: !below, y: 12 + (number - 0.5) * step };
        }
        const first = number <= half;
        return { onLeft: first !== Boolean(below), y: 12 + ((first ? number : part.pins - number + 1) - 0.5) * step };
    };
    return (
        <svg
            viewBox={`0 0 ${left * 2 + width} ${height + 4}`}
            className={cn('block w-full', className)}
            style={{ maxWidth: left * 2 + width }}
            role="img"
            aria-label={`Pinout of ${part.name}, from ${below ? 'below' : 'above'}: ${part.pinList.map((pin) => `${pin.number} ${spoken(pin)}`).join(', ')}`}
        >
            <rect x={left} y={2} width={width} height={height} rx={3} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.6} />
            {dual && <path d={`M${left + width / 2 - 10} 2a10 10 0 0 0 20 0`} fill="var(--print)" stroke="var(--ink)" strokeWidth={1.4} />}
            <text
                x={left + width / 2}
                y={height / 2 + 2}
                textAnchor="middle"
                fontSize={part.wide ? 20 : 14}
                fontWeight={650}
                fill="var(--ink)"
            >
                {part.name}
            </text>
            <text x={left + width / 2} y={height / 2 + 20} textAnchor="middle" fontSize={12} fill="var(--soft)">
                from {below ? 'below' : 'above'}
            </text>
            {part.pinList.map((pin) => {
                const { onLeft, y } = at(pin.number);
                const edge = onLeft ? left : left + width;
                const out = onLeft ? -1 : 1;
                const colour = pin.direction === 'supply' ? 'var(--ochre)' : pin.direction === 'none' ? 'var(--soft)' : 'var(--ink)';
                return (
                    <g key={pin.number} fill={colour}>
                        <line x1={edge} y1={y} x2={edge + out * 16} y2={y} stroke={colour} strokeWidth={2.4} />
                        <text
                            x={edge - out * 6}
                            y={y + 4}
                            textAnchor={onLeft ? 'start' : 'end'}
                            fontSize={12}
                            fontFamily="var(--font-mono)"
                        >
                            {pin.number}
                        </text>
                        {pin.activeLow && (
                            <circle cx={edge + out * 4} cy={y} r={3.6} fill="var(--sheet)" stroke={colour} strokeWidth={1.2} />
                        )}
                        <text
                            x={edge + out * 22}
                            y={y + 5}
                            textAnchor={onLeft ? 'end' : 'start'}
                            fontSize={15}
                            fontFamily="var(--font-mono)"
                            fontWeight={pin.direction === 'out' ? 600 : 400}
                            textDecoration={pin.activeLow ? 'overline' : undefined}
                        >
                            {pin.name.replace('//', '/')}
                        </text>
                        <text x={edge + out * 100} y={y + 5} textAnchor={onLeft ? 'end' : 'start'} fontSize={13} fill="var(--soft)">
                            {onLeft
                                ? arrows[pin.direction]
                                : { in: '←', out: '→', both: '↔', supply: '', passive: '', none: '' }[pin.direction]}
                        </text>
                    </g>
                );
            })}
        </svg>
    );
}

const spoken = (pin: LibraryPin) => `${pin.name.replace('//', '/')}${pin.activeLow ? ' active low' : ''} ${says[pin.direction]}`.trim();
