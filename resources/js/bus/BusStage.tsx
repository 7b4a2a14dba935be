import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { problemsOf } from '../api/client';
import { busQuery, useCapture, useSendCapture, useSimulateCapture } from '../api/queries';
import type { Board, Bus, BusCapture, Job } from '../api/schemas';
import { Entries, StageHead } from '../job/Entries';
import { Button, Choice, cn, FileInput, ProblemList, Tabs } from '../ui';
import { ChannelsPanel } from './ChannelsPanel';
import { DistanceChart } from './DistanceChart';
import { LadderPanel } from './LadderPanel';

/** Stage 11: the first place at which two boots part. */
export default function BusStage({ job }: { job: Job; board: Board }) {
    const bus = useQuery(busQuery(job.id));
    const [id, setId] = useState<string | null>(null);
    const data = bus.data;
    const chosen =
        data?.captures.find((capture) => capture.id === id) ??
        data?.captures.filter((each) => each.role === 'sick').at(-1) ??
        data?.captures.at(-1);
    return (
        <div className="flex flex-col gap-4">
            <StageHead title="Bus">Record the start-up, and see how far it goes as it should, and where it parts.</StageHead>
            <ProblemList problems={problemsOf(bus.error)} />
            {data && data.signals.length === 0 && (
                <p className="border-l-4 border-ochre pl-3">
                    This board profile names no processor whose bus the library knows. Name it on the page of the board.
                </p>
            )}
            {data && data.signals.length > 0 && (
                <>
                    {job.practice && !job.practice.result && <Simulate job={job} />}
                    <Send job={job} />
                    {data.captures.length === 0 ? (
                        <p className="text-soft">
                            Nothing recorded yet. Clip the analyser to the {data.processor}, let the recording begin with the end of reset,
                            and save it as a Value Change Dump or as CSV. A recording of a good machine first proves the clips.
                        </p>
                    ) : (
                        <Captures job={job} bus={data} chosen={chosen?.id ?? null} onChoose={setId} />
                    )}
                    <DistanceChart captures={data.captures} />
                    {chosen && <Chosen key={chosen.id} job={job} bus={data} capture={chosen} />}
                </>
            )}
            <Entries job={job} kinds={['bus-capture']} title="Recorded" />
        </div>
    );
}

/** The analyser's clip on the processor of the practice bench. */
function Simulate({ job }: { job: Job }) {
    const simulate = useSimulateCapture(job.id);
    return (
        <div className="flex flex-col gap-2">
            <div className="flex flex-wrap items-center gap-3">
                <Button look="act" disabled={simulate.isPending} onClick={() => simulate.mutate('sick')}>
                    {simulate.isPending ? 'Recording…' : 'Record this machine'}
                </Button>
                <Button disabled={simulate.isPending} onClick={() => simulate.mutate('good')}>
                    Record a good one
                </Button>
                <span className="text-soft">The practice bench has both, on the same clips. The minutes count.</span>
            </div>
            <ProblemList problems={problemsOf(simulate.error)} />
        </div>
    );
}

function Send({ job }: { job: Job }) {
    const send = useSendCapture(job.id);
    const [file, setFile] = useState<File | null>(null);
    const [role, setRole] = useState<'sick' | 'good'>('sick');
    return (
        <form
            aria-label="Bring in a capture"
            className="flex flex-wrap items-end gap-3 border-y border-rule py-3"
            onSubmit={(event) => {
                event.preventDefault();
                if (file) {
                    send.mutate({ file, role });
                }
            }}
        >
            <FileInput
                label="Capture (Value Change Dump or CSV, up to 64 MiB)"
                className="max-w-72 text-[13px]"
                onChange={([chosen]) => setFile(chosen ?? null)}
            />
            <Choice
                label="Of which machine"
                value={role}
                onChange={setRole}
                options={[
                    { value: 'sick', label: 'of this machine' },
                    { value: 'good', label: 'of a good one' },
                ]}
            />
            <Button type="submit" look="act" disabled={file === null || send.isPending}>
                {send.isPending ? 'Sending…' : 'Send and decode'}
            </Button>
            <div className="basis-full">
                <ProblemList problems={problemsOf(send.error)} />
            </div>
        </form>
    );
}

const states: Record<BusCapture['state'], string> = {
    uploading: 'being sent',
    waiting: 'waiting',
    decoding: 'being decoded',
    decoded: 'decoded',
    failed: 'could not be read',
    cancelled: 'cancelled',
};

function Captures({ job, bus, chosen, onChoose }: { job: Job; bus: Bus; chosen: string | null; onChoose: (id: string) => void }) {
    const act = useCapture(job.id);
    return (
        <div className="overflow-x-auto">
            <table className="w-full text-[14px]" aria-label="Captures">
                <thead>
                    <tr className="text-left text-[13px] text-soft">
                        <th className="font-normal">capture</th>
                        <th className="font-normal">of</th>
                        <th className="font-normal">state</th>
                        <th className="text-right font-normal">cycles</th>
                        <th className="text-right font-normal">right for</th>
                        <td />
                    </tr>
                </thead>
                <tbody>
                    {bus.captures.map((capture) => (
                        <tr key={capture.id} className={cn('border-t border-rule align-baseline', chosen === capture.id && 'bg-wash')}>
                            <td className="py-1 pl-1">
                                <button
                                    type="button"
                                    aria-pressed={chosen === capture.id}
                                    className={cn(
                                        'min-h-6 text-left underline underline-offset-2',
                                        chosen === capture.id && 'font-semibold no-underline',
                                    )}
                                    onClick={() => onChoose(capture.id)}
                                >
                                    {capture.name}
                                </button>
                            </td>
                            <td>{capture.role === 'good' ? 'a good machine' : 'this machine'}</td>
                            <td>
                                {states[capture.state]}
                                {['uploading', 'decoding'].includes(capture.state) && ` ${Math.round(100 * capture.progress)} %`}
                                {capture.setup && (capture.setup.right ? ', channels checked' : ', channels wrong')}
                            </td>
                            <td className="text-right font-mono">{capture.cycles ?? ''}</td>
                            <td className="text-right font-mono">
                                {capture.distance ?? ''}
                                {capture.distance !== null && capture.parted === false && ' ✓'}
                            </td>
                            <td className="text-right">
                                {['uploading', 'waiting', 'decoding'].includes(capture.state) ? (
                                    <Button look="quiet" onClick={() => act.mutate({ id: capture.id, act: 'cancel' })}>
                                        cancel
                                    </Button>
                                ) : (
                                    <>
                                        <a
                                            className="mr-3 inline-block min-h-6 underline underline-offset-2"
                                            href={`/api/captures/${capture.id}/file`}
                                            download
                                            aria-label={`Save ${capture.name} as a file`}
                                        >
                                            save
                                        </a>
                                        <Button
                                            look="quiet"
                                            aria-label={`Remove ${capture.name}`}
                                            onClick={() => act.mutate({ id: capture.id, act: 'remove' })}
                                        >
                                            remove
                                        </Button>
                                    </>
                                )}
                            </td>
                        </tr>
                    ))}
                </tbody>
            </table>
            <ProblemList problems={problemsOf(act.error)} />
        </div>
    );
}

function Chosen({ job, bus, capture }: { job: Job; bus: Bus; capture: BusCapture }) {
    if (capture.problems.length > 0) {
        return (
            <>
                <ProblemList problems={capture.problems} title={`${capture.name} could not be read.`} />
                {capture.channels.length > 0 && <ChannelsPanel job={job} bus={bus} capture={capture} />}
            </>
        );
    }
    if (capture.state !== 'decoded') {
        return <p role="status">{`${capture.name}: ${states[capture.state]}.`}</p>;
    }
    return (
        <Tabs.Root defaultValue="ladder" className="flex flex-col gap-3">
            <Tabs.List aria-label={`What ${capture.name} shows`}>
                <Tabs.Tab value="ladder">Ladder</Tabs.Tab>
                <Tabs.Tab value="channels">Channels</Tabs.Tab>
                <Tabs.Tab value="lines">Reset, clock, waits</Tabs.Tab>
            </Tabs.List>
            <Tabs.Panel value="ladder">
                <LadderPanel job={job} bus={bus} capture={capture} />
            </Tabs.Panel>
            <Tabs.Panel value="channels">
                <ChannelsPanel job={job} bus={bus} capture={capture} />
            </Tabs.Panel>
            <Tabs.Panel value="lines">
                <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-1 text-[15px]">
                    {capture.lines.map((line) => (
                        <div key={line.signal} className="contents">
                            <dt className="font-mono">{line.signal.replace('//', '/')}</dt>
                            <dd>{line.words}</dd>
                        </div>
                    ))}
                </dl>
            </Tabs.Panel>
        </Tabs.Root>
    );
}
