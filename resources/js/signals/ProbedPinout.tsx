import { useRef } from 'react';
import type { ChipPin, ProbedChip } from '../api/schemas';
import { cn } from '../ui';

export const marks = { low: 'L', high: 'H', pulsing: '⎍', silent: '–', between: '≈' } as const;
export type Level = keyof typeof marks;

const keys: Record<string, Level> = { l: 'low', h: 'high', p: 'pulsing', s: 'silent', b: 'between', '0': 'low', '1': 'high' };

/** What a pin should show, in a word. */
export const should = (pin: { expected: Level | null; hz: string | null }) => pin.hz ?? pin.expected ?? 'any';

/**
 * A chip as it lies, each pin with what it should show outside and what was seen beside it. The arrows walk the pins,
 * one key records what the probe shows.
 */
export function ProbedPinout({
    chip,
    below,
    selected,
    onSelect,
    onSeen,
}: {
    chip: ProbedChip;
    below: boolean;
    selected: number;
    onSelect: (pin: number) => void;
    onSeen: (pin: ChipPin, level: Level) => void;
}) {
    const list = useRef<HTMLDivElement>(null);
    const dual = chip.pinCount > 3 && chip.pinCount % 2 === 0 && !['connector', 'discrete'].includes(chip.kind);
    const half = dual ? chip.pinCount / 2 : chip.pinCount;
    const byNumber = new Map(chip.pins.map((pin) => [pin.number, pin]));
    const rows = Array.from({ length: half }, (_, row) => {
        const first = byNumber.get(row + 1);
        const second = dual ? byNumber.get(chip.pinCount - row) : undefined;
        return below ? [second, first] : [first, second];
    });
    const side = (number: number) => (dual && number > half) !== below;
    const step = (by: number) => {
        // Down the left side, up the right one, as they are numbered; from below the sides change places.
        const order = chip.pins.map((pin) => pin.number);
        const at = order.indexOf(selected);
        onSelect(order[(at + by + order.length) % order.length] ?? selected);
    };
    const across = () => {
        const other = dual ? chip.pinCount + 1 - selected : selected;
        if (byNumber.has(other)) {
            onSelect(other);
        }
    };
    const onKeyDown = (event: React.KeyboardEvent) => {
        if (event.ctrlKey || event.metaKey || event.altKey) {
            return;
        }
        const down = side(selected) ? -1 : 1;
        const moves: Record<string, () => void> = {
            ArrowDown: () => step(down),
            ArrowUp: () => step(-down),
            ArrowLeft: across,
            ArrowRight: across,
        };
        const move = moves[event.key];
        const level = keys[event.key.toLowerCase()];
        const pin = byNumber.get(selected);
        if (move) {
            event.preventDefault();
            event.stopPropagation();
            move();
        } else if (level && pin) {
            event.preventDefault();
            // The letters stand for other places on the rest of the page.
            event.stopPropagation();
            event.nativeEvent.stopImmediatePropagation();
            onSeen(pin, level);
            step(1);
        }
    };
    return (
        <div
            ref={list}
            role="listbox"
            aria-label={`Pins of ${chip.ref}, ${chip.part}, from ${below ? 'below' : 'above'}`}
            aria-activedescendant={`pin-${chip.ref}-${selected}`}
            tabIndex={0}
            onKeyDownCapture={onKeyDown}
            className="w-full max-w-[46rem] overflow-x-auto rounded-sm border border-rule bg-sheet py-2 focus-visible:outline-2 focus-visible:outline-ink"
        >
            {rows.map(([left, right], row) => (
                <div key={row} role="presentation" className="grid min-w-[34rem] grid-cols-[1fr_6.5rem_1fr] items-stretch">
                    <Half pin={left} chip={chip.ref} left selected={selected} onSelect={onSelect} />
                    <div
                        role="presentation"
                        className={cn(
                            'relative flex justify-between border-x-2 border-ink bg-board px-1 font-mono text-[12px]',
                            row === 0 && 'border-t-2',
                            row === half - 1 && 'border-b-2',
                        )}
                    >
                        {row === 0 && (
                            <span
                                aria-hidden
                                className="absolute -top-px left-1/2 h-3 w-6 -translate-x-1/2 rounded-b-full border border-t-0 border-ink bg-print"
                            />
                        )}
                        <span className="text-soft">{left?.number}</span>
                        {row === Math.floor(half / 2) && (
                            <span className="absolute left-1/2 -translate-x-1/2 -translate-y-1/2 font-sans text-sm font-semibold whitespace-nowrap">
                                {chip.part}
                            </span>
                        )}
                        <span className="text-soft">{right?.number}</span>
                    </div>
                    <Half pin={right} chip={chip.ref} selected={selected} onSelect={onSelect} />
                </div>
            ))}
        </div>
    );
}

function Half({
    pin,
    chip,
    left,
    selected,
    onSelect,
}: {
    pin?: ChipPin;
    chip: string;
    left?: boolean;
    selected: number;
    onSelect: (pin: number) => void;
}) {
    if (!pin) {
        return <span />;
    }
    const looks = pin.right === false ? 'text-red' : pin.right ? 'text-green' : 'text-ink';
    const supply = pin.direction === 'supply';
    return (
        <button
            type="button"
            tabIndex={-1}
            id={`pin-${chip}-${pin.number}`}
            role="option"
            aria-selected={selected === pin.number}
            onClick={() => onSelect(pin.number)}
            className={cn(
                'flex h-7 cursor-pointer items-center gap-2 border-y border-transparent px-2 text-[13px]',
                left ? 'flex-row-reverse text-right' : 'text-left',
                selected === pin.number && 'border-ink bg-print',
            )}
        >
            <span className="sr-only">pin {pin.number}</span>
            <span className={cn('w-14 font-mono', pin.activeLow && 'overline decoration-1', supply && 'text-ochre')}>
                {pin.name.replace('//', '/')}
            </span>
            <span className="w-16 truncate text-soft" title={pin.net ?? undefined}>
                {pin.net}
            </span>
            <span className="w-16 text-soft whitespace-nowrap">{should(pin) === 'any' ? '' : should(pin)}</span>
            <span className={cn('min-w-14 flex-1 font-semibold whitespace-nowrap', looks)}>
                {pin.seen && (
                    <>
                        {pin.right === false ? '✗ ' : pin.right ? '✓ ' : ''}
                        {pin.seen}
                    </>
                )}
            </span>
        </button>
    );
}
