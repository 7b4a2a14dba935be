import { useQuery } from '@tanstack/react-query';
import { historyQuery } from '../api/queries';
import type { Job } from '../api/schemas';
import { percent } from '../ui/numbers';

const dashes = [undefined, '7 3', '2 3'];

/** How the suspicion of the leading sites moved, observation by observation. */
export function Moves({ job }: { job: Job }) {
    const standing = job.log.filter((entry) => entry.withdrawnAt === null);
    const basis = `${job.radix}/${standing.map((entry) => entry.id).join()}`;
    const history = useQuery({ ...historyQuery(job.id, basis), enabled: standing.length > 1, placeholderData: (before) => before });
    const moves = history.data ?? [];
    const sites = [...new Set([...job.suspects.slice(0, 3).map((suspect) => suspect.site), ...job.cured.map((cured) => cured.site)])].slice(
        0,
        3,
    );
    if (moves.length < 2 || sites.length === 0) {
        return null;
    }
    const width = 316;
    const height = 96;
    const x = (place: number) => 4 + (place / (moves.length - 1)) * (width - 74);
    const y = (share: number) => 8 + (1 - share) * (height - 24);
    const ends = sites.map((site) => ({ site, last: moves.at(-1)!.shares[site] ?? 0 }));
    const labels = spread(ends.map((end) => y(end.last)));

    return (
        <section aria-label="How suspicion moved">
            <h3 className="mb-1 text-sm font-semibold text-soft">How suspicion moved</h3>
            <svg
                viewBox={`0 0 ${width} ${height}`}
                className="block w-full"
                role="img"
                aria-label={ends
                    .map((end) => `${end.site}: ${moves.map((move) => percent(move.shares[end.site] ?? 0)).join(', ')} %`)
                    .join('; ')}
            >
                {[0, 0.5, 1].map((share) => (
                    <line
                        key={share}
                        x1={4}
                        x2={width - 70}
                        y1={y(share)}
                        y2={y(share)}
                        stroke="var(--rule)"
                        strokeWidth={share === 0 ? 1.2 : 0.6}
                    />
                ))}
                {sites.map((site, number) => (
                    <polyline
                        key={site}
                        points={moves.map((move, place) => `${x(place)},${y(move.shares[site] ?? 0)}`).join(' ')}
                        fill="none"
                        stroke={number === 0 ? 'var(--red)' : 'var(--ink)'}
                        strokeWidth={number === 0 ? 2.2 : 1.5}
                        strokeDasharray={dashes[number]}
                    />
                ))}
                {ends.map((end, number) => (
                    <text
                        key={end.site}
                        x={width - 66}
                        y={labels[number]! + 4}
                        fontSize={12}
                        fill={number === 0 ? 'var(--red)' : 'var(--ink)'}
                    >
                        {end.site.length > 7 ? `${end.site.slice(0, 6)}…` : end.site} {percent(end.last)}
                    </text>
                ))}
                <text x={4} y={height - 2} fontSize={10} fill="var(--soft)">
                    {`${moves[0]!.sequence}`}
                </text>
                <text x={width - 74} y={height - 2} fontSize={10} fill="var(--soft)" textAnchor="middle">
                    {`${moves.at(-1)!.sequence}`}
                </text>
                <text x={(width - 74) / 2} y={height - 2} fontSize={10} fill="var(--soft)" textAnchor="middle">
                    observation
                </text>
            </svg>
        </section>
    );
}

/** Keeps labels a line apart. */
function spread(places: number[]): number[] {
    const lowest = 84;
    const order = places.map((place, number) => ({ place, number })).sort((a, b) => a.place - b.place);
    order.forEach((label, rank) => {
        const above = order[rank - 1];
        if (above && label.place < above.place + 13) {
            label.place = above.place + 13;
        }
    });
    // The lowest line of the plot takes the last label; the others move up from there.
    for (let rank = order.length - 1; rank >= 0; rank--) {
        const limit = rank === order.length - 1 ? lowest : order[rank + 1]!.place - 13;
        order[rank]!.place = Math.min(order[rank]!.place, limit);
    }
    return places.map((_, number) => order.find((label) => label.number === number)!.place);
}
