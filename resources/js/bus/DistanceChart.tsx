import type { BusCapture } from '../api/schemas';

/** How far each capture went as it should, in the order they were made: between repairs it should grow. */
export function DistanceChart({ captures }: { captures: BusCapture[] }) {
    const measured = captures.filter((capture) => capture.role === 'sick' && capture.distance !== null);
    if (measured.length < 2) {
        return null;
    }
    const most = Math.max(...measured.map((capture) => capture.distance!), 1);
    const scale = (value: number) => (360 * Math.log10(1 + value)) / Math.log10(1 + most);
    return (
        <figure className="overflow-x-auto">
            <figcaption className="text-[13px] text-soft">
                Cycles that were as they should be, capture by capture (a longer bar for ten times as many)
            </figcaption>
            <svg
                width={640}
                height={measured.length * 26 + 4}
                role="img"
                aria-label={`Distance: ${measured.map((each) => `${each.name} ${each.distance}`).join(', ')}`}
                data-testid="distances"
            >
                {measured.map((capture, row) => (
                    <g key={capture.id}>
                        <text x={170} y={row * 26 + 18} textAnchor="end" fontSize={13} className="fill-(--color-ink)">
                            {capture.name.length > 24 ? `${capture.name.slice(0, 23)}…` : capture.name}
                        </text>
                        <rect
                            x={180}
                            y={row * 26 + 7}
                            width={Math.max(2, scale(capture.distance!))}
                            height={14}
                            className={capture.parted ? 'fill-(--color-edge)' : 'fill-(--color-green)'}
                        />
                        <text x={188 + scale(capture.distance!)} y={row * 26 + 18} fontSize={13} className="fill-(--color-ink) font-mono">
                            {capture.distance}
                            {capture.parted ? '' : ' ✓'}
                        </text>
                    </g>
                ))}
            </svg>
        </figure>
    );
}
