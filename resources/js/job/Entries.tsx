import { useWithdraw } from '../api/queries';
import type { Job } from '../api/schemas';

/** What stands in the log of some kinds, newest first, each with the way to take it back. */
export function Entries({
    job,
    kinds,
    title,
    empty,
    testId,
}: {
    job: Job;
    kinds: string[];
    title: string;
    empty?: string;
    testId?: string;
}) {
    const withdraw = useWithdraw(job.id);
    const entries = job.log.filter((entry) => kinds.includes(entry.kind) && entry.withdrawnAt === null).reverse();
    if (entries.length === 0 && !empty) {
        return null;
    }
    return (
        <section aria-label={title}>
            <h3 className="mb-1 font-semibold">{title}</h3>
            {entries.length === 0 && <p className="text-soft">{empty}</p>}
            <ol data-testid={testId}>
                {entries.map((entry) => (
                    <li key={entry.id} className="flex items-baseline gap-3 border-b border-rule py-1">
                        <span className="min-w-0 flex-1">
                            {entry.title}
                            {entry.notes.map((note) => (
                                <span key={note} className="block text-[13px] text-soft">
                                    {note}
                                </span>
                            ))}
                        </span>
                        <button
                            type="button"
                            className="min-h-6 text-[13px] text-soft underline underline-offset-2"
                            aria-label={`Withdraw observation ${entry.sequence}`}
                            onClick={() => withdraw.mutate(entry.id)}
                        >
                            withdraw
                        </button>
                    </li>
                ))}
            </ol>
        </section>
    );
}

export function StageHead({ title, children }: { title: string; children: React.ReactNode }) {
    return (
        <header className="flex flex-wrap items-baseline gap-x-3">
            <h2 className="text-[22px]">{title}</h2>
            <p className="text-soft">{children}</p>
        </header>
    );
}
