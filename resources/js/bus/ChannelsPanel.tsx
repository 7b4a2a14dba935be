import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useCapture, useCheckSetup } from '../api/queries';
import type { Bus, BusCapture, Job } from '../api/schemas';
import { Button, cn, ProblemList } from '../ui';
import { Against, useAgainst } from './Against';

const groups = [
    { group: 'address', title: 'Address' },
    { group: 'data', title: 'Data' },
    { group: 'control', title: 'Strobes and other lines' },
] as const;

/** Which channel is on which signal; checked against a run that is known. */
export function ChannelsPanel({ job, bus, capture }: { job: Job; bus: Bus; capture: BusCapture }) {
    const [map, setMap] = useState<Record<string, string>>(capture.map);
    const change = useCapture(job.id);
    const check = useCheckSetup(job.id);
    const { references, against, choose } = useAgainst(bus, capture, (all) => all[0]);
    const setup = check.data?.setup ?? capture.setup;
    const put = (signal: string, channel: string) => setMap({ ...map, [signal]: channel });
    return (
        <section aria-label="Channels" className="flex flex-col gap-3">
            <div className="flex flex-wrap items-end gap-3">
                {against !== undefined ? (
                    <>
                        <Against label="Check them against" references={references} value={against} onChange={choose} />
                        <Button disabled={check.isPending} onClick={() => check.mutate({ id: capture.id, against })}>
                            {check.isPending ? 'Checking…' : 'Check the channels'}
                        </Button>
                    </>
                ) : (
                    <p className="text-soft">To check the channels, bring a recording of a good machine or the good image of the ROM.</p>
                )}
            </div>
            {capture.role === 'sick' && (
                <p className="text-[14px] text-soft">
                    The faults of a sick machine can look like wrong clips: check a recording of a good one, with the clips left as they
                    are, where you can.
                </p>
            )}
            <ProblemList problems={problemsOf(check.error ?? change.error)} />
            {setup && (
                <div className={cn('border-l-4 pl-3', setup.right ? 'border-green' : 'border-red')} data-testid="setup">
                    <p className="font-semibold">
                        {setup.right ? 'The channels are where they are said to be' : 'Some channels are not where they are said to be'},
                        sure to {Math.round(1000 * setup.sure) / 10} %.
                    </p>
                    <ul>
                        {[...setup.because, ...(setup.doubt ? [setup.doubt] : [])].map((sentence) => (
                            <li key={sentence}>{sentence}</li>
                        ))}
                    </ul>
                    {!setup.right && (
                        <Button
                            className="mt-1"
                            onClick={() => (setMap(setup.map), change.mutate({ id: capture.id, act: 'change', map: setup.map }))}
                        >
                            Take the corrected assignment
                        </Button>
                    )}
                </div>
            )}
            {groups.map(({ group, title }) => (
                <fieldset key={group} className="border-t border-rule pt-2">
                    <legend className="text-[13px] font-semibold text-soft">{title}</legend>
                    <div className="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-x-4 gap-y-1">
                        {bus.signals
                            .filter((signal) => signal.group === group)
                            .map(({ signal }) => {
                                const value = map[signal] ?? '';
                                const state = setup?.channels.find((channel) => channel.channel === value.replace(/^!/, ''))?.state;
                                return (
                                    <div key={signal} className="flex items-center gap-1.5 text-[14px]">
                                        <span className="w-12 font-mono">{signal.replace('//', '/')}</span>
                                        <select
                                            aria-label={`Channel of ${signal}`}
                                            className={cn(
                                                'w-24 py-0.5 text-[13px]',
                                                group !== 'control' && state && state !== 'live' && 'border-red',
                                            )}
                                            value={value.replace(/^!/, '')}
                                            onChange={(event) => put(signal, event.target.value)}
                                        >
                                            <option value="">none</option>
                                            {capture.channels.map((channel) => (
                                                <option key={channel}>{channel}</option>
                                            ))}
                                        </select>
                                        <label className="flex items-center gap-1 text-[13px] text-soft">
                                            <input
                                                type="checkbox"
                                                aria-label={`${signal} inverted`}
                                                disabled={value === ''}
                                                checked={value.startsWith('!')}
                                                onChange={(event) =>
                                                    put(signal, `${event.target.checked ? '!' : ''}${value.replace(/^!/, '')}`)
                                                }
                                            />
                                            inv.
                                        </label>
                                    </div>
                                );
                            })}
                    </div>
                </fieldset>
            ))}
            <div>
                <Button disabled={change.isPending} onClick={() => change.mutate({ id: capture.id, act: 'change', map })}>
                    Decode it with these
                </Button>
            </div>
        </section>
    );
}
