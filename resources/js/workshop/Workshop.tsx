import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useUpdateWorkshop, workshopQuery } from '../api/queries';
import type { School, WorkshopSettings } from '../api/schemas';
import { PageHead } from '../home/PageHead';
import { Button, Field, ProblemList, Switches } from '../ui';

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
                        <Spares key={JSON.stringify(workshop.data.workshop.spares)} settings={workshop.data.workshop} />
                        <ProblemList problems={problemsOf(update.error)} />
                    </>
                )}
            </main>
        </div>
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
