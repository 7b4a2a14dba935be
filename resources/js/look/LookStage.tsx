import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useRecord } from '../api/queries';
import type { Board, Job } from '../api/schemas';
import { BoardPlan } from '../board/BoardPlan';
import { Entries, StageHead } from '../job/Entries';
import { Button, cn, ProblemList, Switches, TextInput } from '../ui';

const findings = [
    { value: 'corroded', label: 'corroded legs' },
    { value: 'unseated', label: 'not fully seated' },
    { value: 'backwards', label: 'in backwards' },
    { value: 'bent-pin', label: 'pin bent under' },
    { value: 'broken-pin', label: 'pin broken off' },
    { value: 'bulged', label: 'bulged' },
    { value: 'leaking', label: 'leaking' },
    { value: 'residue', label: 'residue of a cell' },
    { value: 'loose', label: 'loose' },
    { value: 'flux', label: 'later soldering' },
    { value: 'bridged', label: 'bridged' },
    { value: 'heatsink', label: 'heatsink missing' },
    { value: 'sharp-bend', label: 'bent sharply' },
    { value: 'wrong-way', label: 'wrong way round' },
    { value: 'wrong-setting', label: 'set wrongly' },
    { value: 'burnt', label: 'burnt' },
    { value: 'absent', label: 'missing' },
];

/** Stage 2: what can be seen before any power. */
export default function LookStage({ job, board }: { job: Job; board: Board }) {
    const record = useRecord(job.id);
    const [sites, setSites] = useState('');
    const listed = sites.split(/[\s,]+/).filter(Boolean);
    const keep = (finding: string, on = listed) =>
        record.mutate({ kind: 'look', payload: { sites: on, finding } }, { onSuccess: () => finding !== 'fine' && setSites('') });
    const seen = new Map<string, string[]>();
    for (const look of job.round.looks) {
        seen.set(look.site, [...(seen.get(look.site) ?? []), look.finding]);
    }
    const flags = new Map(
        [...seen].flatMap(([site, found]) => {
            const wrong = found.filter((finding) => finding !== 'fine').map((finding) => finding.replace('-', ' '));
            return wrong.length > 0 ? [[site, wrong.join(', ')] as const] : [];
        }),
    );
    const pick = (ref: string) =>
        setSites(listed.includes(ref) ? listed.filter((site) => site !== ref).join(' ') : [...listed, ref].join(' '));

    return (
        <div className="flex flex-col gap-4">
            <StageHead title="Look">Before power: click parts on the plan, then say what is wrong with them.</StageHead>
            <div className="flex flex-wrap items-end gap-3">
                <TextInput label="On which parts" className="w-56 font-mono" value={sites} placeholder="U14 U15" onChange={setSites} />
                <div className="min-w-0 flex-1">
                    <Switches
                        label="What is seen"
                        options={findings}
                        on={[]}
                        disabled={record.isPending || listed.length === 0}
                        onToggle={(finding) => keep(finding)}
                    />
                </div>
            </div>
            <ProblemList problems={problemsOf(record.error)} />
            <BoardPlan board={board} suspects={job.suspects} flags={flags} selected={listed.at(-1) ?? null} onSelect={pick} />
            <Entries job={job} kinds={['look']} title="Seen" />
            <section aria-labelledby="links-title">
                <h3 id="links-title" className="mb-1 font-semibold">
                    Links against the maker&rsquo;s table
                </h3>
                {board.settings.filter((setting) => !setting.isLatch).length === 0 && <p className="text-soft">This board has no links.</p>}
                <table className="w-full text-sm">
                    <tbody>
                        {board.settings
                            .filter((setting) => !setting.isLatch)
                            .map((setting) => {
                                const differs = job.settings[setting.ref] !== setting.default;
                                return (
                                    <tr key={setting.ref} className="border-b border-rule">
                                        <th scope="row" className="py-1 pr-4 text-left">
                                            {setting.ref}, {setting.name}
                                        </th>
                                        <td className="pr-4">by the table {setting.default}</td>
                                        <td className={cn('pr-4', differs && 'font-semibold text-ochre')}>
                                            {differs ? `stands at ${job.settings[setting.ref]}: it differs` : 'as the table says'}
                                        </td>
                                        <td className="text-right">
                                            {setting.positions
                                                .filter((position) => position.name !== job.settings[setting.ref])
                                                .map((position) => (
                                                    <Button
                                                        key={position.name}
                                                        className="ml-1.5 font-normal"
                                                        disabled={record.isPending}
                                                        onClick={() =>
                                                            record.mutate({
                                                                kind: 'setting',
                                                                payload: { ref: setting.ref, position: position.name, since: 'start' },
                                                            })
                                                        }
                                                    >
                                                        it stands at {position.name}
                                                    </Button>
                                                ))}
                                        </td>
                                    </tr>
                                );
                            })}
                    </tbody>
                </table>
            </section>
            <section aria-labelledby="list-title">
                <h3 id="list-title" className="mb-1 font-semibold">
                    The list for this board
                </h3>
                <ul data-testid="checklist">
                    {board.checks.map((check) => {
                        const found = seen.get(check.site) ?? [];
                        return (
                            <li
                                key={check.site + check.words}
                                className="grid grid-cols-[1.4rem_1fr_auto] items-center gap-x-2 border-b border-rule py-1"
                            >
                                <span aria-hidden className={found.some((finding) => finding !== 'fine') ? 'text-red' : 'text-green'}>
                                    {found.length === 0 ? '' : found.every((finding) => finding === 'fine') ? '✓' : '◆'}
                                </span>
                                <span>{check.words}</span>
                                {found.length > 0 ? (
                                    <span className="text-[13px] text-soft">
                                        {found.map((finding) => (finding === 'fine' ? 'fine' : finding.replace('-', ' '))).join(', ')}
                                    </span>
                                ) : (
                                    <span className="flex gap-1.5">
                                        <Button
                                            className="font-normal"
                                            disabled={record.isPending}
                                            aria-label={`${check.site} is fine`}
                                            onClick={() => keep('fine', [check.site])}
                                        >
                                            fine
                                        </Button>
                                        <Button
                                            className="font-normal"
                                            aria-label={`not so: ${check.site}`}
                                            onClick={() => setSites(check.site)}
                                        >
                                            not so
                                        </Button>
                                    </span>
                                )}
                            </li>
                        );
                    })}
                </ul>
            </section>
        </div>
    );
}
