import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useSearchParams } from 'react-router';
import { problemsOf } from '../api/client';
import { partsQuery } from '../api/queries';
import type { LibraryPart } from '../api/schemas';
import { PageHead } from '../home/PageHead';
import { Choice, cn, ProblemList, Switches, TextInput } from '../ui';
import { Pinout } from './Pinout';

/** Every part that is known: pins, supply, levels, and what can stand in for it. */
export default function Parts() {
    const parts = useQuery(partsQuery);
    const [asked, ask] = useSearchParams();
    const [text, setText] = useState('');
    const [side, setSide] = useState<'above' | 'below'>('above');
    const words = useDeferredValue(text).toLowerCase().split(/\s+/).filter(Boolean);
    const found = (parts.data ?? []).filter((part) => {
        const about = `${part.name} ${part.title} ${part.kind} ${part.pinList.map((pin) => pin.name).join(' ')}`.toLowerCase();
        return words.every((word) => about.includes(word));
    });
    // One row to a function; its families are told beside the pins.
    const rows = [...new Map([...found].sort((a, b) => rank(b) - rank(a)).map((part) => [base(part), part])).values()].sort((a, b) =>
        base(a).localeCompare(base(b), 'en', { numeric: true }),
    );
    const chosen = parts.data?.find((part) => part.name === asked.get('part')) ?? rows[0];

    return (
        <div className="h-full overflow-y-auto">
            <PageHead current="parts" />
            <main className="mx-auto grid max-w-6xl gap-6 px-6 py-6 md:grid-cols-[18rem_1fr]">
                <section aria-label="Find a part" className="flex min-h-0 flex-col gap-3">
                    <h1 className="text-2xl">Parts</h1>
                    <TextInput
                        label="Number, function or name of a pin"
                        type="search"
                        value={text}
                        placeholder="257, latch, /RAS"
                        onChange={setText}
                    />
                    <p className="text-[13px] text-soft">
                        {rows.length} found, {found.length} with every family
                    </p>
                    <ul className="max-h-[70vh] overflow-y-auto border-t-2 border-ink" data-testid="parts">
                        {rows.map((part) => (
                            <li key={part.name}>
                                <button
                                    type="button"
                                    aria-current={part.name === chosen?.name ? 'true' : undefined}
                                    className={cn(
                                        'block w-full border-b border-rule px-2 py-1.5 text-left hover:bg-sheet',
                                        part.name === chosen?.name && 'bg-sheet font-semibold',
                                    )}
                                    onClick={() => ask({ part: part.name }, { replace: true })}
                                >
                                    <span className="font-mono">{part.name}</span>{' '}
                                    <span className="text-sm font-normal text-soft">{part.title}</span>
                                </button>
                            </li>
                        ))}
                    </ul>
                    <ProblemList problems={problemsOf(parts.error)} />
                </section>
                {chosen && (
                    <section aria-label={`Part ${chosen.name}`} className="flex min-w-0 flex-col gap-4" data-testid="part">
                        <header className="flex flex-wrap items-baseline gap-x-4">
                            <h2 className="text-2xl">{chosen.name}</h2>
                            <p className="text-soft">
                                {chosen.title}, {chosen.pins} pins
                            </p>
                            <span className="ml-auto">
                                <Choice
                                    label="Seen from"
                                    value={side}
                                    onChange={setSide}
                                    options={[
                                        { value: 'above', label: 'from above' },
                                        { value: 'below', label: 'from below' },
                                    ]}
                                />
                            </span>
                        </header>
                        <Families part={chosen} all={parts.data ?? []} onChoose={(name) => ask({ part: name }, { replace: true })} />
                        <Pinout part={chosen} below={side === 'below'} className="mx-auto" />
                        <Facts part={chosen} />
                    </section>
                )}
            </main>
        </div>
    );
}

const base = (part: LibraryPart) => part.name.replace(/^74(?:LS|S|ALS|F|HCT|HC)(?=\d)/, '74');

/** LS stands for the others; then whatever there is. */
const rank = (part: LibraryPart) => (/^74LS\d/.test(part.name) ? 0 : 1);

function Families({ part, all, onChoose }: { part: LibraryPart; all: LibraryPart[]; onChoose: (name: string) => void }) {
    const family = all.filter((other) => base(other) === base(part));
    return family.length < 2 ? null : (
        <Switches
            label="Families"
            options={family.map((other) => ({ value: other.name, label: other.name }))}
            on={[part.name]}
            onToggle={onChoose}
        />
    );
}

function Facts({ part }: { part: LibraryPart }) {
    return (
        <dl className="grid grid-cols-[8rem_1fr] gap-x-4 gap-y-1.5">
            {part.supply.map((supply) => (
                <div key={supply.rail} className="contents">
                    <dt className="text-soft">{supply.rail} V</dt>
                    <dd>
                        at pin {supply.pins.join(' and ')}: {supply.min} to {supply.max} V, typically{' '}
                        {Math.round(supply.milliamps * 10) / 10} mA
                    </dd>
                </div>
            ))}
            {part.order && (
                <div className="contents">
                    <dt className="text-soft">order</dt>
                    <dd className="text-ochre">{part.order}</dd>
                </div>
            )}
            {part.levels && (
                <div className="contents">
                    <dt className="text-soft">levels</dt>
                    <dd>
                        takes up to {part.levels.inputLow} V for low, from {part.levels.inputHigh} V on for high; gives at most{' '}
                        {part.levels.outputLow} V and at least {part.levels.outputHigh} V
                    </dd>
                </div>
            )}
            {part.equations.length > 0 && (
                <div className="contents">
                    <dt className="text-soft">function</dt>
                    <dd className="font-mono text-[15px]">
                        {part.equations.map((equation) => (
                            <span key={equation} className="block">
                                {equation}
                            </span>
                        ))}
                    </dd>
                </div>
            )}
            {part.equivalents.map((other) => (
                <div key={other.number} className="contents">
                    <dt className="text-soft">{other.works ? 'in its place' : 'nearly'}</dt>
                    <dd>
                        <b className="font-mono">{other.number}</b>
                        {other.nanoseconds !== null && `, ${other.nanoseconds} ns or better`}. {other.but}
                    </dd>
                </div>
            ))}
            <dt className="text-soft">source</dt>
            <dd className="text-soft">{part.source}</dd>
        </dl>
    );
}
