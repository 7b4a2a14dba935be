import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRecord } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { doneWords } from './done';
import { Button, Dialog, ProblemList } from '../ui';

/** The machine's present context as a sentence, to be clicked and changed. */
export function Context({ job, board }: { job: Job; board: Board }) {
    const [open, setOpen] = useState(false);
    return (
        <>
            <button
                type="button"
                data-testid="context"
                className="truncate border-b border-dashed border-ink text-left hover:border-solid"
                onClick={() => setOpen(true)}
            >
                {sentence(job, board)}
            </button>
            <Dialog
                open={open}
                onOpenChange={setOpen}
                title="Links and latches"
                about="How the machine stands now. Readings keep the setting they were made under."
            >
                <Settings job={job} board={board} />
            </Dialog>
        </>
    );
}

function sentence(job: Job, board: Board): string {
    const moved = board.settings.filter((setting) => job.settings[setting.ref] !== setting.default);
    const links = board.settings
        .filter((setting) => !setting.isLatch || moved.includes(setting))
        .map((setting) => `${setting.ref} at ${job.settings[setting.ref]}`);
    const done = Object.entries(job.done).map(([site, action]) => `${site} ${doneWords[action] ?? action}`);
    return [
        `${moved.length + done.length === 0 ? 'As it came' : 'Changed'}${links.length + done.length === 0 ? '' : ':'} ${done.join(', ')}`.trim(),
        links.join(', '),
    ]
        .filter(Boolean)
        .join(done.length > 0 ? '; ' : ' ');
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
