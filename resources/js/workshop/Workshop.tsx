import { useQuery } from '@tanstack/react-query';
import { Download, Upload } from 'lucide-react';
import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRestoreBackup, useUpdateWorkshop, workshopQuery } from '../api/queries';
import type { Radix, School, WorkshopSettings } from '../api/schemas';
import { PageHead } from '../home/PageHead';
import { Button, Choice, Dialog, Field, ProblemList, Switches, TextInput } from '../ui';
import { FilePicker } from '../ui/FilePicker';
import { takeWorkshopTheme } from '../ui/theme';

const about: Record<School, string> = {
    'measure-first': 'Readings and meters before anything is moved.',
    'swap-first': 'Known good parts go in early; measuring comes after.',
    'clean-first': 'Contacts are cleaned and parts reseated before anything else.',
    likelihood: 'The likeliest part is replaced as soon as nothing cheap is left.',
};

/** What the workshop owns and how it prefers to work. */
export default function Workshop() {
    const workshop = useQuery(workshopQuery);
    const update = useUpdateWorkshop();
    return (
        <div className="h-full overflow-y-auto">
            <PageHead current="workshop" />
            <main className="mx-auto flex max-w-3xl flex-col gap-6 px-6 py-6">
                <header>
                    <h1 className="text-2xl">Workshop</h1>
                    <p className="text-soft">
                        It decides what is proposed, and in which order. A job can have it otherwise: click its sentence at the top.
                    </p>
                </header>
                <ProblemList problems={problemsOf(workshop.error)} title="The workshop cannot be shown." />
                {workshop.data && (
                    <>
                        <fieldset className="flex flex-col gap-2">
                            <legend className="mb-1 font-semibold">School</legend>
                            {workshop.data.schools.map((school) => (
                                <div key={school.value} className="grid grid-cols-[1.2rem_1fr] gap-x-2">
                                    <input
                                        id={`school-${school.value}`}
                                        type="radio"
                                        name="school"
                                        className="mt-1.5"
                                        checked={workshop.data.workshop.school === school.value}
                                        onChange={() => update.mutate({ school: school.value as School })}
                                    />
                                    <label htmlFor={`school-${school.value}`}>
                                        <span className="font-semibold">{school.words}</span>
                                        <span className="block text-sm text-soft">{about[school.value as School]}</span>
                                    </label>
                                </div>
                            ))}
                        </fieldset>
                        <section>
                            <h2 className="mb-1 font-semibold">Equipment at hand</h2>
                            <Switches
                                label="Equipment"
                                options={workshop.data.equipment.map((each) => ({ value: each.value, label: each.words }))}
                                on={workshop.data.workshop.equipment}
                                disabled={update.isPending}
                                onToggle={(value, on) =>
                                    update.mutate({
                                        equipment: on
                                            ? [...workshop.data.workshop.equipment, value]
                                            : workshop.data.workshop.equipment.filter((each) => each !== value),
                                    })
                                }
                            />
                        </section>
                        <Stock key={JSON.stringify(workshop.data.workshop.stock)} settings={workshop.data.workshop} />
                        <Spares key={JSON.stringify(workshop.data.workshop.spares)} settings={workshop.data.workshop} />
                        <Preferences key={JSON.stringify(workshop.data.workshop)} settings={workshop.data.workshop} />
                        <ProblemList problems={problemsOf(update.error)} />
                        <Backup />
                    </>
                )}
            </main>
        </div>
    );
}

/** What lies in which drawer: one line to a kind. */
function Stock({ settings }: { settings: WorkshopSettings }) {
    const update = useUpdateWorkshop();
    const [text, setText] = useState(
        settings.stock
            .map((entry) =>
                [entry.count, entry.part, entry.nanoseconds === null ? '' : `${entry.nanoseconds}ns`, entry.drawer && `in ${entry.drawer}`]
                    .filter(Boolean)
                    .join(' '),
            )
            .join('\n'),
    );
    const lines = text.split('\n').filter((line) => line.trim() !== '');
    const read = lines.map((line) => /^\s*(\d+)\s*x?\s+(\S+)(?:\s+(\d+)\s*ns)?(?:\s+in\s+(.+?))?\s*$/i.exec(line));
    const unread = lines.filter((_, place) => !read[place]);
    return (
        <section className="flex flex-col gap-2">
            <h2 className="font-semibold">Stock</h2>
            <Field label="One line to a kind: how many, type number, speed, drawer" hint="8 4164 150ns in drawer 2">
                {(id) => <textarea id={id} rows={4} className="font-mono" value={text} onChange={(event) => setText(event.target.value)} />}
            </Field>
            {unread.length > 0 && (
                <p className="text-sm text-red">Not understood: {unread.join('; ')}. Write it as 8 4164 150ns in drawer 2.</p>
            )}
            <Button
                className="self-start"
                disabled={update.isPending || unread.length > 0}
                onClick={() =>
                    update.mutate({
                        stock: read.flatMap((match) =>
                            match
                                ? [
                                      {
                                          count: Number(match[1]),
                                          part: match[2]!,
                                          nanoseconds: match[3] ? Number(match[3]) : null,
                                          drawer: match[4] ?? '',
                                      },
                                  ]
                                : [],
                        ),
                    })
                }
            >
                Keep the stock
            </Button>
            <ProblemList problems={problemsOf(update.error)} />
        </section>
    );
}

function Preferences({ settings }: { settings: WorkshopSettings }) {
    const update = useUpdateWorkshop();
    const [confidence, setConfidence] = useState(String(settings.confidence * 100));
    const [amount, setAmount] = useState(settings.hourlyCost === null ? '' : String(settings.hourlyCost.amount));
    const [currency, setCurrency] = useState(settings.hourlyCost?.currency ?? '');
    const [name, setName] = useState(settings.name);
    return (
        <section className="flex flex-col gap-3">
            <h2 className="font-semibold">How the work is done here</h2>
            <form
                className="flex flex-wrap items-end gap-3"
                onSubmit={(event) => {
                    event.preventDefault();
                    update.mutate({
                        confidence: Number(confidence) / 100,
                        hourlyCost: amount.trim() === '' ? null : { amount: Number(amount), currency: currency.trim() || '-' },
                        name: name.trim(),
                    });
                }}
            >
                <TextInput label="Name on records and labels" className="w-56" value={name} maxLength={80} onChange={setName} />
                <TextInput
                    label="Confidence wanted, %"
                    className="w-24 font-mono"
                    inputMode="decimal"
                    value={confidence}
                    onChange={setConfidence}
                />
                <TextInput
                    label="An hour costs, if charged"
                    className="w-24 font-mono"
                    inputMode="decimal"
                    value={amount}
                    onChange={setAmount}
                />
                <TextInput label="in" className="w-20" value={currency} maxLength={8} onChange={setCurrency} />
                <Button type="submit" disabled={update.isPending}>
                    Keep it
                </Button>
            </form>
            <div className="flex flex-wrap items-center gap-x-6 gap-y-3">
                <span className="flex items-center gap-2">
                    <span className="text-[13px] font-semibold text-soft">Number base of new jobs</span>
                    <Choice
                        label="Number base of new jobs"
                        value={String(settings.radix ?? 'own')}
                        onChange={(radix) => update.mutate({ radix: radix === 'own' ? null : (Number(radix) as Radix) })}
                        options={[
                            { value: 'own', label: "the machine's" },
                            { value: '16', label: 'hex' },
                            { value: '8', label: 'oct' },
                            { value: '10', label: 'dec' },
                        ]}
                    />
                </span>
                <span className="flex items-center gap-2">
                    <span className="text-[13px] font-semibold text-soft">Light</span>
                    <Choice
                        label="Light"
                        value={settings.theme}
                        onChange={(theme) => {
                            takeWorkshopTheme(theme);
                            update.mutate({ theme });
                        }}
                        options={[
                            { value: 'system', label: "as the system's" },
                            { value: 'day', label: 'day' },
                            { value: 'lights-out', label: 'lights out' },
                        ]}
                    />
                </span>
            </div>
            <label className="flex items-center gap-2">
                <input type="checkbox" checked={settings.learns} onChange={(event) => update.mutate({ learns: event.target.checked })} />
                What parts failed of in earlier jobs makes the same likelier in later ones
            </label>
            <ProblemList problems={problemsOf(update.error)} />
        </section>
    );
}

/** Everything in one file, and back. */
function Backup() {
    const restore = useRestoreBackup();
    const [file, setFile] = useState<File | null>(null);
    return (
        <section className="flex flex-col gap-2">
            <h2 className="font-semibold">Back-up</h2>
            <p className="text-sm text-soft">
                Jobs, photographs, board files and the workshop in a single file. On the command line: php artisan zap:backup FILE, and
                zap:restore FILE.
            </p>
            <div className="flex flex-wrap gap-2">
                <a
                    href="/api/backup"
                    download
                    className="inline-flex min-h-8 items-center gap-1.5 rounded-[2px] border border-edge bg-sheet px-3 py-1 text-sm font-semibold hover:bg-print"
                >
                    <Download aria-hidden size={16} /> Write a back-up
                </a>
                <FilePicker label="Back-up to restore" busy={restore.isPending} onChoose={setFile}>
                    <Upload aria-hidden size={16} /> Restore a back-up
                </FilePicker>
            </div>
            <Dialog
                open={file !== null}
                onOpenChange={() => setFile(null)}
                title="Restore a back-up"
                about="What is on the bench now is replaced by what is in the file. Write a back-up first if you want it kept."
            >
                <p className="mb-3 font-mono">{file?.name}</p>
                <Button
                    look="act"
                    disabled={restore.isPending}
                    onClick={() => file && restore.mutate(file, { onSettled: () => setFile(null) })}
                >
                    Replace everything by it
                </Button>
            </Dialog>
            {restore.data && (
                <p role="status" className="border-l-4 border-green pl-3">
                    Restored: {restore.data.restored.jobs} jobs, {restore.data.restored.observations} observations.
                </p>
            )}
            <ProblemList problems={problemsOf(restore.error)} title="Nothing was restored; everything is as it was." />
        </section>
    );
}

/** Parts in the drawer, by type number. */
function Spares({ settings }: { settings: WorkshopSettings }) {
    const update = useUpdateWorkshop();
    const [text, setText] = useState((settings.spares ?? []).join(' '));
    const numbers = text.split(/[\s,;]+/).filter(Boolean);
    return (
        <section className="flex flex-col gap-2">
            <h2 className="font-semibold">Spares</h2>
            <p className="text-sm text-soft">
                {settings.spares === null
                    ? 'Every part can be had. Give a list, and only what is on it is proposed for exchange and replacement.'
                    : 'Only these are proposed for exchange and replacement.'}
            </p>
            <Field label="Type numbers in the drawer" hint="With spaces between: 4164 74LS257 6502">
                {(id) => <textarea id={id} rows={3} className="font-mono" value={text} onChange={(event) => setText(event.target.value)} />}
            </Field>
            <div className="flex gap-2">
                <Button disabled={update.isPending} onClick={() => update.mutate({ spares: numbers })}>
                    Keep this list
                </Button>
                <Button
                    look="quiet"
                    disabled={update.isPending || settings.spares === null}
                    onClick={() => update.mutate({ spares: null })}
                >
                    Every part can be had
                </Button>
            </div>
            <ProblemList problems={problemsOf(update.error)} />
        </section>
    );
}
