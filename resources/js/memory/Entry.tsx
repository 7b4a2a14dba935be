import { useRef, useState } from 'react';
import { problemsOf } from '../api/client';
import { formOf, useRecord, useRecordFile } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { Button, Field, ProblemList, Tabs, TextInput } from '../ui';
import { TestListing } from './TestListing';

/** The ways in: by hand, from a file, from the screen, from the free-memory figure. */
export function Entry({ job, board, open }: { job: Job; board: Board; open: boolean }) {
    const [tab, setTab] = useState(open ? 'hand' : 'none');
    const toggle = (name: string) => () => setTab(tab === name ? 'none' : name);
    const ways = [
        { name: 'hand', label: 'By hand' },
        { name: 'file', label: 'From a file' },
        ...(board.screen ? [{ name: 'screen', label: 'From the screen' }] : []),
        ...(board.freeMemory ? [{ name: 'free', label: 'Free-memory figure' }] : []),
        { name: 'test', label: 'A test to type in' },
    ];

    return (
        <Tabs.Root value={tab} onValueChange={setTab} activationMode="manual">
            <div className="flex flex-wrap items-end gap-x-5">
                <span className="self-center text-sm font-semibold">Give readings</span>
                <Tabs.List aria-label="Give readings" className="flex-1">
                    {ways.map((way) => (
                        <Tabs.Tab key={way.name} value={way.name} onMouseDown={tab === way.name ? toggle(way.name) : undefined}>
                            {way.label}
                        </Tabs.Tab>
                    ))}
                </Tabs.List>
                {tab !== 'none' && (
                    <button
                        type="button"
                        className="min-h-6 self-center text-[13px] text-soft underline underline-offset-2"
                        onClick={() => setTab('none')}
                    >
                        put away
                    </button>
                )}
            </div>
            <Tabs.Panel value="hand" className="border-b border-rule py-3">
                <ByHand job={job} />
            </Tabs.Panel>
            <Tabs.Panel value="file" className="border-b border-rule py-3">
                <FromFile job={job} />
            </Tabs.Panel>
            <Tabs.Panel value="screen" className="border-b border-rule py-3">
                <FromScreen job={job} board={board} />
            </Tabs.Panel>
            <Tabs.Panel value="test" className="border-b border-rule py-3">
                <TestListing job={job} board={board} />
            </Tabs.Panel>
            <Tabs.Panel value="free" className="border-b border-rule py-3">
                <FreeMemory job={job} board={board} />
            </Tabs.Panel>
        </Tabs.Root>
    );
}

const baseWords = { 8: 'octal', 10: 'decimal', 16: 'hexadecimal' };

function ByHand({ job }: { job: Job }) {
    const record = useRecord(job.id);
    const [line, setLine] = useState({ address: '', expected: '', read: '' });
    const [many, setMany] = useState('');
    const first = useRef<HTMLInputElement>(null);

    const keep = (text: string, after: () => void) =>
        record.mutate({ kind: 'memory-readings', payload: { text, radix: job.radix } }, { onSuccess: after });

    return (
        <div className="grid gap-x-8 gap-y-3 lg:grid-cols-2">
            <form
                className="flex flex-col gap-2"
                onSubmit={(event) => {
                    event.preventDefault();
                    keep(`${line.address} ${line.expected} ${line.read}`, () => {
                        setLine({ ...line, address: '', read: '' });
                        first.current?.focus();
                    });
                }}
            >
                <div className="grid grid-cols-3 gap-2">
                    <Field label="Address">
                        {(id) => (
                            <input
                                id={id}
                                ref={first}
                                className="w-full font-mono"
                                value={line.address}
                                onChange={(event) => setLine({ ...line, address: event.target.value })}
                                placeholder="6C00"
                                autoComplete="off"
                            />
                        )}
                    </Field>
                    <Field label="Wrote">
                        {(id) => (
                            <input
                                id={id}
                                className="w-full font-mono"
                                value={line.expected}
                                onChange={(event) => setLine({ ...line, expected: event.target.value })}
                                placeholder="00"
                                autoComplete="off"
                            />
                        )}
                    </Field>
                    <Field label="Read">
                        {(id) => (
                            <input
                                id={id}
                                className="w-full font-mono"
                                value={line.read}
                                onChange={(event) => setLine({ ...line, read: event.target.value })}
                                placeholder="20"
                                autoComplete="off"
                            />
                        )}
                    </Field>
                </div>
                <div className="flex items-center gap-3">
                    <Button type="submit" disabled={record.isPending}>
                        Record reading
                    </Button>
                    <p className="text-[13px] text-soft">
                        Bare numbers are {baseWords[job.radix]}; 0x2A, 0o52, %101010 and #42 always work.
                    </p>
                </div>
            </form>
            <form
                className="flex flex-col gap-2"
                onSubmit={(event) => {
                    event.preventDefault();
                    keep(many, () => setMany(''));
                }}
            >
                <Field label="Or many, a line each: address, wrote, read">
                    {(id) => (
                        <textarea
                            id={id}
                            rows={3}
                            className="w-full font-mono text-sm"
                            value={many}
                            onChange={(event) => setMany(event.target.value)}
                            placeholder={'6C00 00 20\n6C01 0F 2F'}
                            spellCheck={false}
                        />
                    )}
                </Field>
                <div>
                    <Button type="submit" disabled={record.isPending || many.trim() === ''}>
                        Record these lines
                    </Button>
                </div>
            </form>
            <div className="lg:col-span-2">
                <ProblemList problems={problemsOf(record.error)} />
            </div>
        </div>
    );
}

const comparisons = [
    { value: 'fill', label: 'a fill value' },
    { value: 'alternate', label: 'an alternating pattern' },
    { value: 'address', label: 'each address as data' },
    { value: 'second', label: 'a second file' },
    { value: '', label: 'nothing: the file says what was expected' },
];

function FromFile({ job }: { job: Job }) {
    const record = useRecordFile(job.id);
    const [file, setFile] = useState<File>();
    const [second, setSecond] = useState<File>();
    const [against, setAgainst] = useState('fill');
    const [pattern, setPattern] = useState({ fill: '00', alternate: '55AA', address: 'address' });
    const [base, setBase] = useState('');
    const [kind, setKind] = useState('');
    const [held, setHeld] = useState('');
    const form = useRef<HTMLFormElement>(null);

    const expect =
        against === 'fill'
            ? `fill:${pattern.fill}`
            : against === 'alternate'
              ? `alternate:${pattern.alternate}`
              : against === 'address'
                ? pattern.address
                : '';

    return (
        <form
            ref={form}
            className="flex flex-col gap-3"
            onSubmit={(event) => {
                event.preventDefault();
                record.mutate(formOf({ file, base, as: kind, heldSeconds: held, ...(against === 'second' ? { second } : { expect }) }), {
                    onSuccess: () => {
                        form.current?.reset();
                        setFile(undefined);
                        setSecond(undefined);
                    },
                });
            }}
        >
            <div className="grid gap-3 lg:grid-cols-3">
                <Field
                    label="File"
                    className="lg:col-span-2"
                    hint="Readings as CSV, or a dump: binary, Intel HEX, S-records, hex text. 32 MiB at most."
                >
                    {(id) => <input id={id} type="file" className="w-full" onChange={(event) => setFile(event.target.files?.[0])} />}
                </Field>
                <Field label="Taken as" hint="Its content decides, not its name.">
                    {(id) => (
                        <select id={id} value={kind} onChange={(event) => setKind(event.target.value)}>
                            <option value="">what it holds</option>
                            <option value="binary">binary dump</option>
                            <option value="intel-hex">Intel HEX</option>
                            <option value="s-record">S-records</option>
                            <option value="hex-text">hex text</option>
                            <option value="readings">readings</option>
                        </select>
                    )}
                </Field>
                <Field label="Compared with">
                    {(id) => (
                        <select id={id} value={against} onChange={(event) => setAgainst(event.target.value)}>
                            {comparisons.map((comparison) => (
                                <option key={comparison.value} value={comparison.value}>
                                    {comparison.label}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                {(against === 'fill' || against === 'alternate') && (
                    <Field label={against === 'fill' ? 'Fill value (hexadecimal)' : 'Bytes in turn (hexadecimal)'}>
                        {(id) => (
                            <input
                                id={id}
                                className="font-mono"
                                value={pattern[against]}
                                onChange={(event) => setPattern({ ...pattern, [against]: event.target.value })}
                                autoComplete="off"
                            />
                        )}
                    </Field>
                )}
                {against === 'address' && (
                    <Field label="Which part of the address">
                        {(id) => (
                            <select
                                id={id}
                                value={pattern.address}
                                onChange={(event) => setPattern({ ...pattern, address: event.target.value })}
                            >
                                <option value="address">low part</option>
                                <option value="address:high">high part</option>
                            </select>
                        )}
                    </Field>
                )}
                {against === 'second' && (
                    <Field label="Second file: what was written">
                        {(id) => <input id={id} type="file" onChange={(event) => setSecond(event.target.files?.[0])} />}
                    </Field>
                )}
                <TextInput
                    label="Starts at (binary)"
                    className="font-mono"
                    value={base}
                    onChange={setBase}
                    placeholder="2000"
                    autoComplete="off"
                />
                <TextInput
                    label="Read after a pause of, s"
                    className="font-mono"
                    inputMode="decimal"
                    value={held}
                    onChange={setHeld}
                    placeholder="none"
                    autoComplete="off"
                />
            </div>
            <div>
                <Button type="submit" disabled={record.isPending || !file}>
                    {record.isPending ? 'Reading the file…' : 'Record this file'}
                </Button>
            </div>
            <ProblemList problems={problemsOf(record.error)} />
        </form>
    );
}

function FromScreen({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const [seen, setSeen] = useState('');
    const [expected, setExpected] = useState('');
    const [place, setPlace] = useState({ column: '0', row: '0', pixel: '0' });
    const characters = board.screen!.hasCharacters;
    const whole = (text: string) => (/^\d+$/.test(text.trim()) ? Number(text) : -1);

    return (
        <form
            className="flex flex-col gap-3"
            onSubmit={(event) => {
                event.preventDefault();
                const cell = { column: whole(place.column), row: whole(place.row) };
                record.mutate(
                    characters
                        ? { kind: 'screen-character', payload: { seen, expected, ...cell } }
                        : { kind: 'screen-stripe', payload: { pixel: whole(place.pixel), ...cell } },
                );
            }}
        >
            <div className="flex flex-wrap gap-3">
                {characters ? (
                    <>
                        <TextInput
                            label="Character seen"
                            className="w-24 text-center font-mono"
                            maxLength={2}
                            value={seen}
                            onChange={setSeen}
                            autoComplete="off"
                        />
                        <TextInput
                            label="Should be"
                            className="w-24 text-center font-mono"
                            maxLength={2}
                            value={expected}
                            onChange={setExpected}
                            placeholder="blank"
                            autoComplete="off"
                        />
                    </>
                ) : (
                    <Field label={`Stripe at pixel, 0 to ${board.screen!.pixels - 1}`}>
                        {(id) => (
                            <input
                                id={id}
                                className="w-24 font-mono"
                                inputMode="numeric"
                                value={place.pixel}
                                onChange={(event) => setPlace({ ...place, pixel: event.target.value })}
                            />
                        )}
                    </Field>
                )}
                <Field label={`Column, 0 to ${board.screen!.columns - 1}`}>
                    {(id) => (
                        <input
                            id={id}
                            className="w-24 font-mono"
                            inputMode="numeric"
                            value={place.column}
                            onChange={(event) => setPlace({ ...place, column: event.target.value })}
                        />
                    )}
                </Field>
                <Field label={`Row, 0 to ${board.screen!.rows - 1}`}>
                    {(id) => (
                        <input
                            id={id}
                            className="w-24 font-mono"
                            inputMode="numeric"
                            value={place.row}
                            onChange={(event) => setPlace({ ...place, row: event.target.value })}
                        />
                    )}
                </Field>
                <Button type="submit" className="self-end" disabled={record.isPending}>
                    Record what the screen shows
                </Button>
            </div>
            <p className="text-[13px] text-soft">
                {characters
                    ? 'The code of the character seen, against the code of the one that should stand there, gives the bits; its place gives the address.'
                    : 'The column of a stripe within its cell gives the data line; the place of the cell gives the address.'}
            </p>
            <ProblemList problems={problemsOf(record.error)} />
        </form>
    );
}

function FreeMemory({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const [figures, setFigures] = useState('');

    return (
        <form
            className="flex flex-col gap-3"
            onSubmit={(event) => {
                event.preventDefault();
                const words = figures.split(/[\s,;]+/).filter(Boolean);
                record.mutate(
                    { kind: 'free-memory', payload: { figures: words.map((word) => (/^\d+$/.test(word) ? Number(word) : word)) } },
                    { onSuccess: () => setFigures('') },
                );
            }}
        >
            <div className="flex flex-wrap items-end gap-3">
                <TextInput
                    label="Figure at each power-on (decimal, as the screen shows it)"
                    className="w-80 font-mono"
                    value={figures}
                    onChange={setFigures}
                    placeholder="15700 15700"
                    autoComplete="off"
                />
                <Button type="submit" disabled={record.isPending || figures.trim() === ''}>
                    Record figures
                </Button>
            </div>
            <p className="text-[13px] text-soft">
                Only a figure that comes back the same says where memory first fails.
                {board.freeMemory!.healthy !== null && ` A good ${board.name} shows ${board.freeMemory!.healthy}.`}
            </p>
            <ProblemList problems={problemsOf(record.error)} />
        </form>
    );
}
