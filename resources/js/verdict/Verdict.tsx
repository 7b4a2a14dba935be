import { Maximize2 } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { BoardPlan } from '../board/BoardPlan';
import { Moves } from './Moves';
import { NextStep } from './NextStep';
import type { Board, Job, Suspect } from '../api/schemas';
import { Button, cn, Dialog, ShareBar } from '../ui';
import { grouped, percent } from '../ui/numbers';

const service = {
    chip: 'memory chip',
    net: 'trace, or something holding it',
    buffer: 'data buffer',
    multiplexer: 'address multiplexer',
    select: 'select',
    strobe: 'strobes',
    refresh: 'refresh',
    supply: 'supply',
    link: 'link setting',
    elsewhere: 'not on this board profile',
    setup: 'the measuring set-up',
    'second-machine': 'the one parts are exchanged with',
    pin: 'pin, open to its line',
    part: 'part',
    assembly: 'plugged in',
};

/** What is known, who is suspected. Always there. */
export function Verdict({ job, board }: { job: Job; board: Board }) {
    const [large, setLarge] = useState(false);
    const [all, setAll] = useState(false);
    const left = job.nothingLeft > 0.5 && job.cured.length > 0;
    const leading = left ? undefined : job.suspects[0];
    const others = left ? job.suspects : job.suspects.slice(1);
    // What a sentence below says of a part is not said twice.
    const cured = job.cured.filter((part) => !job.verdicts.some((sentence) => sentence.includes(part.site)));
    const shown = all ? others : others.slice(0, 5);

    return (
        <div className="flex flex-col gap-4">
            {job.held && (
                <p className="border-2 border-ochre bg-sheet p-3 text-ochre" data-testid="held">
                    <b>Held back.</b> {job.held}
                </p>
            )}
            <NextStep job={job} />
            {leading ? (
                <section aria-label="Leading suspect" className="border-l-4 border-red bg-sheet p-3">
                    <p className="text-[13px] font-semibold text-red">Leading suspect, {percent(leading.share)} %</p>
                    <h2 className="text-[20px] leading-tight" data-testid="leading">
                        {leading.site}
                        {elsewhere(leading)}
                        <span className="ml-2 text-base font-normal text-soft">{about(leading, board)}</span>
                    </h2>
                    {leading.experience && <p className="mt-1 text-sm">{leading.experience}</p>}
                    <Reasons reasons={leading.reasons} job={job} />
                    <ChipCounts site={leading.site} job={job} />
                </section>
            ) : (
                <section aria-label="Leading suspect" className="border-2 border-dashed border-edge p-4">
                    <h2 className={left ? 'text-lg text-green' : 'text-lg'}>{left ? 'Nothing left to suspect' : 'No suspect yet'}</h2>
                    <p className="mt-1 text-sm text-soft">
                        {left
                            ? `${Math.round(job.nothingLeft * 100)} % that no fault remains in the machine as it stands.`
                            : job.memory.readings === 0
                              ? 'Give the first reading of memory; one is enough for a first answer.'
                              : 'Nothing that was read is wrong. Try other addresses, and both 0 and 1 in every bit.'}
                    </p>
                </section>
            )}
            {cured.length > 0 && (
                <p className="border-l-4 border-green pl-3 text-sm" data-testid="cured">
                    {cured.map((cured) => `${cured.site}, now out of play, was faulty with ${percent(cured.share)} %`).join('; ')}.
                </p>
            )}
            {job.verdicts.length > 0 && (
                <ul className="flex flex-col gap-1 border-l-4 border-ink pl-3 text-sm" aria-label="What that means" data-testid="verdicts">
                    {job.verdicts.map((sentence) => (
                        <li key={sentence}>{sentence}</li>
                    ))}
                </ul>
            )}
            {others.length > 0 && (
                <section aria-label="Other suspects">
                    <h3 className="mb-1 text-sm font-semibold text-soft">Others</h3>
                    <ol className="flex flex-col" data-testid="suspects">
                        {shown.map((suspect) => (
                            <li key={suspect.site} className="border-b border-rule py-1.5">
                                <details>
                                    <summary className="list-none">
                                        <span className="flex items-baseline justify-between gap-2">
                                            <span>
                                                <b>{suspect.site}</b>
                                                {elsewhere(suspect)} <span className="text-sm text-soft">{about(suspect, board)}</span>
                                            </span>
                                            <span className="font-semibold whitespace-nowrap">
                                                {percent(suspect.share)}
                                                <span className="text-[12px] text-soft"> % why?</span>
                                            </span>
                                        </span>
                                        <ShareBar share={suspect.share} />
                                    </summary>
                                    {suspect.experience && <p className="mt-1 text-sm">{suspect.experience}</p>}
                                    <Reasons reasons={suspect.reasons} job={job} />
                                    <ChipCounts site={suspect.site} job={job} />
                                </details>
                            </li>
                        ))}
                    </ol>
                    {others.length > 5 && (
                        <button
                            type="button"
                            className="mt-1 text-[13px] text-soft underline underline-offset-2"
                            onClick={() => setAll(!all)}
                        >
                            {all ? 'fewer' : `${others.length - 5} more`}
                        </button>
                    )}
                </section>
            )}
            {job.suspects.length > 0 && job.rivals.length > 1 && (
                <section aria-label="Rival diagnoses">
                    <h3 className="mb-1 text-sm font-semibold text-soft">Rival diagnoses</h3>
                    <ul className="text-sm" data-testid="rivals">
                        {job.rivals.slice(0, 4).map((rival) => (
                            <li key={rival.sites.join('+')} className="flex justify-between border-b border-rule py-0.5">
                                <span>
                                    {rival.sites.length === 0
                                        ? 'nothing faulty'
                                        : rival.sites.length === 1
                                          ? `${rival.sites[0]} alone`
                                          : `${rival.sites.join(' and ')} together`}
                                </span>
                                <span>{percent(rival.share)} %</span>
                            </li>
                        ))}
                    </ul>
                </section>
            )}
            {job.assemblies.length > 1 && job.suspects.length > 0 && (
                <p className="text-sm text-soft" data-testid="assemblies">
                    By assembly: {job.assemblies.map((assembly) => `${assembly.name} ${percent(assembly.share)} %`).join(', ')}.
                </p>
            )}
            <Moves job={job} />
            {board.plan && (
                <section aria-label="Board plan, small">
                    <BoardPlan board={board} suspects={job.suspects} cleared={new Set(job.memory.clearedChips)} small />
                    <Button look="quiet" className="mt-1 px-1 text-[13px] font-normal" onClick={() => setLarge(true)}>
                        <Maximize2 aria-hidden size={14} /> Larger plan
                    </Button>
                    <Dialog open={large} onOpenChange={setLarge} title={`${board.name}, ${board.revision}`} wide>
                        <BoardPlan board={board} suspects={job.suspects} cleared={new Set(job.memory.clearedChips)} />
                    </Dialog>
                </section>
            )}
        </div>
    );
}

/** What speaks for and against, in decibans; each with the sentence of what was seen. */
function Reasons({ reasons, job }: { reasons: Suspect['reasons']; job: Job }) {
    if (reasons.length === 0) {
        return null;
    }
    return (
        <ul className="mt-1.5 text-[13px]" data-testid="reasons">
            {reasons.slice(0, 5).map((reason) => (
                <li key={reason.words}>
                    {Math.abs(reason.decibans) < 0.5 ? (
                        <span className="font-semibold">explains:</span>
                    ) : (
                        <span className={reason.decibans > 0 ? 'font-semibold text-red' : 'font-semibold text-green'}>
                            {reason.decibans > 0 ? 'for, +' : 'against, −'}
                            {Math.abs(Math.round(reason.decibans))} db:
                        </span>
                    )}{' '}
                    {reason.observation ? (
                        <Link to={`/jobs/${job.id}/log#${reason.observation}`} className="underline decoration-dotted underline-offset-2">
                            {reason.words}
                        </Link>
                    ) : (
                        reason.words
                    )}
                </li>
            ))}
        </ul>
    );
}

/** Pattern and counts of each failing bit that a chip holds. */
function ChipCounts({ site, job }: { site: string; job: Job }) {
    const bits = job.memory.banks.flatMap((bank) =>
        bank.bits.filter((bit) => bit.chip === site && bit.failed > 0).map((bit) => ({ ...bit, bank: bank.name })),
    );
    if (bits.length === 0) {
        return null;
    }
    return (
        <ul className="mt-1.5 text-[13px] text-soft" data-testid="chip-counts">
            {bits.map((bit) => (
                <li key={`${bit.bank}/${bit.bit}`}>
                    bit {bit.bit}, {bit.patternWords}: {grouped(bit.failed)} failed of {grouped(bit.able)} able to show it,{' '}
                    {grouped(bit.tested)} in all
                </li>
            ))}
        </ul>
    );
}

export const stateWords: Record<Job['state'], string> = {
    open: 'open',
    repaired: 'repaired',
    'no-fault-found': 'no fault found',
    'waiting-for-parts': 'waiting for parts',
    parked: 'parked',
    'given-up': 'given up',
    'cured-unexplained': 'cured without knowing why',
};

/** A part that does not sit where it came says so. */
function elsewhere(suspect: Suspect) {
    const home = suspect.site.split('.')[0];
    return suspect.seat && suspect.kind !== 'net' && suspect.seat !== home && !suspect.site.includes(suspect.seat) ? (
        <span className="font-normal"> (now in {suspect.seat})</span>
    ) : null;
}

export function about(suspect: Suspect, board: Board | undefined): string {
    const part = board?.parts.find(
        (candidate) => candidate.ref === (suspect.kind === 'net' ? suspect.site : (suspect.seat ?? suspect.site)),
    );
    const assembly = suspect.kind === 'assembly' ? board?.assemblies.find((candidate) => candidate.id === suspect.site)?.name : undefined;
    const bits = board?.memoryBanks.flatMap((bank) =>
        bank.chipOfBit.filter((entry) => entry.chip === suspect.site).map((entry) => `bit ${entry.bit} of bank ${bank.name}`),
    );
    if (suspect.kind === 'chip' && bits?.length === 1) {
        return `${part?.part ?? ''} · ${bits[0]}`;
    }
    return [part?.part ?? assembly, service[suspect.kind]].filter(Boolean).join(' · ');
}

export function StateWord({ state, className }: { state: Job['state']; className?: string }) {
    const good = state === 'repaired' || state === 'cured-unexplained';
    return (
        <span className={cn(good ? 'text-green' : state === 'open' ? 'text-ochre' : 'text-soft', className)}>
            {good ? '✓' : state === 'open' ? '●' : '○'} {stateWords[state]}
        </span>
    );
}
