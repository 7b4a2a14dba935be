import { useMutation, useQuery } from '@tanstack/react-query';
import { Download, FlipHorizontal2 } from 'lucide-react';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { post, problemsOf } from '../api/client';
import { boardQuery } from '../api/queries';
import type { Board, DrawingResponse, MapRange } from '../api/schemas';
import { BoardPlan } from '../board/BoardPlan';
import { PageHead } from '../home/PageHead';
import { Button, cn, ProblemList } from '../ui';
import { inBase } from '../ui/numbers';

export default function BoardPage() {
    const { slug = '' } = useParams();
    const board = useQuery(boardQuery(slug));

    return (
        <div className="h-full overflow-y-auto">
            <PageHead current="boards" />
            <main className="mx-auto max-w-[84rem] px-6 py-5">
                <ProblemList problems={problemsOf(board.error)} title="This board cannot be shown." />
                {board.data && <Profile board={board.data} />}
            </main>
        </div>
    );
}

function Profile({ board }: { board: Board }) {
    const [underside, setUnderside] = useState(false);
    const [selected, setSelected] = useState<string | null>(null);
    const links = board.settings;

    return (
        <>
            <div className="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-1">
                <h1 className="text-2xl">{board.name}</h1>
                <p className="text-soft">
                    {board.revision} · {board.dataWidth} data lines, {board.addressWidth} address lines ·{' '}
                    {board.shipped ? 'comes with Zap Trace' : 'imported'}
                </p>
                <span className="ml-auto flex items-center gap-2">
                    <DrawIt board={board} />
                    <Button onClick={() => setUnderside(!underside)}>
                        <FlipHorizontal2 aria-hidden size={16} /> {underside ? 'Turn back' : 'Turn over'}
                    </Button>
                    <a
                        href={`/api/boards/${board.slug}/file`}
                        download
                        className="inline-flex min-h-8 items-center gap-1.5 border border-edge bg-sheet px-3 py-1 text-sm font-semibold hover:bg-print"
                    >
                        <Download aria-hidden size={16} /> Save board file
                    </a>
                </span>
            </div>
            <p className="mb-4 max-w-3xl">{board.summary}</p>
            <div className="grid items-start gap-6 min-[1000px]:grid-cols-[minmax(0,1.9fr)_minmax(0,1fr)]">
                <section aria-label="Plan" className="min-w-0">
                    <BoardPlan
                        board={board}
                        underside={underside}
                        selected={selected}
                        onSelect={(ref) => setSelected(ref === selected ? null : ref)}
                    />
                    <Selected board={board} selected={selected} />
                </section>
                <section aria-label="Memory map" className="min-w-0">
                    <h2 className="mb-1 text-lg">Memory map</h2>
                    <MemoryMap board={board} />
                    {links.length > 0 && (
                        <>
                            <h2 className="mt-5 mb-1 text-lg">Links and latches</h2>
                            {links.map((setting) => (
                                <div key={setting.ref} className="border-b border-rule py-1.5">
                                    <p>
                                        <b>{setting.ref}</b>, {setting.name}{' '}
                                        <span className="text-sm text-soft">{setting.isLatch ? '· set by software' : ''}</span>
                                    </p>
                                    <ul className="text-sm">
                                        {setting.positions.map((position) => (
                                            <li key={position.name}>
                                                <span className="font-mono font-semibold">{position.name}</span>
                                                {position.name === setting.default && <span className="text-soft"> (factory)</span>}{' '}
                                                <span className="text-soft">{position.changes}</span>
                                            </li>
                                        ))}
                                    </ul>
                                </div>
                            ))}
                        </>
                    )}
                </section>
            </div>
            <section aria-label="Chips" className="mt-6">
                <h2 className="mb-1 text-lg">Chips</h2>
                <div className="columns-1 gap-8 min-[760px]:columns-2 min-[1100px]:columns-3">
                    {board.parts.map((part) => (
                        <button
                            key={part.ref}
                            type="button"
                            aria-pressed={part.ref === selected}
                            onClick={() => setSelected(part.ref === selected ? null : part.ref)}
                            className={cn(
                                'grid w-full break-inside-avoid grid-cols-[3rem_5.5rem_1fr] gap-2 border-b border-rule py-1 text-left text-sm hover:bg-sheet',
                                part.ref === selected && 'bg-sheet',
                            )}
                        >
                            <b>{part.ref}</b>
                            <span className="font-mono">{part.part}</span>
                            <span className="text-soft">{part.role || part.title}</span>
                        </button>
                    ))}
                </div>
            </section>
        </>
    );
}

/** A board of one's own is drawn on; one that comes with the application is copied first. */
function DrawIt({ board }: { board: Board }) {
    const navigate = useNavigate();
    const copy = useMutation({
        mutationFn: () => post<DrawingResponse>('drawings', { name: `${board.name} copy`, from: board.slug }),
        onSuccess: (answer) => void navigate(`/boards/${answer.board.slug}/draw`),
    });
    return board.shipped ? (
        <Button disabled={copy.isPending} onClick={() => copy.mutate()}>
            Draw on a copy
        </Button>
    ) : (
        <Button onClick={() => void navigate(`/boards/${board.slug}/draw`)}>Draw</Button>
    );
}

function Selected({ board, selected }: { board: Board; selected: string | null }) {
    const part = board.parts.find((candidate) => candidate.ref === selected);
    if (!part) {
        return <p className="mt-2 min-h-12 text-sm text-soft">Choose a chip to see what it does and which memory it serves.</p>;
    }
    const serves = board.memoryBanks.flatMap((bank) => [
        ...bank.chipOfBit.filter((entry) => entry.chip === part.ref).map((entry) => `bit ${entry.bit} of bank ${bank.name}`),
        ...bank.servedBy
            .filter((server) => server.chip === part.ref)
            .map((server) => `${server.role} for bank ${bank.name}${server.lines.length ? ` (${server.lines.join(' ')})` : ''}`),
    ]);
    return (
        <div className="mt-2 min-h-12 border-l-4 border-ink bg-sheet px-3 py-2" role="status">
            <p>
                <b>{part.ref}</b> <span className="font-mono">{part.part}</span> · {part.title}, {part.pins} pins
                {part.socketed ? ', in a socket' : ', soldered'}
                {part.role && ` · ${part.role}`}
            </p>
            {serves.length > 0 && <p className="text-sm text-soft">{serves.join('; ')}</p>}
        </div>
    );
}

const kinds = { ram: 'RAM', rom: 'ROM', io: 'I/O', open: 'nothing' };

function MemoryMap({ board }: { board: Board }) {
    const address = (value: number) => inBase(value, board.radix, board.addressWidth);
    const condition = (range: MapRange) =>
        [
            range.access === 'any' ? '' : `on ${range.access}`,
            ...Object.entries(range.when).map(([ref, positions]) => `${ref} at ${positions.join(' or ')}`),
            range.page === null ? '' : `page ${range.page}`,
            range.mask === 0 ? '' : `where address AND ${address(range.mask)} is ${address(range.value)}`,
        ]
            .filter(Boolean)
            .join(', ');
    return (
        <table className="w-full text-sm">
            <thead className="text-left text-soft">
                <tr className="border-b border-ink">
                    <th className="py-1 pr-3 font-semibold">from, to</th>
                    <th className="py-1 pr-3 font-semibold">what</th>
                    <th className="py-1 font-semibold">when</th>
                </tr>
            </thead>
            <tbody>
                {[...board.map]
                    .sort((a, b) => a.from - b.from)
                    .map((range, place) => (
                        <tr key={place} className="border-b border-rule align-top">
                            <td className="py-1 pr-3 font-mono text-[13px] whitespace-nowrap">
                                {address(range.from)}–{address(range.to)}
                            </td>
                            <td className="py-1 pr-3">
                                <b>{kinds[range.kind]}</b>{' '}
                                <span className="text-soft">
                                    {range.bank ? `bank ${range.bank}` : (range.chip ?? (range.kind === 'open' ? '' : range.name))}
                                </span>
                            </td>
                            <td className="py-1 text-soft">{condition(range) || 'always'}</td>
                        </tr>
                    ))}
            </tbody>
        </table>
    );
}
