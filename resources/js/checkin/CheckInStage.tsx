import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { problemsOf } from '../api/client';
import { useRecord, useUpdateJob, workshopQuery } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { Entries, StageHead } from '../job/Entries';
import { Button, Field, ProblemList, Switches, TextInput } from '../ui';
import { Photographs } from './Photographs';

const facts = [
    { value: 'leak', label: 'a cell leaked', where: 'Near which chips?' },
    { value: 'liquid', label: 'liquid got in', where: 'To which chips?' },
    { value: 'over-voltage', label: 'a rail was too high', where: 'Only these chips; leave it empty for all on the rail' },
    { value: 'soldered', label: 'soldered lately', where: 'At which chips?' },
    { value: 'touched', label: 'worked on by somebody', where: 'Which chips or links?' },
    { value: 'recapped', label: 'capacitors replaced', where: 'Which? Leave it empty for all' },
    { value: 'stored', label: 'stored for years', where: '' },
    { value: 'missing', label: 'something is missing', where: 'Which chips or modules?' },
    { value: 'theory', label: "the owner's theory", where: 'Which part does the owner suspect?' },
];

/** Stage 1: what comes over the counter. Weak evidence, and shown as such. */
export default function CheckInStage({ job, board }: { job: Job; board: Board }) {
    return (
        <div className="flex flex-col gap-5">
            <StageHead title="Check-in">What came over the counter, and what is told about it.</StageHead>
            <Words key={`${job.machine}|${job.symptom}|${job.fitted}`} job={job} />
            <Past job={job} board={board} />
            <Entries
                job={job}
                kinds={['history']}
                title="What is known of its past"
                empty="Nothing yet. History misleads: it raises suspicion a little, and never decides."
            />
            {job.round.experience.length > 0 && (
                <section aria-label="What earlier jobs say">
                    <h3 className="mb-1 font-semibold">What earlier jobs say</h3>
                    <p className="text-[13px] text-soft">
                        It makes the same a little likelier here. It can be switched off on the{' '}
                        <Link to="/workshop" className="underline">
                            workshop page
                        </Link>
                        .
                    </p>
                    <p>{[...new Set(job.round.experience)].join(' ')}</p>
                </section>
            )}
            <Second job={job} />
            <Photographs job={job} />
        </div>
    );
}

function Words({ job }: { job: Job }) {
    const update = useUpdateJob(job.id);
    const [machine, setMachine] = useState(job.machine);
    const [symptom, setSymptom] = useState(job.symptom);
    const [fitted, setFitted] = useState(job.fitted);
    const changed = machine !== job.machine || symptom !== job.symptom || fitted !== job.fitted;
    return (
        <form
            className="grid gap-3 md:grid-cols-2"
            onSubmit={(event) => {
                event.preventDefault();
                update.mutate({ machine, symptom, fitted, seen: { machine: job.machine, symptom: job.symptom, fitted: job.fitted } });
            }}
        >
            <TextInput label="Machine" value={machine} maxLength={80} onChange={setMachine} />
            <TextInput
                label="Came with, and what is missing"
                value={fitted}
                maxLength={2000}
                placeholder="64K, no power lead, printer module in"
                onChange={setFitted}
            />
            <Field label="Symptom, in the owner's words" className="md:col-span-2">
                {(id) => (
                    <textarea id={id} rows={2} value={symptom} maxLength={2000} onChange={(event) => setSymptom(event.target.value)} />
                )}
            </Field>
            <div className="md:col-span-2">
                <Button type="submit" disabled={!changed || update.isPending || machine.trim() === ''}>
                    Keep it
                </Button>
            </div>
            <ProblemList problems={problemsOf(update.error)} />
        </form>
    );
}

function Past({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const [fact, setFact] = useState('leak');
    const [sites, setSites] = useState('');
    const [rail, setRail] = useState(board.rails[0]?.name ?? '');
    const [years, setYears] = useState('');
    const [note, setNote] = useState('');
    const chosen = facts.find((candidate) => candidate.value === fact)!;
    const listed = sites.split(/[\s,]+/).filter(Boolean);
    return (
        <form
            className="flex flex-col gap-2 border border-rule p-3"
            onSubmit={(event) => {
                event.preventDefault();
                record.mutate(
                    {
                        kind: 'history',
                        payload: {
                            fact,
                            ...(chosen.where && listed.length > 0 ? { sites: listed } : {}),
                            ...(fact === 'over-voltage' && listed.length === 0 && rail ? { rail } : {}),
                            ...(fact === 'stored' && years ? { years: Number(years) } : {}),
                            ...(note.trim() ? { note: note.trim() } : {}),
                        },
                    },
                    {
                        onSuccess: () => {
                            setSites('');
                            setNote('');
                        },
                    },
                );
            }}
        >
            <Switches label="A fact of its past" options={facts} on={[fact]} onToggle={setFact} />
            <div className="flex flex-wrap items-end gap-3">
                {fact === 'over-voltage' && board.rails.length > 0 && (
                    <Field label="Rail">
                        {(id) => (
                            <select id={id} value={rail} onChange={(event) => setRail(event.target.value)}>
                                {board.rails.map((each) => (
                                    <option key={each.name} value={each.name}>
                                        {each.name} V
                                    </option>
                                ))}
                            </select>
                        )}
                    </Field>
                )}
                {chosen.where && (
                    <TextInput label={chosen.where} className="w-56 font-mono" value={sites} placeholder="U14 U15" onChange={setSites} />
                )}
                {fact === 'stored' && (
                    <TextInput label="Years" className="w-20 font-mono" inputMode="decimal" value={years} onChange={setYears} />
                )}
                <TextInput label="In words, if need be" around="min-w-48 flex-1" value={note} maxLength={500} onChange={setNote} />
                <Button type="submit" disabled={record.isPending}>
                    Record
                </Button>
            </div>
            <ProblemList problems={problemsOf(record.error)} />
        </form>
    );
}

/** Whether there is a second, working machine: it decides which tests are open. */
function Second({ job }: { job: Job }) {
    const workshop = useQuery(workshopQuery);
    const update = useUpdateJob(job.id);
    const own = job.workshop ?? {};
    const equipment = own.equipment ?? workshop.data?.workshop.equipment ?? [];
    const here = equipment.includes('second-machine');
    return (
        <section aria-label="A second machine and spares" className="flex flex-wrap items-center gap-x-4 gap-y-2">
            <label className="flex items-center gap-2">
                <input
                    type="checkbox"
                    checked={here}
                    disabled={update.isPending || !workshop.data}
                    onChange={(event) =>
                        update.mutate({
                            workshop: {
                                ...own,
                                equipment: event.target.checked
                                    ? [...equipment, 'second-machine']
                                    : equipment.filter((each) => each !== 'second-machine'),
                            },
                        })
                    }
                />
                A second machine of this kind is at hand
            </label>
            <span className="text-[13px] text-soft">Prove it first, and test it again afterwards.</span>
            <Link to={`/jobs/${job.id}/ledger`} className="underline underline-offset-2">
                Spares for this board
            </Link>
            <ProblemList problems={problemsOf(update.error)} />
        </section>
    );
}
