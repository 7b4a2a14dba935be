import { RotateCcw, Undo2 } from 'lucide-react';
import { useRestore, useWithdraw } from '../api/queries';
import { useLocation } from 'react-router';
import type { Job } from '../api/schemas';
import { Button, cn } from '../ui';
import { count } from '../ui/numbers';

const time = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' });

const kinds: Record<string, string> = {
    'memory-readings': 'memory',
    'memory-file': 'memory file',
    'free-memory': 'free memory',
    'screen-character': 'screen',
    'screen-stripe': 'screen',
    setting: 'link',
    intervention: 'done',
    'diagnostic-run': 'diagnostic',
    'chip-test': 'chip tester',
    'second-machine': 'second machine',
    condition: 'condition',
    history: 'history',
    'set-aside': 'put off',
    'setup-check': 'looked at',
    tried: 'tried',
    look: 'looked',
    rail: 'rail',
    heat: 'warmth',
    sign: 'sign',
    'function-test': 'function',
    'power-ons': 'power-ons',
    photo: 'photograph',
    'photo-mark': 'mark',
    label: 'label',
    'memory-test': 'memory test',
};

const intoView = (element: HTMLElement | null) => element?.scrollIntoView({ block: 'center' });

/** Everything that was recorded, newest first, each with what it was made on. Nothing is ever deleted. */
export default function Log({ job }: { job: Job }) {
    const withdraw = useWithdraw(job.id);
    const restore = useRestore(job.id);
    const entries = [...job.log].reverse();
    const sought = useLocation().hash.slice(1);

    return (
        <div className="flex flex-col gap-3">
            <header className="flex items-baseline gap-3">
                <h2 className="text-[22px]">Log</h2>
                <p className="text-soft">
                    {count(job.log.length, 'observation', 'observations')}, newest first. What is withdrawn counts for nothing until it is
                    restored.
                </p>
            </header>
            {entries.length === 0 && (
                <p className="border border-dashed border-edge px-4 py-3 text-soft">
                    Nothing is recorded yet. Whatever you enter shows here at once, and stays.
                </p>
            )}
            <ol className="flex flex-col" data-testid="log">
                {entries.map((entry) => {
                    const withdrawn = entry.withdrawnAt !== null;
                    return (
                        <li
                            key={entry.id}
                            id={entry.id}
                            ref={entry.id === sought ? intoView : undefined}
                            className={cn(
                                'grid grid-cols-[2.2rem_7.5rem_1fr_auto] items-start gap-x-3 border-b border-rule py-2',
                                entry.id === sought && 'bg-wash outline-2 outline-red',
                            )}
                        >
                            <span className="text-right font-mono text-soft">{entry.sequence}</span>
                            <span className="text-[13px] text-soft">
                                {kinds[entry.kind] ?? entry.kind}
                                <br />
                                <time dateTime={entry.madeAt}>{time.format(new Date(entry.madeAt))}</time>
                            </span>
                            <div>
                                <p className={cn('font-semibold', withdrawn && 'font-normal text-soft line-through')}>{entry.title}</p>
                                {entry.unreadable && <p className="text-sm text-ochre">Set aside: {entry.unreadable}</p>}
                                {entry.notes.map((note) => (
                                    <p key={note} className="text-sm text-soft">
                                        {note}
                                    </p>
                                ))}
                                {withdrawn && <p className="text-sm text-ochre">Withdrawn {time.format(new Date(entry.withdrawnAt!))}</p>}
                                {!withdrawn && (
                                    <p className="text-[13px] text-soft">
                                        Made with {entry.context.length > 0 ? entry.context.join(', ') : 'everything as it came'}
                                    </p>
                                )}
                            </div>
                            {withdrawn ? (
                                <Button
                                    disabled={restore.isPending}
                                    onClick={() => restore.mutate(entry.id)}
                                    aria-label={`Restore observation ${entry.sequence}`}
                                >
                                    <RotateCcw aria-hidden size={14} /> Restore
                                </Button>
                            ) : (
                                <Button
                                    disabled={withdraw.isPending}
                                    onClick={() => withdraw.mutate(entry.id)}
                                    aria-label={`Withdraw observation ${entry.sequence}`}
                                >
                                    <Undo2 aria-hidden size={14} /> Withdraw
                                </Button>
                            )}
                        </li>
                    );
                })}
            </ol>
        </div>
    );
}
