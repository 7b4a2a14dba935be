import { Camera } from 'lucide-react';
import { useState } from 'react';
import { problemsOf } from '../api/client';
import { formOf, usePhoto, useRecord, useWithdraw } from '../api/queries';
import type { Job, Photo } from '../api/schemas';
import { Button, Dialog, ProblemList, TextInput } from '../ui';
import { FilePicker } from '../ui/FilePicker';

/** Photographs kept with the job, with marks that are tied to chips. */
export function Photographs({ job }: { job: Job }) {
    const add = usePhoto(job.id);
    const [caption, setCaption] = useState('');
    const [open, setOpen] = useState<string | null>(null);
    const photos = job.round.photos;
    const shown = photos.find((photo) => photo.sha1 === open);
    return (
        <section aria-label="Photographs" className="flex flex-col gap-2">
            <h3 className="font-semibold">Photographs</h3>
            <div className="flex flex-wrap items-end gap-3">
                <TextInput label="What it shows" className="w-72" value={caption} maxLength={300} onChange={setCaption} />
                <FilePicker
                    label="Photograph"
                    busy={add.isPending}
                    onChoose={(file) => add.mutate(formOf({ file, caption }), { onSuccess: () => setCaption('') })}
                >
                    <Camera aria-hidden size={16} /> Add a photograph
                </FilePicker>
            </div>
            <p className="text-[13px] text-soft">
                It is made smaller, and where and when it was taken is removed. Click one to look at it and to mark chips.
            </p>
            <ProblemList problems={problemsOf(add.error)} title="The photograph was not taken in." />
            {photos.length > 0 && (
                <ul className="grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-3">
                    {photos.map((photo) => (
                        <li key={photo.observation} className="border border-rule bg-print p-1.5">
                            <button type="button" className="block w-full text-left" onClick={() => setOpen(photo.sha1)}>
                                <Marked photo={photo} />
                                <span className="mt-1 block text-[13px]">{photo.caption || 'without words'}</span>
                                {photo.marks.length > 0 && (
                                    <span className="block text-[13px] text-soft">
                                        {photo.marks
                                            .map((mark) => mark.site || mark.note)
                                            .filter(Boolean)
                                            .join(', ')}
                                    </span>
                                )}
                            </button>
                        </li>
                    ))}
                </ul>
            )}
            <Dialog
                open={shown !== undefined}
                onOpenChange={() => setOpen(null)}
                title={shown?.caption || 'Photograph'}
                about="Click where a mark belongs."
                wide
            >
                {shown && <Look job={job} photo={shown} />}
            </Dialog>
        </section>
    );
}

export function Marked({ photo }: { photo: Photo }) {
    return (
        <span className="relative block">
            <img
                src={`/api/photos/${photo.sha1}`}
                alt={photo.caption || 'Photograph without words'}
                className="block w-full"
                width={photo.width}
                height={photo.height}
            />
            {photo.marks.map((mark) => (
                <span
                    key={mark.observation}
                    className="absolute -translate-x-1/2 -translate-y-1/2 border-2 border-red bg-sheet px-1 text-[12px] leading-tight font-semibold text-red"
                    style={{ left: `${mark.x * 100}%`, top: `${mark.y * 100}%` }}
                >
                    {mark.site || '?'}
                </span>
            ))}
        </span>
    );
}

function Look({ job, photo }: { job: Job; photo: Photo }) {
    const record = useRecord(job.id);
    const withdraw = useWithdraw(job.id);
    const [spot, setSpot] = useState<{ x: number; y: number } | null>(null);
    const [site, setSite] = useState('');
    const [note, setNote] = useState('');
    return (
        <div className="flex flex-col gap-3">
            <div className="relative">
                <Marked photo={photo} />
                {spot && (
                    <span
                        className="absolute size-4 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-red bg-sheet"
                        style={{ left: `${spot.x * 100}%`, top: `${spot.y * 100}%` }}
                    />
                )}
                <button
                    type="button"
                    aria-label="Place a mark on the photograph"
                    className="absolute inset-0 cursor-crosshair"
                    onClick={(event) => {
                        const box = event.currentTarget.getBoundingClientRect();
                        // From the keyboard there is no place: the middle will do.
                        setSpot(
                            event.detail === 0
                                ? { x: 0.5, y: 0.5 }
                                : { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height },
                        );
                    }}
                />
            </div>
            <form
                className="flex flex-wrap items-end gap-3"
                onSubmit={(event) => {
                    event.preventDefault();
                    if (spot) {
                        record.mutate(
                            {
                                kind: 'photo-mark',
                                payload: {
                                    sha1: photo.sha1,
                                    ...spot,
                                    ...(site.trim() ? { site: site.trim() } : {}),
                                    ...(note.trim() ? { note: note.trim() } : {}),
                                },
                            },
                            {
                                onSuccess: () => {
                                    setSpot(null);
                                    setSite('');
                                    setNote('');
                                },
                            },
                        );
                    }
                }}
            >
                <TextInput label="Chip" className="w-24 font-mono" value={site} onChange={setSite} placeholder="U14" />
                <TextInput label="What is there" around="flex-1" value={note} maxLength={300} onChange={setNote} />
                <Button type="submit" disabled={!spot || record.isPending}>
                    Mark it
                </Button>
                <Button look="quiet" onClick={() => withdraw.mutate(photo.observation)}>
                    Take the photograph out
                </Button>
            </form>
            <ProblemList problems={problemsOf(record.error)} />
            {photo.marks.length > 0 && (
                <ul>
                    {photo.marks.map((mark) => (
                        <li key={mark.observation} className="flex gap-3 border-b border-rule py-1">
                            <span className="flex-1">
                                <b>{mark.site}</b> {mark.note}
                            </span>
                            <button
                                type="button"
                                className="min-h-6 text-[13px] text-soft underline underline-offset-2"
                                onClick={() => withdraw.mutate(mark.observation)}
                            >
                                withdraw
                            </button>
                        </li>
                    ))}
                </ul>
            )}
        </div>
    );
}
