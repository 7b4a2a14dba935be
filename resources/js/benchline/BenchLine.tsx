import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState, type RefObject } from 'react';
import { problemsOf } from '../api/client';
import { understandQuery, useBenchLine } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { cn, Key } from '../ui';

type Props = { job: Job; board: Board; input: RefObject<HTMLInputElement | null>; onHelp: () => void; onTakeBack: () => void };

/** One line that takes a short note, says how it understands it while it is typed, and keeps it on Enter. */
export function BenchLine({ job, board, input, onHelp, onTakeBack }: Props) {
    const [line, setLine] = useState('');
    const [history, setHistory] = useState<string[]>([]);
    const [place, setPlace] = useState(-1);
    const keep = useBenchLine(job.id);
    const asked = useDeferredValue(line.trim());
    const basis = `${job.radix}/${JSON.stringify(job.settings)}`;
    const reading = useQuery({ ...understandQuery(job.id, asked, basis), enabled: asked !== '', placeholderData: (before) => before });
    const refused = keep.isError && line.trim() === keep.variables?.trim();

    const submit = () => {
        const note = line.trim();
        if (note === '') {
            return;
        }
        keep.mutate(note, {
            onSuccess: () => {
                setHistory((before) => [note, ...before.filter((old) => old !== note)].slice(0, 50));
            },
            // What was refused comes back to be mended, unless the next note has been begun.
            onError: () => setLine((now) => (now === '' ? note : now)),
        });
        setPlace(-1);
        setLine('');
    };

    const words = refused
        ? { text: problemsOf(keep.error)[0]?.sentence ?? '', good: false }
        : asked === ''
          ? keep.isSuccess && line === ''
              ? { text: `Kept: ${keep.data.words}`, good: true }
              : { text: 'A reading, a link, what the screen shows. Press ? for what can be typed.', good: true }
          : reading.data
            ? { text: reading.data.words, good: reading.data.understood }
            : { text: '', good: true };
    const suggestions = suggest(line, board);

    return (
        <form
            className="flex h-full items-center gap-4 px-4"
            onSubmit={(event) => {
                event.preventDefault();
                submit();
            }}
        >
            <label htmlFor="bench-line" className="font-semibold">
                Note
            </label>
            <div className="relative">
                <input
                    id="bench-line"
                    ref={input}
                    className="h-9 w-44 border-0 border-b-2 border-red bg-transparent font-mono text-[17px] sm:w-72"
                    value={line}
                    onChange={(event) => {
                        setLine(event.target.value);
                        setPlace(-1);
                    }}
                    onKeyDown={(event) => {
                        if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
                            const next = Math.max(-1, Math.min(history.length - 1, place + (event.key === 'ArrowUp' ? 1 : -1)));
                            event.preventDefault();
                            setPlace(next);
                            setLine(next === -1 ? '' : history[next]!);
                        } else if (event.key === 'Tab' && !event.shiftKey && suggestions[0] && suggestions[0] !== line) {
                            event.preventDefault();
                            setLine(suggestions[0]);
                        } else if (event.key === 'Escape') {
                            event.currentTarget.blur();
                        }
                    }}
                    placeholder="6c00 00>20"
                    autoComplete="off"
                    spellCheck={false}
                    aria-describedby="bench-line-words"
                />
                {suggestions.length > 0 && (
                    <p className="absolute bottom-10 left-0 border border-edge bg-sheet px-2 py-1 text-[13px] whitespace-nowrap text-soft">
                        {suggestions.map((suggestion) => (
                            <code key={suggestion} className="mr-3 font-mono">
                                {suggestion}
                            </code>
                        ))}
                        <Key>Tab</Key> takes the first
                    </p>
                )}
            </div>
            <p
                id="bench-line-words"
                role="status"
                className={cn('line-clamp-2 min-w-0 flex-1 text-sm', words.good ? 'text-soft' : 'text-red')}
                data-testid="bench-line-words"
            >
                {words.text}
            </p>
            <div className="hidden items-center gap-3 text-[13px] whitespace-nowrap text-soft md:flex">
                <span>
                    <Key>Enter</Key> keep
                </span>
                <button type="button" onClick={onTakeBack} className="hover:text-ink">
                    <Key>z</Key> take back
                </button>
                <button type="button" onClick={onHelp} className="hover:text-ink">
                    <Key>?</Key> what can be typed
                </button>
            </div>
        </form>
    );
}

/** Completions of the first words: links with their positions, and the forms that start with a word. */
function suggest(line: string, board: Board): string[] {
    const text = line.toLowerCase();
    if (text.trim() === '') {
        return [];
    }
    const all = [
        ...board.settings.flatMap((setting) =>
            setting.positions.map((position) => `${setting.ref.toLowerCase()} ${position.name.toLowerCase()}`),
        ),
        ...(board.freeMemory ? ['free '] : []),
        ...(board.screen?.hasCharacters ? ['screen '] : []),
        ...(board.screen && !board.screen.hasCharacters ? ['stripe '] : []),
    ];
    return all.filter((candidate) => candidate.startsWith(text) && candidate !== text).slice(0, 4);
}
