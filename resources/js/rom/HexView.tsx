import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState } from 'react';
import { imageQuery } from '../api/queries';
import type { Radix } from '../api/schemas';
import { BaseChoice, Button, cn, TextInput } from '../ui';
import { inBase } from '../ui/numbers';

const printable = (value: number) => (value >= 0x20 && value < 0x7f ? String.fromCharCode(value) : '·');

/** The bytes of a read beside those of the good image; what differs is marked. */
export function HexView({
    read,
    good,
    runs,
    from,
    at,
}: {
    read: { sha1: string; name: string };
    good: { sha1: string; name: string } | null;
    runs: { at: number; length: number }[];
    from: number;
    at: number;
}) {
    const image = useQuery(imageQuery(read.sha1)).data ?? null;
    const other = useQuery({ ...imageQuery(good?.sha1 ?? ''), enabled: good !== null }).data ?? null;
    const [base, setBase] = useState<Radix>(16);
    const [place, setPlace] = useState('');
    const [search, setSearch] = useState('');
    const [marked, setMarked] = useState<{ at: number; length: number } | null>(null);
    const [says, setSays] = useState('');
    const box = useRef<HTMLDivElement>(null);
    const rows = image ? Math.ceil(image.length / 16) : 0;
    const virtual = useVirtualizer({ count: rows, getScrollElement: () => box.current, estimateSize: () => 24, overscan: 12 });
    const go = (to: number, length = 1) => {
        setMarked({ at: to, length });
        virtual.scrollToIndex(Math.floor(to / 16), { align: 'center' });
    };
    const scroll = virtual.scrollToIndex;
    useEffect(() => {
        if (at > 0) {
            scroll(Math.floor(at / 16), { align: 'start' });
        }
    }, [at, scroll]);
    const step = (forwards: boolean) => {
        const here = marked?.at ?? (forwards ? -1 : Infinity);
        const next = forwards ? runs.findIndex((run) => run.at > here) : runs.filter((run) => run.at < here).length - 1;
        const number = next < 0 ? (forwards ? 0 : runs.length - 1) : next;
        const run = runs[number];
        if (run) {
            go(run.at, run.length);
            setSays(`Difference ${number + 1} of ${runs.length}, at ${inBase(from + run.at, base, 16)}.`);
        }
    };
    const find = () => {
        const wanted = patternOf(search);
        if (!image || wanted === null) {
            setSays('Search for bytes in hex, such as A9 00 8D, or for text in quotes or words.');
            return;
        }
        const start = marked ? marked.at + 1 : 0;
        const hit = indexOf(image, wanted, start) ?? indexOf(image, wanted, 0);
        if (hit === null) {
            setSays(`${search} is not in it.`);
        } else {
            go(hit, wanted.length);
            setSays(`Found at ${inBase(from + hit, base, 16)}.`);
        }
    };

    if (!image) {
        return <p className="text-soft">Fetching the bytes…</p>;
    }
    return (
        <section aria-label="Bytes" className="flex flex-col gap-2">
            <div className="flex flex-wrap items-end gap-3">
                <form
                    className="flex items-end gap-1"
                    onSubmit={(event) => {
                        event.preventDefault();
                        const to = parseInt(place.replace(/^[$&]|^0x|h$/gi, ''), base) - from;
                        const bare = parseInt(place.replace(/^[$&]|^0x|h$/gi, ''), base);
                        const target = to >= 0 && to < image.length ? to : bare;
                        if (Number.isNaN(target) || target < 0 || target >= image.length) {
                            setSays(
                                `${place} is not in it: it goes from ${inBase(from, base, 16)} to ${inBase(from + image.length - 1, base, 16)}.`,
                            );
                        } else {
                            go(target);
                            setSays('');
                        }
                    }}
                >
                    <TextInput label="Go to address" className="w-24 font-mono" value={place} onChange={setPlace} />
                    <Button type="submit">Go</Button>
                </form>
                <form
                    className="flex items-end gap-1"
                    onSubmit={(event) => {
                        event.preventDefault();
                        find();
                    }}
                >
                    <TextInput
                        label="Find bytes or text"
                        className="w-40 font-mono"
                        placeholder={'A9 00 or "text"'}
                        value={search}
                        onChange={setSearch}
                    />
                    <Button type="submit">Find</Button>
                </form>
                {runs.length > 0 && (
                    <div className="flex gap-1" role="group" aria-label="Differences">
                        <Button onClick={() => step(false)}>Difference before</Button>
                        <Button onClick={() => step(true)}>Next difference</Button>
                    </div>
                )}
                <BaseChoice value={base} onChange={setBase} />
            </div>
            <p className="min-h-5 text-[14px] text-soft" role="status">
                {says}
            </p>
            <div
                ref={box}
                // It scrolls, so the keyboard must reach it.
                // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
                tabIndex={0}
                role="region"
                aria-label={`Bytes of ${read.name}`}
                className="h-96 overflow-auto border border-rule bg-sheet font-mono text-[13px]"
                data-testid="hex"
            >
                <div className="relative min-w-max" style={{ height: virtual.getTotalSize() }}>
                    {virtual.getVirtualItems().map((row) => (
                        <Row
                            key={row.key}
                            top={row.start}
                            at={row.index * 16}
                            from={from}
                            image={image}
                            other={other}
                            base={base}
                            marked={marked}
                        />
                    ))}
                </div>
            </div>
            {good && <p className="text-[13px] text-soft">Red: as read; small beside it: as in {good.name}.</p>}
        </section>
    );
}

function Row({
    top,
    at,
    from,
    image,
    other,
    base,
    marked,
}: {
    top: number;
    at: number;
    from: number;
    image: Uint8Array;
    other: Uint8Array | null;
    base: Radix;
    marked: { at: number; length: number } | null;
}) {
    const places = Array.from({ length: Math.min(16, image.length - at) }, (_, column) => at + column);
    const differs = (place: number) => other !== null && other[place] !== image[place];
    const isMarked = (place: number) => marked !== null && place >= marked.at && place < marked.at + marked.length;
    return (
        <div className="absolute left-0 flex h-6 items-center gap-4 px-2" style={{ top }}>
            <span className="w-14 text-soft">{inBase(from + at, base, 16)}</span>
            <span className="flex">
                {places.map((place) => (
                    <span
                        key={place}
                        className={cn(
                            'px-[3px] whitespace-pre',
                            place % 8 === 7 && 'mr-2',
                            differs(place) && 'font-bold text-red underline decoration-2',
                            isMarked(place) && 'bg-ink text-sheet',
                        )}
                        title={
                            differs(place)
                                ? `${inBase(from + place, base, 16)}: should be ${inBase(other?.[place] ?? 0, base, 8)}`
                                : undefined
                        }
                    >
                        {inBase(image[place]!, base, 8).padStart(base === 16 ? 2 : 3, ' ')}
                        {differs(place) && (
                            <sub className="ml-px text-[10px] font-normal">
                                {other?.[place] === undefined ? '' : inBase(other[place], base, 8)}
                            </sub>
                        )}
                    </span>
                ))}
            </span>
            <span className="whitespace-pre text-soft">{places.map((place) => printable(image[place]!)).join('')}</span>
        </div>
    );
}

/** Bytes in hex, or text as it is typed; null when it is empty. */
function patternOf(search: string): number[] | null {
    const text = search.trim();
    if (/^([0-9a-f]{2}\s*)+$/i.test(text)) {
        return (text.match(/[0-9a-f]{2}/gi) ?? []).map((byte) => parseInt(byte, 16));
    }
    const plain = text.replace(/^"(.*)"$/, '$1');
    return plain === '' ? null : [...plain].map((letter) => letter.charCodeAt(0) & 0xff);
}

function indexOf(image: Uint8Array, wanted: number[], start: number): number | null {
    for (let at = start; at + wanted.length <= image.length; at++) {
        if (wanted.every((byte, place) => image[at + place] === byte)) {
            return at;
        }
    }
    return null;
}
