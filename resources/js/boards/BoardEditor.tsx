import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useParams } from 'react-router';
import { post, problemsOf } from '../api/client';
import { boardQuery, boardsQuery, drawingQuery } from '../api/queries';
import type { DrawingResponse } from '../api/schemas';
import { BoardPlan } from '../board/BoardPlan';
import { PageHead } from '../home/PageHead';
import { Button, Field, ProblemList, TextInput } from '../ui';
import { useKeys } from '../ui/keys';
import { count } from '../ui/numbers';

/** Draws a board: chips on the plan, pins joined by typing, checks as it goes. */
export default function BoardEditor() {
    const { slug = '' } = useParams();
    const cache = useQueryClient();
    const drawing = useQuery(drawingQuery(slug));
    const [line, setLine] = useState('');
    const [text, setText] = useState('');
    const [selected, setSelected] = useState<string | null>(null);
    const [undo, setUndo] = useState<string[]>([]);
    const plan = useRef<HTMLDivElement>(null);
    const draw = useMutation({
        mutationFn: (input: { line?: string; text?: string; content?: string }) => post<DrawingResponse>(`boards/${slug}/drawing`, input),
        onSuccess: (answer, input) => {
            cache.setQueryData(drawingQuery(slug).queryKey, answer);
            cache.setQueryData(boardQuery(slug).queryKey, answer.board);
            void cache.invalidateQueries({ queryKey: boardsQuery.queryKey });
            setUndo((before) => (input.content !== undefined ? before.slice(0, -1) : [...before, answer.before ?? ''].slice(-50)));
        },
    });
    const data = drawing.data;
    const board = data?.board;
    const part = board?.parts.find((each) => each.ref === selected);
    const move = (x: number, y: number) => part && draw.mutate({ line: `move ${part.ref} ${Math.max(0, x)},${Math.max(0, y)}` });
    const by = (dx: number, dy: number) => () => {
        if (part?.x != null && part.y != null) {
            move(part.x + dx, part.y + dy);
        }
    };
    useKeys(part ? { ArrowLeft: by(-2, 0), ArrowRight: by(2, 0), ArrowUp: by(0, -2), ArrowDown: by(0, 2) } : {});
    const drag = useDrag(plan, board?.plan ?? null, (ref, dx, dy) => {
        const moved = board?.parts.find((each) => each.ref === ref);
        if (moved?.x != null && moved.y != null) {
            draw.mutate({ line: `move ${ref} ${Math.max(0, Math.round(moved.x + dx))},${Math.max(0, Math.round(moved.y + dy))}` });
        }
    });

    return (
        <div className="h-full overflow-y-auto">
            <PageHead current="boards" />
            <main className="mx-auto flex max-w-[84rem] flex-col gap-4 px-6 py-5">
                <ProblemList problems={problemsOf(drawing.error)} title="This board cannot be drawn on." />
                {data && board && (
                    <>
                        <header className="flex flex-wrap items-baseline gap-x-4">
                            <h1 className="text-2xl">Draw {board.name}</h1>
                            <p className="text-soft">
                                {count(board.parts.length, 'chip', 'chips')}, {count(data.nets.length, 'net', 'nets')}. Everything is kept
                                as you go.
                            </p>
                            <Button
                                className="ml-auto"
                                disabled={draw.isPending || undo.length === 0}
                                onClick={() => draw.mutate({ content: undo.at(-1)! })}
                            >
                                Undo
                            </Button>
                        </header>
                        <form
                            className="flex items-end gap-2"
                            onSubmit={(event) => {
                                event.preventDefault();
                                draw.mutate({ line }, { onSuccess: () => setLine('') });
                            }}
                        >
                            <TextInput
                                label="Draw by typing"
                                className="w-[34rem] max-w-full font-mono"
                                placeholder="chip u9 4164 at 120,40   or   u9.3 u14.12 = A5"
                                value={line}
                                onChange={setLine}
                            />
                            <Button type="submit" look="act" disabled={draw.isPending || line.trim() === ''}>
                                Draw
                            </Button>
                        </form>
                        <ProblemList problems={problemsOf(draw.error)} />
                        {draw.data && draw.data.said.length > 0 && (
                            <ul role="status" className="border-l-4 border-ochre pl-3">
                                {draw.data.said.slice(0, 8).map((sentence) => (
                                    <li key={sentence}>{sentence}</li>
                                ))}
                                {draw.data.said.length > 8 && <li className="text-soft">and {draw.data.said.length - 8} more</li>}
                            </ul>
                        )}
                        <div className="grid items-start gap-6 min-[1000px]:grid-cols-[minmax(0,1.9fr)_minmax(0,1fr)]">
                            <section aria-label="Plan" className="min-w-0">
                                <div ref={plan} {...drag}>
                                    <BoardPlan
                                        board={board}
                                        selected={selected}
                                        onSelect={(ref) => setSelected(ref === selected ? null : ref)}
                                    />
                                </div>
                                <p className="mt-1 text-sm text-soft">
                                    {part
                                        ? `${part.ref}, ${part.part}, at ${part.x ?? '–'},${part.y ?? '–'} mm: arrow keys move it by 2 mm.`
                                        : board.parts.length === 0
                                          ? 'Nothing is on it yet. Begin with the processor: chip u1 6502 at 60,30 socket processor'
                                          : 'Choose a chip to move it with the arrow keys, or drag it.'}
                                </p>
                                <details className="mt-3">
                                    <summary className="cursor-pointer font-semibold">What can be typed</summary>
                                    <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-4 text-sm">
                                        {data.forms.map((form) => (
                                            <div key={form.form} className="contents">
                                                <dt className="font-mono text-[13px]">{form.form}</dt>
                                                <dd className="text-soft">{form.means}</dd>
                                            </div>
                                        ))}
                                    </dl>
                                </details>
                            </section>
                            <section aria-label="Checks and nets" className="flex min-w-0 flex-col gap-4">
                                <div>
                                    <h2 className="text-lg">Checks</h2>
                                    {data.notices.length === 0 ? (
                                        <p className="text-green">✓ Nothing to look at twice.</p>
                                    ) : (
                                        // A region that scrolls must be reachable by keyboard.
                                        <div
                                            role="region"
                                            aria-label="To be looked at"
                                            // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
                                            tabIndex={0}
                                            className="max-h-60 overflow-y-auto text-sm"
                                        >
                                            <ul>
                                                {data.notices.map((notice) => (
                                                    <li key={notice.sentence} className="border-l-4 border-ochre pl-2">
                                                        {notice.sentence}
                                                    </li>
                                                ))}
                                            </ul>
                                        </div>
                                    )}
                                </div>
                                <form
                                    className="flex flex-col gap-2"
                                    onSubmit={(event) => {
                                        event.preventDefault();
                                        draw.mutate({ text }, { onSuccess: () => setText('') });
                                    }}
                                >
                                    <Field
                                        label="Take in a netlist"
                                        hint="net,chip,pin in each line, or net: chip.pin chip.pin. The chips must be there."
                                    >
                                        {(id) => (
                                            <textarea
                                                id={id}
                                                rows={4}
                                                className="w-full border border-edge bg-sheet p-2 font-mono text-[13px]"
                                                value={text}
                                                onChange={(event) => setText(event.target.value)}
                                            />
                                        )}
                                    </Field>
                                    <div>
                                        <Button type="submit" disabled={draw.isPending || text.trim() === ''}>
                                            Take in
                                        </Button>
                                    </div>
                                </form>
                                <div>
                                    <h2 className="text-lg">Nets</h2>
                                    {data.nets.length === 0 && <p className="text-soft">None yet. Join pins: u1.9 u2.10 = A0</p>}
                                    {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex */}
                                    <div role="region" aria-label="Nets" tabIndex={0} className="max-h-72 overflow-y-auto text-sm">
                                        <ul>
                                            {data.nets.map((net) => (
                                                <li key={net.name} className="flex gap-2 border-b border-rule py-0.5">
                                                    <b className="w-20 shrink-0 font-mono">{net.name}</b>
                                                    <span className="w-14 shrink-0 text-soft">{net.kind}</span>
                                                    <span className="font-mono text-[12px]">{net.pins.join(' ')}</span>
                                                </li>
                                            ))}
                                        </ul>
                                    </div>
                                </div>
                            </section>
                        </div>
                    </>
                )}
            </main>
        </div>
    );
}

/** A chip on the plan is dragged: tells by how many millimetres when it is let go. */
function useDrag(
    plan: React.RefObject<HTMLDivElement | null>,
    size: { width: number; height: number } | null,
    onMoved: (ref: string, dx: number, dy: number) => void,
) {
    const from = useRef<{ ref: string; x: number; y: number } | null>(null);
    return {
        onPointerDown: (event: React.PointerEvent) => {
            const ref = (event.target as Element).closest<SVGElement>('[data-chip]')?.dataset.chip;
            from.current = ref ? { ref, x: event.clientX, y: event.clientY } : null;
        },
        onPointerUp: (event: React.PointerEvent) => {
            const begun = from.current;
            const svg = plan.current?.querySelector('svg');
            from.current = null;
            if (!begun || !svg || !size) {
                return;
            }
            const scale = (size.width + 10) / svg.getBoundingClientRect().width;
            const [dx, dy] = [(event.clientX - begun.x) * scale, (event.clientY - begun.y) * scale];
            if (Math.abs(dx) + Math.abs(dy) > 3) {
                onMoved(begun.ref, dx, dy);
            }
        },
    };
}
