import { useQuery } from '@tanstack/react-query';
import { Copy, Download } from 'lucide-react';
import { useState } from 'react';
import { problemsOf } from '../api/client';
import { listingQuery, memoryTestsQuery, useRecord } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { Button, Field, ProblemList, TextInput } from '../ui';
import { inBase } from '../ui/numbers';

const processors: Record<string, string> = {
    '6502': '6502',
    '65C02': '6502',
    Z80: 'z80',
    '6809': '6809',
    '8088': '8088',
    '68000': '68000',
};

/** A memory test to type in on the machine itself, and the place where its answer goes. */
export function TestListing({ job, board }: { job: Job; board: Board }) {
    const tests = useQuery(memoryTestsQuery);
    const record = useRecord(job.id);
    const own = processors[board.processor?.part ?? ''];
    const bank = board.map.find((range) => range.kind === 'ram' && range.bank !== null);
    const show = (value: number) => inBase(value, job.radix, board.addressWidth);
    const [test, setTest] = useState('march-c-');
    const [language, setLanguage] = useState(board.processor?.basic ? `basic-${board.processor.basic}` : (own ?? '6502'));
    const [from, setFrom] = useState(show(Math.max(bank?.from ?? 0x400, 0x400)));
    const [to, setTo] = useState(show(Math.min(Math.max(bank?.from ?? 0, 0x400) + 0xfff, bank?.to ?? 0xffff)));
    const [at, setAt] = useState('');
    const [pause, setPause] = useState('');
    const [results, setResults] = useState('');
    const listing = useQuery({ ...listingQuery(job.id, { test, for: language, from, to, at, pause }), retry: false });
    const chosen = tests.data?.tests.find((candidate) => candidate.id === test);
    const basic = language.startsWith('basic');
    const data = listing.data;

    return (
        <div className="flex flex-col gap-3">
            <div className="flex flex-wrap items-end gap-3">
                <Field label="Test">
                    {(id) => (
                        <select id={id} value={test} onChange={(event) => setTest(event.target.value)}>
                            {tests.data?.tests.map((each) => (
                                <option key={each.id} value={each.id}>
                                    {each.name}, {each.length}n
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                <Field label="To be typed in as">
                    {(id) => (
                        <select id={id} value={language} onChange={(event) => setLanguage(event.target.value)}>
                            {tests.data?.languages.map((each) => (
                                <option key={each.value} value={each.value}>
                                    {each.words}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
                <TextInput label="From" className="w-24 font-mono" value={from} onChange={setFrom} />
                <TextInput label="To" className="w-24 font-mono" value={to} onChange={setTo} />
                {!basic && <TextInput label="Program at" className="w-24 font-mono" value={at} placeholder="beside it" onChange={setAt} />}
                <TextInput
                    label="Pause, s"
                    className="w-16 font-mono"
                    inputMode="decimal"
                    value={pause}
                    placeholder="0"
                    onChange={setPause}
                />
            </div>
            {chosen && (
                <p className="text-sm">
                    <span className="font-mono text-[13px]">{chosen.words}</span>
                    <br />
                    <span className="text-green">Finds {chosen.finds.join(', ')}.</span>{' '}
                    {chosen.misses.length > 0 && <span className="text-ochre">Misses {chosen.misses.join(', ')}.</span>}{' '}
                    {data && <b>It takes about {data.duration} on this machine.</b>}{' '}
                    <span className="text-soft">Source: {chosen.source}.</span>
                </p>
            )}
            <ProblemList problems={problemsOf(listing.error)} title="There is no such listing." />
            {data && (
                <div className="flex flex-col gap-2">
                    <textarea
                        readOnly
                        aria-label="Listing"
                        data-testid="listing"
                        rows={Math.min(20, data.text.split('\n').length)}
                        spellCheck={false}
                        className="resize-y bg-print font-mono text-[13px] leading-snug whitespace-pre"
                        value={data.text}
                    />
                    <div className="flex flex-wrap items-center gap-2">
                        <Button onClick={() => void navigator.clipboard.writeText(data.text)}>
                            <Copy aria-hidden size={16} /> Copy
                        </Button>
                        {data.hex && (
                            <a
                                className="inline-flex min-h-8 items-center gap-1.5 border border-edge px-3 text-sm font-semibold hover:bg-print"
                                download={`${test}.hex`}
                                href={`data:text/plain;charset=utf-8,${encodeURIComponent(data.hex)}`}
                            >
                                <Download aria-hidden size={16} /> Intel HEX
                            </a>
                        )}
                        {data.notes.map((note) => (
                            <span key={note} className="text-sm text-soft">
                                {note}
                            </span>
                        ))}
                    </div>
                    <form
                        className="flex flex-col gap-2"
                        onSubmit={(event) => {
                            event.preventDefault();
                            record.mutate(
                                {
                                    kind: 'memory-test',
                                    payload: {
                                        test,
                                        language,
                                        from: data.from,
                                        to: data.to,
                                        results,
                                        ...(Number(pause) > 0 ? { pause: Number(pause) } : {}),
                                    },
                                },
                                { onSuccess: () => setResults('') },
                            );
                        }}
                    >
                        <Field
                            label="What it printed, typed back or pasted"
                            hint={
                                basic
                                    ? 'A line for each failure in decimal, and the last line: 0 FAILURES when nothing failed.'
                                    : 'The bytes in hexadecimal, from the number of failures on: 00 when nothing failed.'
                            }
                        >
                            {(id) => (
                                <textarea
                                    id={id}
                                    rows={3}
                                    className="font-mono"
                                    value={results}
                                    placeholder={basic ? '1536 0 32\n1 FAILURES' : '04 00 06 00 20'}
                                    onChange={(event) => setResults(event.target.value)}
                                />
                            )}
                        </Field>
                        <Button type="submit" look="act" className="self-start" disabled={record.isPending || results.trim() === ''}>
                            Record what it found
                        </Button>
                        <ProblemList problems={problemsOf(record.error)} />
                    </form>
                </div>
            )}
        </div>
    );
}
