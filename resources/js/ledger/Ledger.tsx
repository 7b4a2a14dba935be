import { useQuery } from '@tanstack/react-query';
import { Printer } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { problemsOf } from '../api/client';
import { stockQuery, useRecord } from '../api/queries';
import type { Job, LedgerPart } from '../api/schemas';
import { StageHead } from '../job/Entries';
import { Button, cn, ProblemList, Switches, TextInput } from '../ui';

/** Where every chip is that was ever moved, tested or marked, and where it has been. */
export default function Ledger({ job }: { job: Job }) {
    const [filter, setFilter] = useState<'all' | 'moved' | 'borrowed'>('all');
    const [open, setOpen] = useState<string | null>(null);
    const parts = job.round.ledger.filter((part) => (filter === 'moved' ? !part.home : filter === 'borrowed' ? part.lent : true));
    return (
        <div className="flex flex-col gap-4">
            <StageHead title="Chip ledger">
                Each physical chip, wherever it sits now. It is told from the log: what is withdrawn there never happened here.
            </StageHead>
            <div className="flex flex-wrap items-center gap-3">
                <Switches
                    label="Which chips"
                    options={[
                        { value: 'all', label: `all, ${job.round.ledger.length}` },
                        { value: 'moved', label: `not where they started, ${job.round.ledger.filter((part) => !part.home).length}` },
                        {
                            value: 'borrowed',
                            label: `borrowed, ${job.round.ledger.filter((part) => part.lent).length}`,
                        },
                    ]}
                    on={[filter]}
                    onToggle={(value) => setFilter(value as typeof filter)}
                />
                <Button disabled={parts.length === 0} onClick={() => window.print()}>
                    <Printer aria-hidden size={16} /> Print labels
                </Button>
            </div>
            {parts.length === 0 ? (
                <p className="border border-dashed border-edge px-4 py-3 text-soft">
                    {filter === 'all'
                        ? 'No chip was moved, tested or marked yet. Whatever is done to one shows here.'
                        : filter === 'moved'
                          ? 'Every chip is where it started.'
                          : 'Nothing is borrowed.'}
                </p>
            ) : (
                <ul data-testid="ledger">
                    {parts.map((part) => (
                        <Part
                            key={part.part}
                            part={part}
                            job={job}
                            open={open === part.part}
                            onOpen={() => setOpen(open === part.part ? null : part.part)}
                        />
                    ))}
                </ul>
            )}
            <Stock job={job} />
            <Labels parts={parts} job={job} />
        </div>
    );
}

function Part({ part, job, open, onOpen }: { part: LedgerPart; job: Job; open: boolean; onOpen: () => void }) {
    const record = useRecord(job.id);
    const [label, setLabel] = useState('');
    const [drawer, setDrawer] = useState('');
    return (
        <li className="border-b border-rule py-2">
            <div className="grid grid-cols-[7.5rem_1fr_auto] items-start gap-x-4 max-[700px]:grid-cols-1">
                <span
                    className={cn(
                        'justify-self-start border-2 px-2 py-0.5 font-mono text-sm',
                        part.marked ? 'border-ink' : 'border-dashed border-edge text-soft',
                    )}
                    title={part.marked ? 'written on it' : 'proposed: write it on the chip'}
                >
                    {part.label}
                </span>
                <span>
                    <b>{part.part}</b> <span className="text-soft">{part.type}</span>
                    <span className="block text-sm">
                        {part.places.map((place, at) => (
                            <span key={at}>
                                {at > 0 && <span className="text-soft"> → </span>}
                                {place.observation ? (
                                    <Link to={`/jobs/${job.id}/log#${place.observation}`} className="underline underline-offset-2">
                                        {place.place}
                                    </Link>
                                ) : (
                                    place.place
                                )}
                            </span>
                        ))}
                    </span>
                    {part.tests.map((test) => (
                        <span key={test.observation} className={cn('block text-[13px]', test.failed ? 'text-red' : 'text-green')}>
                            {test.words}
                        </span>
                    ))}
                </span>
                <span className="text-right text-sm max-[700px]:text-left">
                    <span className={part.home ? 'text-soft' : 'font-semibold text-ochre'}>{part.where}</span>
                    {part.mustReturn && <span className="block text-ochre">{part.mustReturn}</span>}
                    {part.suspected && <span className="block text-red">bad, {Math.round(part.faulty * 100)} %</span>}
                    <button
                        type="button"
                        className="ml-3 min-h-6 text-[13px] text-soft underline underline-offset-2"
                        aria-expanded={open}
                        onClick={onOpen}
                    >
                        mark it
                    </button>
                </span>
            </div>
            {open && (
                <form
                    className="mt-2 flex flex-wrap items-end gap-3"
                    onSubmit={(event) => {
                        event.preventDefault();
                        record.mutate(
                            {
                                kind: 'label',
                                payload: {
                                    part: part.part,
                                    ...(label.trim() ? { label: label.trim() } : {}),
                                    ...(drawer.trim() ? { drawer: drawer.trim() } : {}),
                                },
                            },
                            { onSuccess: onOpen },
                        );
                    }}
                >
                    <TextInput
                        label="Written on it"
                        className="w-32 font-mono"
                        value={label}
                        maxLength={40}
                        placeholder={part.label}
                        onChange={setLabel}
                    />
                    <TextInput
                        label="Lies in, when it is out"
                        className="w-48"
                        value={drawer}
                        maxLength={60}
                        placeholder="drawer 2"
                        onChange={setDrawer}
                    />
                    <Button type="submit" disabled={record.isPending || (label.trim() === '' && drawer.trim() === '')}>
                        Record
                    </Button>
                    <ProblemList problems={problemsOf(record.error)} />
                </form>
            )}
        </li>
    );
}

/** What the drawers hold for the parts of this board that are suspected. */
function Stock({ job }: { job: Job }) {
    const stock = useQuery(stockQuery(job.id, job.changedAt));
    return (
        <section aria-labelledby="stock-title">
            <h3 id="stock-title" className="mb-1 font-semibold">
                In the drawers for this board
            </h3>
            <p className="text-[13px] text-soft">
                What is in stock is kept on the{' '}
                <Link to="/workshop" className="underline">
                    workshop page
                </Link>
                .
            </p>
            <ul>
                {stock.data?.map((entry) => (
                    <li key={entry.part} className="grid grid-cols-[7.5rem_1fr] gap-x-4 border-b border-rule py-1">
                        <span className="font-mono">{entry.part}</span>
                        <span>
                            <span className="text-[13px] text-soft">
                                for {entry.needed.slice(0, 8).join(', ')}
                                {entry.needed.length > 8 && ` and ${entry.needed.length - 8} more`}:{' '}
                            </span>
                            {entry.matches.length === 0 && <span className="text-soft">none in stock</span>}
                            {entry.matches.map((match) => (
                                <span key={match.part + match.drawer} className="block">
                                    <span className={match.works ? 'text-green' : 'text-ochre'}>{match.works ? '✓' : '○'}</span>{' '}
                                    {match.count} × {match.part}
                                    {match.nanoseconds !== null && `, ${match.nanoseconds} ns`}
                                    {match.drawer && `, ${match.drawer}`} <span className="text-[13px] text-soft">{match.but}</span>
                                </span>
                            ))}
                        </span>
                    </li>
                ))}
            </ul>
        </section>
    );
}

/** What comes out of the printer: one label to a chip. */
function Labels({ parts, job }: { parts: LedgerPart[]; job: Job }) {
    return (
        <div className="print-sheet hidden print:grid print:grid-cols-4 print:gap-2" aria-hidden>
            {parts.map((part) => (
                <div key={part.part} className="border border-black p-1 text-[10px] leading-tight text-black">
                    <b className="block font-mono text-[14px]">{part.label}</b>
                    {part.type} · from {part.places[0]?.place}
                    <br />
                    {job.machine}
                </div>
            ))}
        </div>
    );
}
