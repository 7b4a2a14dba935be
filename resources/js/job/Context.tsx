import { useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import { problemsOf } from '../api/client';
import { useRecord, useUpdateJob, workshopQuery } from '../api/queries';
import type { Board, Job, School } from '../api/schemas';
import { Button, Dialog, Field, ProblemList, Switches, Tabs } from '../ui';

const conditions = [
    { value: 'cold', label: 'cold' },
    { value: 'warm', label: 'warmed up' },
    { value: 'load', label: 'under load' },
    { value: 'low-mains', label: 'low mains' },
    { value: 'high-mains', label: 'high mains' },
    { value: 'failing', label: 'while the fault shows' },
];

/** The machine's present context as a sentence, to be clicked and changed. */
export function Context({ job, board }: { job: Job; board: Board }) {
    const [open, setOpen] = useState(false);
    return (
        <>
            <button
                type="button"
                data-testid="context"
                className="block max-w-full truncate border-b border-dashed border-ink text-left hover:border-solid"
                onClick={() => setOpen(true)}
            >
                {sentence(job, board)}
            </button>
            <Dialog
                open={open}
                onOpenChange={setOpen}
                title="The machine as it stands"
                about="Every observation keeps the context it was made in."
            >
                <Tabs.Root defaultValue="links">
                    <Tabs.List aria-label="Context">
                        <Tabs.Tab value="links">Links and latches</Tabs.Tab>
                        <Tabs.Tab value="conditions">Conditions</Tabs.Tab>
                        <Tabs.Tab value="parts">What is where</Tabs.Tab>
                        <Tabs.Tab value="bench">Bench</Tabs.Tab>
                    </Tabs.List>
                    <Tabs.Panel value="links" className="pt-3">
                        <Settings job={job} board={board} />
                    </Tabs.Panel>
                    <Tabs.Panel value="conditions" className="pt-3">
                        <Conditions job={job} board={board} />
                    </Tabs.Panel>
                    <Tabs.Panel value="parts" className="pt-3">
                        <Parts job={job} />
                    </Tabs.Panel>
                    <Tabs.Panel value="bench" className="pt-3">
                        <Bench job={job} />
                    </Tabs.Panel>
                </Tabs.Root>
            </Dialog>
        </>
    );
}

function sentence(job: Job, board: Board): string {
    const moved = board.settings.filter((setting) => job.settings[setting.ref] !== setting.default);
    const links = board.settings
        .filter((setting) => !setting.isLatch || moved.includes(setting))
        .map((setting) => `${setting.ref} at ${job.settings[setting.ref]}`);
    return [
        `${moved.length + job.context.length === 0 ? 'As it came' : 'Changed'}${links.length + job.context.length === 0 ? '' : ':'} ${job.context.join(', ')}`.trim(),
        links.join(', '),
    ]
        .filter(Boolean)
        .join(job.context.length > 0 ? '; ' : ' ');
}

function Conditions({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const removable = board.assemblies.filter((assembly) => assembly.removable);
    return (
        <div className="flex flex-col gap-4">
            <section>
                <h3 className="mb-1 text-sm font-semibold text-soft">From here on the machine runs</h3>
                <Switches
                    label="Conditions"
                    options={conditions}
                    on={job.conditions}
                    disabled={record.isPending}
                    onToggle={(condition, on) => record.mutate({ kind: 'condition', payload: { condition, on } })}
                />
            </section>
            {board.diagnostics.length > 0 && (
                <section>
                    <h3 className="mb-1 text-sm font-semibold text-soft">Plugged in</h3>
                    <Switches
                        label="Diagnostics plugged in"
                        options={board.diagnostics.map((diagnostic) => ({ value: diagnostic.id, label: diagnostic.name }))}
                        on={job.conditions}
                        disabled={record.isPending}
                        onToggle={(condition, on) => record.mutate({ kind: 'condition', payload: { condition, on } })}
                    />
                </section>
            )}
            {removable.length > 0 && (
                <section>
                    <h3 className="mb-1 text-sm font-semibold text-soft">Unplugged</h3>
                    <Switches
                        label="Assemblies that are out"
                        options={removable.map((assembly) => ({ value: assembly.id, label: assembly.name }))}
                        on={job.unplugged}
                        disabled={record.isPending}
                        onToggle={(site, out) =>
                            record.mutate({ kind: 'intervention', payload: { action: out ? 'unplug' : 'plug', site } })
                        }
                    />
                    {removable.some((assembly) => assembly.needed && job.unplugged.includes(assembly.id)) && (
                        <p className="mt-1 text-sm text-ochre">The machine will not start without it.</p>
                    )}
                </section>
            )}
            <ProblemList problems={problemsOf(record.error)} />
        </div>
    );
}

/** Chips that are not where they started, and what is borrowed. */
function Parts({ job }: { job: Job }) {
    if (job.displaced.length === 0) {
        return <p className="text-soft">Every part is where it came from, and nothing is borrowed.</p>;
    }
    return (
        <ul data-testid="displaced">
            {job.displaced.map((part) => (
                <li key={part.part} className="border-b border-rule py-1">
                    <b>{part.part}</b> {part.seat === null ? 'is out of the machine' : `sits in ${part.seat}`}
                    {part.borrowed && <span className="text-ochre">, borrowed: it has to go back</span>}
                </li>
            ))}
        </ul>
    );
}

/** How the bench is for this job, where it is not as in the workshop. */
function Bench({ job }: { job: Job }) {
    const workshop = useQuery(workshopQuery);
    const update = useUpdateJob(job.id);
    const settings = workshop.data;
    if (!settings) {
        return <p className="text-soft">Fetching the workshop…</p>;
    }
    const own = job.workshop ?? {};
    const school = own.school ?? settings.workshop.school;
    const equipment = own.equipment ?? settings.workshop.equipment;
    return (
        <div className="flex flex-col gap-4">
            <p className="text-sm text-soft">
                {job.workshop === null
                    ? 'As in the workshop. What you change here holds for this job alone.'
                    : 'For this job the bench is otherwise than in the workshop.'}
            </p>
            <Field label="School for this job">
                {(id) => (
                    <select
                        id={id}
                        value={school}
                        onChange={(event) => update.mutate({ workshop: { ...own, school: event.target.value as School } })}
                    >
                        {settings.schools.map((each) => (
                            <option key={each.value} value={each.value}>
                                {each.words}
                            </option>
                        ))}
                    </select>
                )}
            </Field>
            <section>
                <h3 className="mb-1 text-sm font-semibold text-soft">At hand for this job</h3>
                <Switches
                    label="Equipment for this job"
                    options={settings.equipment.map((each) => ({ value: each.value, label: each.words }))}
                    on={equipment}
                    disabled={update.isPending}
                    onToggle={(value, on) =>
                        update.mutate({
                            workshop: { ...own, equipment: on ? [...equipment, value] : equipment.filter((each) => each !== value) },
                        })
                    }
                />
            </section>
            {job.workshop !== null && (
                <Button className="self-start" onClick={() => update.mutate({ workshop: null })}>
                    As in the workshop
                </Button>
            )}
            <ProblemList problems={problemsOf(update.error)} />
        </div>
    );
}

function Settings({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const [since, setSince] = useState<'now' | 'start'>('now');

    return (
        <div className="flex flex-col gap-4">
            <fieldset className="flex flex-col gap-1">
                <legend className="mb-1 text-sm font-semibold text-soft">When I choose another position</legend>
                {[
                    { value: 'now' as const, words: 'I moved it just now: earlier readings were made before that' },
                    { value: 'start' as const, words: 'it stood so all along: earlier readings are seen anew' },
                ].map((choice) => (
                    <label key={choice.value} className="flex items-center gap-2">
                        <input type="radio" name="since" checked={since === choice.value} onChange={() => setSince(choice.value)} />
                        {choice.words}
                    </label>
                ))}
            </fieldset>
            {board.settings.length === 0 && <p className="text-soft">This board has no links and no latches.</p>}
            {board.settings.map((setting) => (
                <fieldset key={setting.ref} className="border-t border-rule pt-2">
                    <legend className="pr-2 font-semibold">
                        {setting.ref}, {setting.name}
                    </legend>
                    <div className="flex flex-col gap-1.5">
                        {setting.positions.map((position) => {
                            const chosen = job.settings[setting.ref] === position.name;
                            return (
                                <div key={position.name} className="grid grid-cols-[8rem_1fr] items-start gap-3">
                                    <Button
                                        aria-pressed={chosen}
                                        className={chosen ? 'bg-ink text-sheet hover:bg-ink' : ''}
                                        disabled={record.isPending}
                                        onClick={() =>
                                            !chosen &&
                                            record.mutate({
                                                kind: 'setting',
                                                payload: { ref: setting.ref, position: position.name, since },
                                            })
                                        }
                                    >
                                        {position.name}
                                    </Button>
                                    <p className="pt-1 text-sm text-soft">
                                        {position.changes}
                                        {position.name === setting.default && ' Factory position.'}
                                    </p>
                                </div>
                            );
                        })}
                    </div>
                </fieldset>
            ))}
            <ProblemList problems={problemsOf(record.error)} />
        </div>
    );
}
