import { useMutation, useQuery } from '@tanstack/react-query';
import { FileInput } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { post, problemsOf } from '../api/client';
import { boardsQuery, useImportBoard } from '../api/queries';
import type { DrawingResponse } from '../api/schemas';
import { PageHead } from '../home/PageHead';
import { Button, Choice, ProblemList, TextInput } from '../ui';
import { FilePicker } from '../ui/FilePicker';

/** A board for a machine of one's own, to be drawn. */
function NewBoard() {
    const [name, setName] = useState('');
    const [width, setWidth] = useState('8');
    const navigate = useNavigate();
    const begin = useMutation({
        mutationFn: () => post<DrawingResponse>('drawings', { name, dataWidth: Number(width), addressWidth: width === '8' ? 16 : 24 }),
        onSuccess: (answer) => void navigate(`/boards/${answer.board.slug}/draw`),
    });
    return (
        <form
            className="flex items-end gap-2"
            onSubmit={(event) => {
                event.preventDefault();
                begin.mutate();
            }}
        >
            <TextInput label="A board of your own" className="w-44" placeholder="its name" value={name} onChange={setName} />
            <Choice
                label="Data lines"
                value={width}
                onChange={setWidth}
                options={[
                    { value: '8', label: '8 bits' },
                    { value: '16', label: '16 bits' },
                ]}
            />
            <Button type="submit" disabled={begin.isPending || name.trim() === ''}>
                Draw it
            </Button>
            <ProblemList problems={problemsOf(begin.error)} />
        </form>
    );
}

/** The board profiles at hand. */
export default function Boards() {
    const boards = useQuery(boardsQuery);
    const importing = useImportBoard();
    const navigate = useNavigate();

    return (
        <div className="h-full overflow-y-auto">
            <PageHead current="boards" />
            <main className="mx-auto max-w-6xl px-6 py-6">
                <div className="mb-4 flex flex-wrap items-center gap-3">
                    <h1 className="mr-auto text-2xl">Board profiles</h1>
                    <NewBoard />
                    <FilePicker
                        label="Board file"
                        busy={importing.isPending}
                        onChoose={(file) => importing.mutate(file, { onSuccess: ({ board }) => void navigate(`/boards/${board.slug}`) })}
                    >
                        <FileInput aria-hidden size={16} /> Import a board file
                    </FilePicker>
                </div>
                <ProblemList problems={problemsOf(importing.error)} title="The board file was not taken; nothing of it was stored." />
                <ProblemList problems={problemsOf(boards.error)} title="The board profiles cannot be shown." />
                <ul className="mt-2 border-t-2 border-ink">
                    {boards.data?.map((board) => (
                        <li key={board.slug} className="border-b border-rule">
                            <Link
                                to={`/boards/${board.slug}`}
                                className="grid grid-cols-[minmax(0,5fr)_minmax(0,3fr)] gap-x-8 px-3 py-3 hover:bg-sheet max-[700px]:grid-cols-1"
                            >
                                <span>
                                    <span className="text-lg font-semibold">{board.name}</span>{' '}
                                    <span className="ml-2 text-sm text-soft">{board.revision}</span>
                                    <span className="block">{board.summary}</span>
                                </span>
                                <span className="text-sm text-soft">
                                    {board.chips} chips, {board.banks} {board.banks === 1 ? 'bank' : 'banks'} of memory
                                    <span className="block">
                                        {board.dataWidth} data lines, {board.addressWidth} address lines
                                    </span>
                                    <span className="block">{board.shipped ? 'comes with Zap Trace' : 'imported'}</span>
                                </span>
                            </Link>
                        </li>
                    ))}
                </ul>
                <p className="mt-4 text-sm text-soft">
                    A board file is open JSON. Save one, change it in a text editor, give it another slug, and import it; a memory map alone
                    is already useful.
                </p>
            </main>
        </div>
    );
}
