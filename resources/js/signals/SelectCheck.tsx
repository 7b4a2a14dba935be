import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { problemsOf } from '../api/client';
import { selectQuery, useRecord } from '../api/queries';
import type { Job, SelectLevel } from '../api/schemas';
import { Button, cn, ProblemList, TextInput } from '../ui';

/** For a chip and an address: the level that every input and output of the decoding must have, in the order to measure. */
export function SelectCheckPanel({ job }: { job: Job }) {
    const [params] = useSearchParams();
    const given = { chip: params.get('select') ?? '', address: params.get('address') ?? '' };
    const [chip, setChip] = useState(given.chip);
    const [address, setAddress] = useState(given.address);
    const [asked, setAsked] = useState<{ chip: string; address: string } | null>(given.chip && given.address ? given : null);
    const check = useQuery({ ...selectQuery(job.id, asked?.chip ?? '', asked?.address ?? '', job.changedAt), enabled: asked !== null });
    const record = useRecord(job.id);
    const see = (pin: string, state: 'low' | 'high') =>
        record.mutate({ kind: 'probe', payload: { pin, state, situation: 'selecting', address: check.data?.address ?? '' } });
    return (
        <section aria-label="Select check" className="flex flex-col gap-2">
            <form
                className="flex flex-wrap items-end gap-2"
                onSubmit={(event) => {
                    event.preventDefault();
                    setAsked({ chip: chip.trim(), address: address.trim() });
                }}
            >
                <TextInput label="Chip" className="w-24 font-mono" placeholder="U2" value={chip} onChange={setChip} />
                <TextInput
                    label="Address that should reach it"
                    className="w-40 font-mono"
                    placeholder="E000"
                    value={address}
                    onChange={setAddress}
                />
                <Button type="submit" disabled={chip.trim() === '' || address.trim() === ''}>
                    Work it out
                </Button>
            </form>
            <ProblemList problems={problemsOf(check.error)} />
            {!asked && (
                <p className="text-soft">
                    Let a loop read that address, and measure from the top: the first stage whose inputs are right and whose output is wrong
                    is the one.
                </p>
            )}
            {check.data && (
                <>
                    {!check.data.reached && (
                        <p className="border-l-4 border-ochre pl-3">
                            On a healthy board {check.data.address} does not select {check.data.chip} as the links stand now.
                        </p>
                    )}
                    {check.data.broken && (
                        <p className="border-l-4 border-red pl-3 font-semibold">
                            {check.data.broken}: its inputs are right and its output is not. It is bad, or something holds its output.
                        </p>
                    )}
                    <ol className="flex flex-col gap-2">
                        {check.data.stages.map((stage) => (
                            <li
                                key={stage.output.pin}
                                className={cn('border bg-sheet', check.data?.broken === stage.chip ? 'border-red' : 'border-rule')}
                            >
                                <p className="bg-board px-2 py-0.5 text-sm">
                                    <strong>{stage.chip}</strong> <span className="font-mono text-[12px]">{stage.part}</span>{' '}
                                    <span className="text-soft">{stage.role}</span>
                                </p>
                                <ul className="grid grid-cols-[repeat(auto-fill,minmax(20rem,1fr))] gap-x-4 px-2 py-1">
                                    {[...stage.inputs, stage.output].map((level, place) => (
                                        <Level
                                            key={level.pin}
                                            level={level}
                                            out={place === stage.inputs.length}
                                            onSee={(state) => see(level.pin, state)}
                                        />
                                    ))}
                                </ul>
                            </li>
                        ))}
                    </ol>
                </>
            )}
        </section>
    );
}

function Level({ level, out, onSee }: { level: SelectLevel; out: boolean; onSee: (state: 'low' | 'high') => void }) {
    const wrong = level.seen !== null && level.seen !== level.level && level.seen !== 'pulsing';
    return (
        <li className="flex items-baseline gap-2 py-0.5 text-[14px]">
            <span aria-hidden className="w-4 font-mono text-soft">
                {out ? '→' : ''}
            </span>
            <span className="w-24 font-mono text-[13px] whitespace-nowrap">{level.called}</span>
            <span className="w-24 text-soft">
                should be <strong className="text-ink">{level.level}</strong>
            </span>
            <span className={cn('flex-1 font-semibold', wrong ? 'text-red' : 'text-green')}>
                {level.seen && `${wrong ? '✗' : '✓'} ${level.seen}`}
            </span>
            {(['low', 'high'] as const).map((state) => (
                <Button
                    key={state}
                    className="px-2 py-0 text-[13px] font-normal"
                    aria-label={`${level.called} is ${state}`}
                    onClick={() => onSee(state)}
                >
                    {state}
                </Button>
            ))}
        </li>
    );
}
