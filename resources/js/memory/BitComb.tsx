import type { Bank, Bit, ReadingRow } from '../api/schemas';
import { cn } from '../ui';
import { count } from '../ui/numbers';

const way = { high: 'reads 1', low: 'reads 0', either: 'wrong both ways', none: '' };

/** One tooth for each data line: expected and read above, below it the chip of each bank with its failures. */
export function BitComb({ banks, width, reading }: { banks: Bank[]; width: number; reading: ReadingRow | null }) {
    const lines = Array.from({ length: width }, (_, place) => width - 1 - place);
    const tried = banks.filter((bank) => bank.bits.some((bit) => bit.tested > 0));
    const shown = tried.length > 0 ? tried : banks.slice(0, 1);
    const valueOf = (line: number, value: number) =>
        reading && line >= reading.firstLine && line < reading.firstLine + reading.bits ? (value >>> (line - reading.firstLine)) & 1 : null;
    const dense = width > 8;

    return (
        // On a narrow screen it is scrolled, also by keyboard.
        // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
        <div role="group" aria-label="Bit comb" tabIndex={0} className="overflow-x-auto">
            <div className="grid min-w-fit gap-x-1" style={{ gridTemplateColumns: `repeat(${width}, minmax(${dense ? 38 : 56}px, 1fr))` }}>
                {lines.map((line) => {
                    const bits = shown.map((bank) => bank.bits.find((bit) => bit.bit === line));
                    const failing = bits.some((bit) => (bit?.failed ?? 0) > 0);
                    const expected = reading ? valueOf(line, reading.expected) : null;
                    const read = reading ? valueOf(line, reading.read) : null;
                    return (
                        <div
                            key={line}
                            data-bit={line}
                            data-failing={failing}
                            className={cn(
                                'flex flex-col border border-t-[4px] border-rule border-t-ink bg-print text-center',
                                failing && 'border-red border-t-red bg-sheet',
                            )}
                        >
                            <div className="pt-1 font-mono text-[13px] font-semibold">D{line}</div>
                            <div className={cn('h-5 font-mono', dense ? 'text-[12px]' : 'text-[15px]')}>
                                {expected === null ? (
                                    <span className="text-soft" aria-label="not in this reading">
                                        –
                                    </span>
                                ) : (
                                    <>
                                        <span className="text-soft">{expected}</span>
                                        <span className="text-soft" aria-label=" expected, read ">
                                            {dense ? '›' : ' → '}
                                        </span>
                                        <span className={cn(read !== expected && 'font-semibold text-red')}>{read}</span>
                                    </>
                                )}
                            </div>
                            {bits.map((bit, place) => (
                                <Tooth
                                    key={shown[place]!.name}
                                    bit={bit}
                                    bank={shown[place]!.name}
                                    dense={dense}
                                    last={place === bits.length - 1}
                                />
                            ))}
                        </div>
                    );
                })}
            </div>
            {shown.length > 1 && (
                <p className="mt-1 text-[13px] text-soft">From above: {shown.map((bank) => `bank ${bank.name}`).join(', ')}.</p>
            )}
        </div>
    );
}

function Tooth({ bit, bank, dense, last }: { bit: Bit | undefined; bank: string; dense: boolean; last: boolean }) {
    if (!bit) {
        return <div className={cn('px-0.5 py-1 text-[12px] text-soft', !last && 'border-b border-rule')}>no chip</div>;
    }
    const wrong = bit.failed > 0;
    const share = bit.able > 0 ? bit.failed / bit.able : 0;
    return (
        <div
            className={cn('flex flex-1 flex-col justify-end px-1 pt-1 pb-1', !last && 'border-b border-rule')}
            title={
                bit.tested === 0
                    ? `Bit ${bit.bit} of bank ${bank} was not tried.`
                    : `Bit ${bit.bit} of bank ${bank}, ${bit.chip}: ${count(bit.failed, 'reading', 'readings')} failed of ${bit.able} able to show it, ${bit.tested} in all. ${wrong ? `${way[bit.stuck]}, ${bit.patternWords}` : bit.cleared ? 'Read right both ways.' : 'Nothing wrong seen yet.'}`
            }
        >
            <div className="flex h-9 items-end justify-center border-b border-edge" aria-hidden>
                {wrong && <div className={cn('hatch', dense ? 'w-6' : 'w-11')} style={{ height: `${Math.max(12, share * 100)}%` }} />}
            </div>
            <div className={cn('mt-0.5 leading-tight font-semibold', dense ? 'text-[13px]' : 'text-[15px]', wrong && 'text-red')}>
                {bit.chip}
                {bit.cleared && (
                    <span className="text-green" aria-label=" read right both ways">
                        {' '}
                        ✓
                    </span>
                )}
            </div>
            <div className="font-mono text-[11px] leading-tight text-soft">
                {bit.tested === 0 ? (
                    'untried'
                ) : dense ? (
                    <span className="block">
                        {short(bit.failed, 1000)} of
                        <br />
                        {short(wrong ? bit.able : bit.tested, 1000)}
                    </span>
                ) : (
                    `${short(bit.failed, 10000)}/${short(wrong ? bit.able : bit.tested, 10000)}`
                )}
            </div>
        </div>
    );
}

function short(value: number, from: number): string {
    if (value < from) {
        return String(value);
    }
    return value < 1_000_000 ? `${(value / 1000).toFixed(value < 9950 ? 1 : 0)}k` : `${(value / 1_000_000).toFixed(1)}M`;
}
