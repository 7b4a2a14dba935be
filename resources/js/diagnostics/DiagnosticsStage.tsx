import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRecord } from '../api/queries';
import type { Board, Diagnostic, Job } from '../api/schemas';
import { AddressRuler } from '../memory/AddressRuler';
import { Button, Field, Key, ProblemList, TextInput } from '../ui';
import { inBase } from '../ui/numbers';

const counted = {
    flashes: 'flashes',
    tones: 'tones',
    colour: 'screen colour',
    chips: 'chips named',
    mask: 'error mask',
    step: 'step it stopped at',
};

/** Stage 6: what a diagnostic reported, what that means by its table, and what it did not look at. */
export default function DiagnosticsStage({ job, board }: { job: Job; board: Board }) {
    const [id, setId] = useState(board.diagnostics[0]?.id ?? '');
    const diagnostic = board.diagnostics.find((candidate) => candidate.id === id);
    const covered = (each: Diagnostic) =>
        each.covers
            .map(([from, to]) => `${inBase(from!, job.radix, board.addressWidth)} to ${inBase(to!, job.radix, board.addressWidth)}`)
            .join(', ');
    const runs = job.log.filter((entry) => entry.kind === 'diagnostic-run').reverse();

    if (!diagnostic) {
        return (
            <div>
                <h2 className="text-[22px]">Diagnostics</h2>
                <p className="mt-2 text-soft">
                    The profile of this board describes no diagnostic. Add one to its file, with its table of codes, to use this stage.
                </p>
            </div>
        );
    }
    return (
        <div className="flex flex-col gap-4">
            <header className="flex flex-wrap items-baseline gap-x-3">
                <h2 className="text-[22px]">Diagnostics</h2>
                <p className="text-soft">
                    {job.conditions.includes(id) ? `The ${diagnostic.name} is in. ` : ''}Two of two alike is a result; one is not.
                </p>
            </header>
            {board.diagnostics.length > 1 && (
                <Field label="Diagnostic">
                    {(field) => (
                        <select id={field} value={id} onChange={(event) => setId(event.target.value)}>
                            {board.diagnostics.map((candidate) => (
                                <option key={candidate.id} value={candidate.id}>
                                    {candidate.name}
                                </option>
                            ))}
                        </select>
                    )}
                </Field>
            )}
            <Run key={diagnostic.id} job={job} diagnostic={diagnostic} />
            {job.notices.map((notice) => (
                <p key={notice} className="border-l-4 border-ochre pl-3 font-semibold text-ochre" data-testid="notice">
                    {notice}
                </p>
            ))}
            <Compared job={job} runs={runs} />
            <section aria-labelledby="coverage-title">
                <h3 id="coverage-title" className="mb-1 font-semibold">
                    What {board.diagnostics.length > 1 ? 'each diagnostic' : `the ${diagnostic.name}`} really tests
                </h3>
                <AddressRuler
                    ruler={{ ...job.memory.ruler, failing: [], firstFailing: [], tested: [] }}
                    lanes={board.diagnostics.map((each) => ({ name: each.name, covers: each.covers, chosen: each.id === id }))}
                    radix={job.radix}
                    addressWidth={board.addressWidth}
                    testedWords="tested by it"
                />
                <p className="mt-1 text-sm text-soft">
                    The {diagnostic.name}: {covered(diagnostic)}. A pass clears nothing outside.
                </p>
            </section>
            <details>
                <summary className="font-semibold">
                    Its table for {board.revision}
                    {diagnostic.revision && `, ${diagnostic.revision}`}
                </summary>
                <ul className="mt-1 columns-2 text-sm sm:columns-4">
                    {diagnostic.codes.map((code) => (
                        <li key={code.code}>
                            <span className="font-mono font-semibold">{code.code.toUpperCase()}</span>{' '}
                            {[code.name, code.bit === null ? '' : `bit ${code.bit}, bank ${code.bank}`, code.chips.join(', ')]
                                .filter(Boolean)
                                .join(', ')}
                        </li>
                    ))}
                </ul>
            </details>
        </div>
    );
}

function Run({ job, diagnostic }: { job: Job; diagnostic: Diagnostic }) {
    const record = useRecord(job.id);
    const [result, setResult] = useState('');
    const [registers, setRegisters] = useState<Record<string, string>>({});
    const listed = ['colour', 'chips', 'step'].includes(diagnostic.reports);
    const taps = diagnostic.reports === 'flashes' || diagnostic.reports === 'tones';
    const keep = (what: string) =>
        record.mutate(
            {
                kind: 'diagnostic-run',
                payload: {
                    diagnostic: diagnostic.id,
                    result: what,
                    ...(Object.values(registers).some(Boolean)
                        ? { registers: Object.fromEntries(Object.entries(registers).filter(([, value]) => value)) }
                        : {}),
                },
            },
            {
                onSuccess: () => {
                    setResult('');
                    setRegisters({});
                },
            },
        );

    return (
        <div className="flex flex-col gap-3">
            <form
                className="flex flex-wrap items-end gap-3"
                onSubmit={(event) => {
                    event.preventDefault();
                    keep(result);
                }}
            >
                <TextInput
                    label={`${diagnostic.name}: ${counted[diagnostic.reports]}`}
                    className="w-32 font-mono"
                    value={result}
                    onChange={setResult}
                    autoComplete="off"
                />
                {diagnostic.registers.map((register) => (
                    <Field key={register} label={`register ${register}`}>
                        {(id) => (
                            <input
                                id={id}
                                className="w-20 font-mono"
                                value={registers[register] ?? ''}
                                onChange={(event) => setRegisters({ ...registers, [register]: event.target.value })}
                                autoComplete="off"
                            />
                        )}
                    </Field>
                ))}
                <Button type="submit" disabled={record.isPending || result.trim() === ''}>
                    Record this run
                </Button>
                <Button disabled={record.isPending} onClick={() => keep('pass')}>
                    It passed
                </Button>
                <Button look="quiet" disabled={record.isPending} onClick={() => keep('nothing')}>
                    it gave no result
                </Button>
            </form>
            {listed && (
                <div role="group" aria-label="Codes of its table" className="flex flex-wrap gap-1.5">
                    {diagnostic.codes.map((code) => (
                        <Button
                            key={code.code}
                            className="font-mono font-normal"
                            onClick={() => setResult(diagnostic.reports === 'chips' && result ? `${result} ${code.code}` : code.code)}
                        >
                            {code.code}
                        </Button>
                    ))}
                </div>
            )}
            {taps && <TapAlong what={counted[diagnostic.reports]} onCount={(count) => setResult(String(count))} />}
            <ProblemList problems={problemsOf(record.error)} />
        </div>
    );
}

/** Tap along with the flashes or tones: the rhythm is drawn, so that a missed one is seen. */
function TapAlong({ what, onCount }: { what: string; onCount: (count: number) => void }) {
    const [taps, setTaps] = useState<number[]>([]);
    const gaps = taps.slice(1).map((tap, place) => tap - taps[place]!);
    const usual = [...gaps].sort((a, b) => a - b)[Math.floor(gaps.length / 2)] ?? 0;
    const long = gaps.map((gap) => usual > 0 && gap > 1.6 * usual);
    const start = taps[0] ?? 0;
    const span = Math.max(1, (taps.at(-1) ?? 0) - start);
    const set = (next: number[]) => {
        setTaps(next);
        onCount(next.length);
    };

    return (
        <div className="border border-rule p-3" data-testid="tap-along">
            <div className="flex flex-wrap items-center gap-3">
                <Button
                    className="min-h-11 px-5"
                    onClick={() => set([...taps, performance.now()])}
                    onKeyUp={(event) => event.key === ' ' && event.stopPropagation()}
                >
                    Tap on each of the {what}
                </Button>
                <span className="font-mono text-2xl" data-testid="taps">
                    {taps.length}
                </span>
                <Button look="quiet" disabled={taps.length === 0} onClick={() => set(taps.slice(0, -1))}>
                    take one back
                </Button>
                <Button look="quiet" disabled={taps.length === 0} onClick={() => set([])}>
                    from the start
                </Button>
                <span className="text-[13px] text-soft">
                    with the button chosen, <Key>space</Key> taps
                </span>
            </div>
            {taps.length > 1 && (
                <svg
                    viewBox="0 0 600 34"
                    className="mt-2 block w-full max-w-2xl"
                    role="img"
                    aria-label={`Rhythm of ${taps.length} taps${long.some(Boolean) ? ', with a gap where one may have been missed' : ', even'}`}
                >
                    <line x1={8} x2={592} y1={26} y2={26} stroke="var(--edge)" />
                    {taps.map((tap) => {
                        const x = 10 + ((tap - start) / span) * 580;
                        return <line key={tap} x1={x} x2={x} y1={6} y2={26} stroke="var(--ink)" strokeWidth={4} />;
                    })}
                    {long.map((isLong, place) =>
                        isLong ? (
                            <text
                                key={taps[place]}
                                x={10 + (((taps[place]! + taps[place + 1]!) / 2 - start) / span) * 580}
                                y={20}
                                textAnchor="middle"
                                fontSize={15}
                                fill="var(--ochre)"
                            >
                                missed?
                            </text>
                        ) : null,
                    )}
                </svg>
            )}
        </div>
    );
}

function Compared({ job, runs }: { job: Job; runs: Job['log'] }) {
    if (runs.length === 0) {
        return (
            <p className="border border-dashed border-edge px-4 py-3 text-soft">
                No run yet. Run it from power-on, count, and record; then power off and run it again.
            </p>
        );
    }
    return (
        <section aria-labelledby="runs-title" data-testid="runs">
            <h3 id="runs-title" className="font-semibold">
                {job.comparison?.words ?? 'All runs are withdrawn'}
            </h3>
            <ol>
                {runs.map((run) => (
                    <li key={run.id} className="border-b border-rule py-1">
                        <span className={run.withdrawnAt ? 'text-soft line-through' : ''}>{run.title}</span>
                    </li>
                ))}
            </ol>
        </section>
    );
}
