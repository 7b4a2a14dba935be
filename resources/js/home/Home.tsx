import { useQuery } from '@tanstack/react-query';
import { FolderInput, Plus } from 'lucide-react';
import { useDeferredValue, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { problemsOf } from '../api/client';
import { boardsQuery, jobsQuery, searchQuery, useImportJob, useNewJob } from '../api/queries';
import type { JobSummary, Radix } from '../api/schemas';
import { Button, Choice, Dialog, Field, ProblemList, ShareBar, TextInput } from '../ui';
import { FilePicker } from '../ui/FilePicker';
import { count, percent } from '../ui/numbers';
import { StateWord } from '../verdict/Verdict';
import { PageHead } from './PageHead';

const date = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium' });

/** The jobs on the bench. */
export default function Home() {
    const jobs = useQuery(jobsQuery);
    const [creating, setCreating] = useState(false);
    const importing = useImportJob();
    const navigate = useNavigate();

    return (
        <div className="h-full overflow-y-auto">
            <PageHead current="bench" />
            <main className="mx-auto max-w-6xl px-6 py-6">
                <div className="mb-4 flex flex-wrap items-center gap-3">
                    <h1 className="mr-auto text-2xl">On the bench</h1>
                    <FilePicker
                        label="Job file"
                        busy={importing.isPending}
                        onChoose={(file) => importing.mutate(file, { onSuccess: ({ id }) => void navigate(`/jobs/${id}`) })}
                    >
                        <FolderInput aria-hidden size={16} /> Open a job file
                    </FilePicker>
                    <Button look="act" onClick={() => setCreating(true)}>
                        <Plus aria-hidden size={16} /> New job
                    </Button>
                </div>
                <Search />
                <ProblemList problems={problemsOf(importing.error)} title="The job file was not opened; nothing of it was stored." />
                <ProblemList problems={problemsOf(jobs.error)} title="The jobs cannot be shown." />
                {jobs.isPending && (
                    <p role="status" className="py-3 text-soft">
                        Weighing what is known of each job…
                    </p>
                )}
                {jobs.data?.length === 0 && (
                    <div className="border border-dashed border-edge px-5 py-6">
                        <p className="text-lg">The bench is empty.</p>
                        <p className="text-soft">
                            Begin a job with the machine&rsquo;s name and its board profile. Whatever you record is kept as you record it.
                        </p>
                    </div>
                )}
                <ul className="border-t-2 border-ink">
                    {jobs.data?.map((job) => (
                        <JobRow key={job.id} job={job} />
                    ))}
                </ul>
            </main>
            <Dialog open={creating} onOpenChange={setCreating} title="New job">
                <NewJob onDone={(id) => void navigate(`/jobs/${id}`)} />
            </Dialog>
        </div>
    );
}

/** Over all jobs, with what was wrong in the end. */
function Search() {
    const [text, setText] = useState('');
    const sought = useDeferredValue(text.trim());
    const found = useQuery(searchQuery(sought));
    return (
        <section aria-label="Search" className="mb-4">
            <TextInput
                label="Search every job: machine, symptom, chip, type of part"
                type="search"
                className="max-w-xl"
                value={text}
                placeholder="U14, 4164, blank screen"
                onChange={setText}
            />
            {sought.length > 1 && found.data && (
                <ul className="mt-2 border-l-4 border-ink pl-3" data-testid="found">
                    {found.data.length === 0 && <li className="text-soft">No job has all of that.</li>}
                    {found.data.map((job) => (
                        <li key={job.id} className="border-b border-rule py-1.5">
                            <Link to={`/jobs/${job.id}`} className="font-semibold underline underline-offset-2">
                                {job.machine}
                            </Link>{' '}
                            <span className="text-sm text-soft">
                                {job.board}, {date.format(new Date(job.openedAt))}, found by {job.matched}
                            </span>
                            <span className="block text-sm">
                                {job.wrong.length > 0
                                    ? `It was ${job.wrong.map((each) => `${each.site}${each.part && ` (${each.part})`}`).join(' and ')}.`
                                    : job.state === 'open'
                                      ? 'Not solved yet.'
                                      : 'What was wrong is not known.'}
                            </span>
                        </li>
                    ))}
                </ul>
            )}
        </section>
    );
}

function JobRow({ job }: { job: JobSummary }) {
    return (
        <li className="border-b border-rule">
            <Link
                to={`/jobs/${job.id}`}
                className="grid grid-cols-[minmax(0,5fr)_minmax(0,3fr)_7rem] gap-x-8 px-3 py-3 hover:bg-sheet max-[700px]:grid-cols-1 max-[700px]:gap-y-2"
            >
                <span className="min-w-0">
                    <span className="text-lg font-semibold">{job.machine}</span>
                    <span className="ml-3 text-sm text-soft">
                        {job.board.name}, {job.board.revision}
                    </span>
                    <span className="line-clamp-2 block">{job.symptom || <i className="text-soft">no symptom noted</i>}</span>
                </span>
                <span className="min-w-0">
                    {job.leading ? (
                        <>
                            <span className="flex items-baseline justify-between">
                                <b className="text-red">{job.leading.site}</b>
                                <span className="font-semibold">
                                    {percent(job.leading.share)} <span className="text-[12px] text-soft">%</span>
                                </span>
                            </span>
                            <ShareBar share={job.leading.share} />
                            <span className="text-[13px] text-soft">leading suspect</span>
                        </>
                    ) : (
                        <span className="text-soft">no suspect {job.readings > 0 ? 'so far' : 'yet'}</span>
                    )}
                </span>
                <span className="text-sm">
                    <StateWord state={job.state} className="font-semibold" />
                    <span className="block text-[13px] text-soft">{count(job.observations, 'observation', 'observations')}</span>
                    <time className="block text-[13px] text-soft" dateTime={job.changedAt}>
                        {date.format(new Date(job.changedAt))}
                    </time>
                </span>
            </Link>
        </li>
    );
}

function NewJob({ onDone }: { onDone: (id: string) => void }) {
    const boards = useQuery(boardsQuery);
    const create = useNewJob();
    const [machine, setMachine] = useState('');
    const [symptom, setSymptom] = useState('');
    const [slug, setSlug] = useState('');
    const [radix, setRadix] = useState<string>('');
    const board = slug || boards.data?.[0]?.slug || '';
    const own = boards.data?.find((candidate) => candidate.slug === board)?.radix ?? 16;

    return (
        <form
            className="flex flex-col gap-4"
            onSubmit={(event) => {
                event.preventDefault();
                create.mutate(
                    { machine, board, symptom, radix: Number(radix || own) as Radix },
                    { onSuccess: ({ job }) => onDone(job.id) },
                );
            }}
        >
            <TextInput
                label="Machine"
                autoFocus
                value={machine}
                onChange={setMachine}
                placeholder="Whose, or what it does"
                maxLength={80}
            />
            <Field label="Board profile" hint={boards.data?.find((candidate) => candidate.slug === board)?.summary}>
                {(id) => (
                    <select id={id} value={board} onChange={(event) => setSlug(event.target.value)}>
                        {boards.data?.map((candidate) => (
                            <option key={candidate.slug} value={candidate.slug}>
                                {candidate.name}, {candidate.revision}
                            </option>
                        ))}
                    </select>
                )}
            </Field>
            <Field label="Symptom, in the owner's words">
                {(id) => (
                    <textarea id={id} rows={3} value={symptom} onChange={(event) => setSymptom(event.target.value)} maxLength={2000} />
                )}
            </Field>
            <div className="flex flex-wrap items-center gap-3">
                <span className="text-[13px] font-semibold text-soft">Number base of its manual</span>
                <Choice
                    label="Number base"
                    value={radix || String(own)}
                    onChange={setRadix}
                    options={[
                        { value: '16', label: 'hexadecimal' },
                        { value: '8', label: 'octal' },
                        { value: '10', label: 'decimal' },
                    ]}
                />
            </div>
            <ProblemList problems={problemsOf(create.error)} title="The job was not begun." />
            <Button look="act" type="submit" className="self-start" disabled={create.isPending}>
                Begin job
            </Button>
        </form>
    );
}
