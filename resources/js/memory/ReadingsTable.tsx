import type { Radix, ReadingRow, ReadingRows } from '../api/schemas';
import { cn } from '../ui';
import { grouped, inBase } from '../ui/numbers';

/** The readings, failing ones first. Choosing one shows it on the comb. */
export function ReadingsTable({
    table,
    radix,
    addressWidth,
    chosen,
    onChoose,
}: {
    table: ReadingRows;
    radix: Radix;
    addressWidth: number;
    chosen: ReadingRow | null;
    onChoose: (row: ReadingRow) => void;
}) {
    const rows = table.rows.slice(0, 120);
    return (
        // A region that scrolls must be reachable by keyboard.
        // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
        <div className="max-h-96 overflow-y-auto" role="region" aria-label="Readings" tabIndex={0}>
            <table className="w-full font-mono text-[13px]">
                <thead className="sticky top-0 bg-sheet text-left font-sans text-soft">
                    <tr className="border-b border-ink">
                        <th className="py-1 pr-3 font-semibold">address</th>
                        <th className="py-1 pr-3 font-semibold">wrote</th>
                        <th className="py-1 pr-3 font-semibold">read</th>
                        <th className="py-1 pr-3 font-semibold">bits</th>
                    </tr>
                </thead>
                <tbody>
                    {rows.map((row, place) => {
                        const differs = row.expected ^ row.read;
                        const bits = Array.from({ length: row.bits }, (_, bit) => bit).filter((bit) => (differs >>> bit) & 1);
                        return (
                            <tr key={place} className={cn('border-b border-rule', row === chosen && 'bg-print')}>
                                <td className="pr-3">
                                    <button
                                        type="button"
                                        className="min-h-6 min-w-6 underline decoration-rule underline-offset-2 hover:decoration-ink"
                                        aria-pressed={row === chosen}
                                        onClick={() => onChoose(row)}
                                    >
                                        {row.page === null ? '' : `${inBase(row.page, radix, 4)}:`}
                                        {inBase(row.address, radix, addressWidth)}
                                    </button>
                                </td>
                                <td className="py-0.5 pr-3">{inBase(row.expected, radix, row.bits)}</td>
                                <td className={cn('py-0.5 pr-3', differs !== 0 && 'font-semibold text-red')}>
                                    {inBase(row.read, radix, row.bits)}
                                </td>
                                <td className="py-0.5 pr-3 whitespace-nowrap">
                                    {bits.length === 0 ? (
                                        <span className="text-green">
                                            <span aria-hidden>✓</span> right
                                        </span>
                                    ) : bits.length > 6 ? (
                                        `${bits.length} bits`
                                    ) : (
                                        bits
                                            .reverse()
                                            .map((bit) => `D${bit + row.firstLine}`)
                                            .join(' ')
                                    )}
                                </td>
                            </tr>
                        );
                    })}
                </tbody>
            </table>
            {(table.more > 0 || table.rows.length > rows.length) && (
                <p className="py-1 text-[13px] text-soft">
                    {grouped(table.more + table.rows.length - rows.length)} more are counted above and not listed here.
                </p>
            )}
        </div>
    );
}
