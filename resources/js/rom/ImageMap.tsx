import { inBase } from '../ui/numbers';

const hex = (value: number) => inBase(value, 16, 16);

/** The image from its first byte to its last, sixteen stretches to a row: the darker a cell, the more of it differs. */
export function ImageMap({ map, size, onGo }: { map: number[]; size: number; onGo: (at: number) => void }) {
    const each = Math.max(1, Math.ceil(size / 256));
    const side = 15;
    const rows = Math.ceil(map.length / 16);
    return (
        <figure className="flex flex-col gap-1">
            <svg
                width={16 * side + 52}
                height={rows * side + 2}
                role="img"
                aria-label={`Where it differs: ${map.filter((share) => share > 0).length} of ${map.length} stretches of ${each} bytes`}
                data-testid="image-map"
            >
                {Array.from({ length: rows }, (_, row) => (
                    <text
                        key={row}
                        x={46}
                        y={row * side + side - 3}
                        textAnchor="end"
                        className="fill-(--color-soft) font-mono"
                        fontSize={11}
                    >
                        {hex(row * 16 * each)}
                    </text>
                ))}
                {map.map((share, cell) => (
                    <rect
                        key={cell}
                        x={51 + (cell % 16) * side}
                        y={Math.floor(cell / 16) * side + 1}
                        width={side - 2}
                        height={side - 2}
                        className={share > 0 ? 'cursor-pointer fill-(--color-red)' : 'fill-(--color-board)'}
                        fillOpacity={share > 0 ? 0.25 + 0.75 * share : 1}
                        onClick={() => onGo(cell * each)}
                    >
                        <title>{`${hex(cell * each)} to ${hex(Math.min(size, (cell + 1) * each) - 1)}: ${Math.round(1000 * share) / 10} % differs`}</title>
                    </rect>
                ))}
            </svg>
            <figcaption className="text-[13px] text-soft">A cell is {each} bytes; choose one to see its bytes.</figcaption>
        </figure>
    );
}
