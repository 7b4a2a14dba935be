import { Download, Printer } from 'lucide-react';
import type { Board, Job } from '../api/schemas';
import { BoardPlan } from '../board/BoardPlan';
import { Marked } from '../checkin/Photographs';
import { Button } from '../ui';
import { stateWords } from '../verdict/Verdict';

const date = new Intl.DateTimeFormat(undefined, { dateStyle: 'long' });

/** What the owner gets to read, on paper or as a file. */
export default function Record({ job, board }: { job: Job; board: Board }) {
    const record = job.round.record;
    const fitted = Object.entries(job.done).filter(([, what]) => ['replace', 'exchange'].includes(what));
    return (
        <div className="flex flex-col gap-5">
            <div className="flex flex-wrap items-center gap-2 print:hidden">
                <Button look="act" onClick={() => window.print()}>
                    <Printer aria-hidden size={16} /> Print
                </Button>
                {[
                    ['record.md', 'Markdown'],
                    ['record.json', 'JSON'],
                    ['log.csv', 'Log as CSV'],
                ].map(([file, label]) => (
                    <a
                        key={file}
                        href={`/api/jobs/${job.id}/${file}`}
                        download
                        className="inline-flex min-h-8 items-center gap-1 border border-edge px-3 text-sm font-semibold hover:bg-print"
                    >
                        <Download aria-hidden size={16} /> {label}
                    </a>
                ))}
            </div>
            <article className="print-sheet mx-auto flex w-full max-w-[46rem] flex-col gap-4" data-testid="record">
                <header className="border-b-2 border-ink pb-2">
                    <h2 className="text-[26px] leading-tight">{job.machine}</h2>
                    <p className="text-soft">
                        {board.name}, {board.revision} · came in {date.format(new Date(job.openedAt))} · {stateWords[job.state]}
                    </p>
                    {job.fitted && <p>Came with: {job.fitted}</p>}
                </header>
                <Part title="The complaint">{job.symptom || 'None was noted.'}</Part>
                <Part title="What was found" list={record.found} none="Nothing was found." />
                <section>
                    <h3 className="text-lg">What was done</h3>
                    {record.done.length === 0 && <p className="text-soft">Nothing was changed.</p>}
                    <ul>
                        {record.done.map((done) => (
                            <li key={done.site + done.what} className="border-b border-rule py-1">
                                <b>{done.site}</b> {done.part && `(${done.part})`} {done.what}
                                {done.why.length > 0 && <span className="text-soft">, because {done.why.join('; ')}</span>}.
                            </li>
                        ))}
                    </ul>
                </section>
                <section>
                    <h3 className="text-lg">What was tested</h3>
                    {record.tested.length === 0 && <p className="text-soft">Nothing was tested yet.</p>}
                    <ul>
                        {record.tested.map((test) => (
                            <li key={test.name} className="flex gap-2 border-b border-rule py-1">
                                <span className={test.good ? 'text-green' : 'text-red'}>{test.good ? '✓' : '◆'}</span>
                                <span className="flex-1">{test.name}</span>
                                <span>{test.result}</span>
                            </li>
                        ))}
                    </ul>
                </section>
                <Part title="What remains" list={record.remains} none="Nothing that is known." />
                <Part title="Borrowed" list={record.borrowed} none="Nothing is borrowed." />
                {board.plan && (
                    <section className="break-inside-avoid">
                        <h3 className="text-lg">Where on the board</h3>
                        <p className="text-[13px] text-soft">A double outline is what was replaced.</p>
                        <BoardPlan
                            board={board}
                            suspects={job.nothingLeft > 0.5 ? [] : job.suspects}
                            replaced={new Set(fitted.map(([where]) => where))}
                        />
                    </section>
                )}
                {job.round.photos.length > 0 && (
                    <section>
                        <h3 className="text-lg">Photographs</h3>
                        <div className="grid grid-cols-2 gap-3">
                            {job.round.photos.map((photo) => (
                                <figure key={photo.observation} className="break-inside-avoid">
                                    <Marked photo={photo} />
                                    <figcaption className="text-sm">{photo.caption}</figcaption>
                                </figure>
                            ))}
                        </div>
                    </section>
                )}
            </article>
        </div>
    );
}

function Part({ title, list, none, children }: { title: string; list?: string[]; none?: string; children?: React.ReactNode }) {
    return (
        <section>
            <h3 className="text-lg">{title}</h3>
            {children && <p>{children}</p>}
            {list?.length === 0 && <p className="text-soft">{none}</p>}
            <ul>
                {list?.map((sentence) => (
                    <li key={sentence} className="border-b border-rule py-1">
                        {sentence}
                    </li>
                ))}
            </ul>
        </section>
    );
}
