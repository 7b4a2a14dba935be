import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { problemsOf } from '../api/client';
import { practiceQuery, useBeginPractice } from '../api/queries';
import { PageHead } from '../home/PageHead';
import { Button, Choice, SelectInput, ProblemList, TextInput } from '../ui';

/** Dead machines to learn on: simulated, with faults nobody tells of until the end. */
export default function Practice() {
    const practice = useQuery(practiceQuery);
    const begin = useBeginPractice();
    const navigate = useNavigate();
    const [board, setBoard] = useState('');
    const [difficulty, setDifficulty] = useState('1');
    const [seed, setSeed] = useState(() => String(1 + Math.floor(Math.random() * 9999)));
    const boards = practice.data?.boards ?? [];
    return (
        <div className="mx-auto flex max-w-4xl flex-col gap-6 px-5 pb-10">
            <PageHead current="practice" />
            <main className="flex flex-col gap-6">
                <header>
                    <h1 className="text-[26px]">Practice</h1>
                    <p className="text-soft">
                        A dead machine, simulated chip by chip. You work on it with the same instruments and the same round; they answer
                        instead of you typing. What was wrong is told at the end.
                    </p>
                </header>
                <form
                    className="flex flex-wrap items-end gap-4 border border-rule bg-sheet p-4"
                    onSubmit={(event) => {
                        event.preventDefault();
                        begin.mutate(
                            { board: board || (boards[0]?.slug ?? ''), difficulty: Number(difficulty), seed: Number(seed) },
                            { onSuccess: ({ job }) => void navigate(`/jobs/${job.id}/practice`) },
                        );
                    }}
                >
                    <SelectInput
                        label="Board"
                        value={board || boards[0]?.slug}
                        onChange={setBoard}
                        options={boards.map((each) => ({ value: each.slug, label: each.name }))}
                    />
                    <div className="flex flex-col gap-1">
                        <span className="text-[13px] font-semibold text-soft">Faults</span>
                        <Choice
                            label="Faults"
                            value={difficulty}
                            onChange={setDifficulty}
                            options={[
                                { value: '1', label: 'one' },
                                { value: '2', label: 'two' },
                                { value: '3', label: 'three' },
                            ]}
                        />
                    </div>
                    <TextInput
                        label="Number of the machine"
                        className="w-32 font-mono"
                        inputMode="numeric"
                        value={seed}
                        onChange={setSeed}
                    />
                    <Button type="submit" look="act" disabled={begin.isPending || boards.length === 0}>
                        {begin.isPending ? 'Breaking one…' : 'Get a dead machine'}
                    </Button>
                </form>
                <ProblemList problems={problemsOf(begin.error ?? practice.error)} />
                <section aria-label="Runs">
                    <h2 className="mb-1 text-lg">Runs</h2>
                    {practice.data?.runs.length === 0 && (
                        <p className="text-soft">None yet. The same number gives the same machine again.</p>
                    )}
                    {(practice.data?.runs.length ?? 0) > 0 && (
                        <table className="w-full text-[15px]">
                            <thead>
                                <tr className="text-left text-[13px] text-soft">
                                    {['machine', 'board', 'steps', 'minutes', 'good parts out'].map((head) => (
                                        <th key={head} className="pr-5 align-bottom font-normal">
                                            {head}
                                        </th>
                                    ))}
                                    <th className="align-bottom font-normal">what was wrong</th>
                                </tr>
                            </thead>
                            <tbody>
                                {practice.data?.runs.map((run) => (
                                    <tr key={run.job} className="border-t border-rule align-baseline">
                                        <td className="whitespace-nowrap py-1 pr-5">
                                            <Link to={`/jobs/${run.job}/practice`} className="font-semibold underline underline-offset-2">
                                                {run.machine}
                                            </Link>
                                        </td>
                                        <td className="whitespace-nowrap pr-5">{run.board}</td>
                                        <td className="pr-5 font-mono">{run.steps}</td>
                                        <td className="pr-5 font-mono">{Math.round(run.minutes)}</td>
                                        <td className="pr-5 font-mono">
                                            {run.result ? run.result.goodSoldered + run.result.goodPulled : ''}
                                        </td>
                                        <td>
                                            {run.result
                                                ? (run.result.left.length === 0 ? '✓ ' : '✗ ') + run.result.faults.join('; ')
                                                : 'still on the bench'}
                                        </td>
                                    </tr>
                                ))}
                            </tbody>
                        </table>
                    )}
                </section>
            </main>
        </div>
    );
}
