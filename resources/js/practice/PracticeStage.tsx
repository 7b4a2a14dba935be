import { useState } from 'react';
import { Link } from 'react-router';
import { problemsOf } from '../api/client';
import { useFinishPractice, useTake } from '../api/queries';
import type { Board, Job, PracticeResult } from '../api/schemas';
import { StageHead } from '../job/Entries';
import { situations } from '../signals/situations';
import { Button, Field, ProblemList, TextInput } from '../ui';
import { count } from '../ui/numbers';

type Instrument = {
    label: string;
    fields: ('pin' | 'chip' | 'site' | 'from' | 'to' | 'rail' | 'address' | 'diagnostic' | 'function' | 'position')[];
};

const groups: Record<string, Record<string, Instrument>> = {
    'look and measure': {
        'look-over': { label: 'look the board over, power off', fields: [] },
        watch: { label: 'switch it on and watch', fields: [] },
        rail: { label: 'measure a rail', fields: ['rail'] },
        probe: { label: 'probe a pin', fields: ['pin'] },
        frequency: { label: 'measure a frequency', fields: ['pin'] },
        walk: { label: 'touch every pin of a chip', fields: ['chip'] },
        continuity: { label: 'test continuity, power off', fields: ['from', 'to'] },
        drop: { label: 'measure along a held line, to the millivolt', fields: ['pin'] },
        feel: { label: 'feel a chip', fields: ['site'] },
    },
    'run and read': {
        run: { label: 'run a diagnostic', fields: ['diagnostic'] },
        read: { label: 'write and read memory', fields: ['address'] },
        rom: { label: 'read a ROM in a reader', fields: ['chip'] },
        capture: { label: 'record the bus beside a good one', fields: [] },
        test: { label: 'chip tester', fields: ['site'] },
        function: { label: 'test a function', fields: ['function'] },
        try: { label: 'try the machine', fields: [] },
        'power-ons': { label: 'five power-ons in a row', fields: [] },
    },
    'for a moment': {
        'warm-up': { label: 'let it run until it is warm', fields: [] },
        'let-cool': { label: 'let it cool down', fields: [] },
        warm: { label: 'warm one chip', fields: ['site'] },
        cool: { label: 'cool one chip', fields: ['site'] },
        piggyback: { label: 'piggyback', fields: ['site'] },
        unplug: { label: 'unplug an assembly', fields: ['site'] },
        plug: { label: 'plug it in again', fields: ['site'] },
    },
    repair: {
        reseat: { label: 'reseat', fields: ['site'] },
        clean: { label: 'clean contacts', fields: ['site'] },
        replace: { label: 'replace a part', fields: ['site'] },
        refit: { label: 'put the original back', fields: ['site'] },
        bridge: { label: 'bridge a net with a wire for a try', fields: ['site'] },
        wire: { label: 'fit a wire along a net', fields: ['site'] },
        fix: { label: 'clear a short, mend a supply', fields: ['site'] },
        set: { label: 'set a link', fields: ['site', 'position'] },
    },
};

/** So many earlier observations stand below the last. */
const shown = 7;

const instruments: Record<string, Instrument> = Object.assign({}, ...Object.values(groups));

/** The instruments of the practice bench, and the end of it. */
export default function PracticeStage({ job, board }: { job: Job; board: Board }) {
    const take = useTake(job.id);
    const finish = useFinishPractice(job.id);
    const [instrument, setInstrument] = useState('watch');
    const [values, setValues] = useState<Record<string, string>>({});
    const [situation, setSituation] = useState('running');
    const practice = job.practice;
    if (!practice) {
        return (
            <p className="text-soft">
                This is a real job. Dead machines to learn on are under{' '}
                <Link to="/practice" className="underline">
                    Practice
                </Link>
                .
            </p>
        );
    }
    const chosen = instruments[instrument]!;
    const choices: Record<string, string[]> = {
        rail: board.rails.map((rail) => rail.name),
        diagnostic: board.diagnostics.map((each) => each.id),
        function: board.functions.map((each) => each.id),
    };
    const value = (field: string) => values[field] ?? choices[field]?.[0] ?? '';
    const seen = job.log.filter((entry) => entry.withdrawnAt === null);
    const last = seen.at(-1);
    const before = seen.slice(-1 - shown, -1).reverse();
    return (
        <div className="flex flex-col gap-4">
            <StageHead title="Practice bench">
                {count(practice.steps, 'step', 'steps')}, {count(Math.round(practice.minutes), 'minute', 'minutes')} so far. Every
                instrument answers; what it says goes into the log.
            </StageHead>
            {practice.result ? (
                <Ending result={practice.result} steps={practice.steps} minutes={practice.minutes} />
            ) : (
                <>
                    <form
                        className="flex flex-wrap items-end gap-3"
                        onSubmit={(event) => {
                            event.preventDefault();
                            take.mutate({
                                instrument,
                                situation,
                                ...Object.fromEntries(chosen.fields.map((field) => [field, value(field)])),
                            });
                        }}
                    >
                        <Field label="Instrument">
                            {(id) => (
                                <select id={id} value={instrument} onChange={(event) => setInstrument(event.target.value)}>
                                    {Object.entries(groups).map(([group, each]) => (
                                        <optgroup key={group} label={group}>
                                            {Object.entries(each).map(([name, { label }]) => (
                                                <option key={name} value={name}>
                                                    {label}
                                                </option>
                                            ))}
                                        </optgroup>
                                    ))}
                                </select>
                            )}
                        </Field>
                        {chosen.fields.map((field) =>
                            choices[field] ? (
                                <Field key={field} label={field}>
                                    {(id) => (
                                        <select
                                            id={id}
                                            value={value(field)}
                                            onChange={(event) => setValues({ ...values, [field]: event.target.value })}
                                        >
                                            {choices[field]!.map((each) => (
                                                <option key={each}>{each}</option>
                                            ))}
                                        </select>
                                    )}
                                </Field>
                            ) : (
                                <TextInput
                                    key={field}
                                    label={
                                        {
                                            pin: 'Pin',
                                            chip: 'Chip',
                                            site: 'Part, net or link',
                                            from: 'From pin',
                                            to: 'To pin',
                                            address: 'Address',
                                            position: 'Position',
                                        }[field as 'pin']
                                    }
                                    className="w-32 font-mono"
                                    placeholder={
                                        {
                                            pin: 'U9.3',
                                            chip: 'U9',
                                            site: 'U9',
                                            from: 'U9.3',
                                            to: 'U14.12',
                                            address: '6C00',
                                            position: '16K',
                                        }[field as 'pin']
                                    }
                                    value={value(field)}
                                    onChange={(text) => setValues({ ...values, [field]: text })}
                                />
                            ),
                        )}
                        {['probe', 'walk', 'frequency'].includes(instrument) && (
                            <Field label="Situation">
                                {(id) => (
                                    <select id={id} value={situation} onChange={(event) => setSituation(event.target.value)}>
                                        {situations
                                            .filter(({ value: each }) => each !== 'as-found')
                                            .map(({ value: each, label }) => (
                                                <option key={each} value={each}>
                                                    {label}
                                                </option>
                                            ))}
                                    </select>
                                )}
                            </Field>
                        )}
                        <Button type="submit" look="act" disabled={take.isPending}>
                            {take.isPending ? 'At it…' : 'Do it'}
                        </Button>
                    </form>
                    <ProblemList problems={problemsOf(take.error ?? finish.error)} />
                    {last && (
                        <p role="status" className="border-l-4 border-ink pl-3 text-lg">
                            {last.title}
                            {last.notes.map((note) => (
                                <span key={note} className="block text-sm text-soft">
                                    {note}
                                </span>
                            ))}
                        </p>
                    )}
                    {before.length > 0 && (
                        <section aria-label="Seen before that">
                            <h3 className="text-[13px] font-semibold text-soft">Before that</h3>
                            <ol className="text-[15px]">
                                {before.map((entry) => (
                                    <li key={entry.id} className="border-b border-rule py-1">
                                        {entry.title}
                                    </li>
                                ))}
                            </ol>
                            {seen.length > before.length + 1 && (
                                <Link to={`/jobs/${job.id}/log`} className="text-sm underline underline-offset-2">
                                    All {seen.length} in the log
                                </Link>
                            )}
                        </section>
                    )}
                    {practice.failingIn && (
                        <p>
                            <strong>It is on, and it fails now</strong> (
                            {situations.find((each) => each.value === practice.failingIn)?.label ?? practice.failingIn}). What is looked at
                            next like that is looked at without a new start: a fault that comes and goes stays as it is.
                        </p>
                    )}
                    <p className="text-soft">
                        The next step on the right can be taken with one click there. When you are sure that nothing is left, finish: the
                        faults are told, and how the advice does on the same machine.
                    </p>
                    <div>
                        <Button disabled={finish.isPending} onClick={() => finish.mutate()}>
                            Finish and tell me what was wrong
                        </Button>
                    </div>
                </>
            )}
        </div>
    );
}

function Ending({ result, steps, minutes }: { result: PracticeResult; steps: number; minutes: number }) {
    const { advice } = result;
    const rows: [string, string | number, string | number | undefined][] = [
        ['repaired', result.left.length === 0 ? 'yes' : 'no', advice ? (advice.revived ? 'yes' : 'no') : undefined],
        ['steps', steps, advice?.steps],
        ['minutes', Math.round(minutes), advice?.minutes],
        ['good soldered parts removed', result.goodSoldered, advice?.goodSoldered],
        ['good socketed parts pulled', result.goodPulled, advice?.goodPulled ?? ''],
    ];
    return (
        <section aria-label="How it ended" className="flex flex-col gap-3">
            <p className={result.left.length === 0 ? 'border-l-4 border-green pl-3 text-lg' : 'border-l-4 border-red pl-3 text-lg'}>
                {result.left.length === 0 ? '✓ Nothing is left: the machine is repaired.' : `✗ Still wrong: ${result.left.join('; ')}.`}
            </p>
            <p>
                What was wrong: <strong>{result.faults.join('; ')}</strong>.
            </p>
            <table className="max-w-xl text-[15px]" aria-label="You and the advice">
                <thead>
                    <tr className="text-left text-[13px] text-soft">
                        <td />
                        <th className="font-normal">you</th>
                        {advice && <th className="font-normal">the advice alone</th>}
                    </tr>
                </thead>
                <tbody>
                    {rows.map(([what, you, alone]) => (
                        <tr key={what} className="border-t border-rule">
                            <td className="py-1">{what}</td>
                            <td className="font-mono">{you}</td>
                            {advice && <td className="font-mono">{alone}</td>}
                        </tr>
                    ))}
                </tbody>
            </table>
            {!advice && (
                <p role="status">
                    {result.comparing
                        ? 'The advice is at work on the same machine: that takes from a few seconds to a few minutes, and then stands beside yours.'
                        : 'The advice did not come to an end on this machine: there is nothing to hold yours against.'}
                </p>
            )}
            {advice && advice.told.length > 0 && (
                <details>
                    <summary className="min-h-6 cursor-pointer underline underline-offset-2">
                        What the advice did, and what was seen
                    </summary>
                    <ol className="mt-2 list-decimal pl-9 font-mono text-[13px] marker:text-soft">
                        {advice.told.map((told, place) => (
                            <li key={place} className="break-words border-b border-rule py-0.5">
                                {told}
                            </li>
                        ))}
                    </ol>
                </details>
            )}
            <Link to="/practice" className="underline">
                All practice runs
            </Link>
        </section>
    );
}
