import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { problemsOf } from '../api/client';
import { signalsQuery, useRecord, useTake } from '../api/queries';
import type { Board, Job, Signals } from '../api/schemas';
import { Entries, StageHead } from '../job/Entries';
import { Button, Choice, cn, Field, ProblemList, Tabs, TextInput } from '../ui';
import { PathStrip } from './PathStrip';
import { ProbedPinout, type Level } from './ProbedPinout';
import { SelectCheckPanel } from './SelectCheck';
import { situations, type Situation } from './situations';

const levels: Level[] = ['low', 'high', 'pulsing', 'silent', 'between'];

/** Stage 8: pin by pin, from where it is wrong to where it becomes wrong. */
export default function SignalsStage({ job, board }: { job: Job; board: Board }) {
    const [params, setParams] = useSearchParams();
    // As it was probed last, until another is chosen.
    const [asked, setSituation] = useState<Situation | ''>('');
    const [ref, setRef] = useState(() => params.get('chip') ?? leading(job, board));
    // Where something is wrong, or is to be measured, until another is chosen.
    const [pin, setPin] = useState<number | null>(null);
    const [below, setBelow] = useState(false);
    const [net, setNet] = useState(params.get('net') ?? '');
    const signals = useQuery({ ...signalsQuery(job.id, asked, ref, net, job.changedAt), placeholderData: keepPreviousData });
    const record = useRecord(job.id);
    const take = useTake(job.id);
    const simulated = job.practice !== null && job.practice.result === null;
    const data = signals.data;
    const situation = asked || data?.situation || 'running';
    const chip = data?.chip ?? null;
    const chosen =
        chip?.pins.find((each) => each.number === pin) ??
        chip?.pins.find((each) => each.right === false) ??
        chip?.pins.find((each) => each.net !== null && each.direction !== 'supply') ??
        chip?.pins[0] ??
        null;
    const see = (name: string, what: object) => record.mutate({ kind: 'probe', payload: { pin: name, situation, ...what } });
    const pick = (name: string) => {
        const [to, number] = name.split('.');
        setRef(to ?? ref);
        setPin(Number(number));
    };
    const follow = (name: string) => {
        setNet(name);
        setParams(name ? { net: name } : {}, { replace: true });
    };

    return (
        <div className="flex flex-col gap-4">
            <StageHead title="Signals">Touch a pin with the probe and press one key: the walk ends where right becomes wrong.</StageHead>
            <ProblemList problems={problemsOf(signals.error ?? record.error ?? take.error)} />
            {!data && !signals.isError && (
                <p className="text-soft" role="status">
                    Simulating the healthy board to see what each pin should show…
                </p>
            )}
            {data && !data.known && (
                <p className="border-l-4 border-ochre pl-3">
                    This board profile has no netlist: pins can be probed and noted, but nothing is expected of them. Add nets on the page
                    of the board.
                </p>
            )}
            <Tabs.Root defaultValue={params.has('select') ? 'select' : 'pins'} className="flex flex-col gap-3">
                <Tabs.List aria-label="What to look at">
                    <Tabs.Tab value="pins">Pins</Tabs.Tab>
                    <Tabs.Tab value="select">Select check</Tabs.Tab>
                    <Tabs.Tab value="clocks">Clock tree</Tabs.Tab>
                </Tabs.List>
                <Tabs.Panel value="pins" className="flex flex-col gap-4">
                    <div className={cn('flex flex-wrap items-end gap-3', !data && 'hidden')}>
                        <Field label="Chip">
                            {(id) => (
                                <select
                                    id={id}
                                    value={ref}
                                    onChange={(event) => (setRef(event.target.value), setPin(null))}
                                    className="max-w-72"
                                >
                                    {data && chip === null && <option value={ref}>choose one</option>}
                                    {(data?.chips ?? []).map((each) => (
                                        <option key={each.ref} value={each.ref}>
                                            {each.ref} {each.part}
                                            {each.wrong > 0
                                                ? ` – ${each.wrong} wrong`
                                                : each.share > 0.02
                                                  ? ` – ${Math.round(100 * each.share)} %`
                                                  : ''}
                                        </option>
                                    ))}
                                </select>
                            )}
                        </Field>
                        <Choice
                            label="Situation"
                            value={situation}
                            onChange={(value) => setSituation(value as Situation)}
                            options={[...situations]}
                        />
                        <Choice
                            label="Side"
                            value={below ? 'below' : 'above'}
                            onChange={(value) => setBelow(value === 'below')}
                            options={[
                                { value: 'above', label: 'from above' },
                                { value: 'below', label: 'from below' },
                            ]}
                        />
                    </div>
                    {chip && (
                        <>
                            {chip.role && <p className="text-soft">{`${chip.ref}: ${chip.title.toLowerCase()}, ${chip.role}.`}</p>}
                            <ProbedPinout
                                chip={chip}
                                below={below}
                                selected={chosen?.number ?? 1}
                                onSelect={setPin}
                                onSeen={(each, level) => see(each.pin, { state: level })}
                            />
                        </>
                    )}
                    {simulated && chip && chosen && (
                        <div className="flex flex-wrap gap-2">
                            <Button
                                look="act"
                                disabled={take.isPending}
                                onClick={() => take.mutate({ instrument: 'probe', pin: chosen.pin, situation })}
                            >
                                Touch {chosen.pin} with the probe
                            </Button>
                            <Button
                                disabled={take.isPending}
                                onClick={() => take.mutate({ instrument: 'walk', chip: chip.ref, situation })}
                            >
                                Touch every pin of {chip.ref}
                            </Button>
                        </div>
                    )}
                    {chosen && (
                        <Chosen
                            key={`${chosen.pin} ${situation}`}
                            pin={chosen}
                            busy={record.isPending}
                            onSee={(what) => see(chosen.pin, what)}
                            onFollow={follow}
                        />
                    )}
                    {data?.gates.map((gate) => (
                        <p key={gate.output} className="border-l-4 border-red pl-3">
                            <strong>Gate check.</strong> {gate.sentence}
                        </p>
                    ))}
                    {data?.path && <PathStrip path={data.path} onPick={pick} />}
                </Tabs.Panel>
                <Tabs.Panel value="select">
                    <SelectCheckPanel job={job} />
                </Tabs.Panel>
                <Tabs.Panel value="clocks">
                    {data && <Clocks signals={data} busy={record.isPending} onMeasured={(name, hz) => see(name, { hz })} />}
                </Tabs.Panel>
            </Tabs.Root>
            <Entries job={job} kinds={['probe', 'pin-walk']} title="Probed" />
        </div>
    );
}

/** The chip that is suspected most, to begin with: a trace may be called A7 and is no chip. */
const leading = (job: Job, board: Board) => {
    const refs = job.suspects.map((suspect) => (suspect.seat ?? suspect.site).split('.')[0] ?? '');

    return refs.find((ref) => board.parts.some((part) => part.ref === ref)) ?? 'U1';
};

function Chosen({
    pin,
    busy,
    onSee,
    onFollow,
}: {
    pin: NonNullable<Signals['chip']>['pins'][number];
    busy: boolean;
    onSee: (what: object) => void;
    onFollow: (net: string) => void;
}) {
    const [figure, setFigure] = useState('');
    const match = /^(\d+(?:[.,]\d+)?)\s*(v|hz|khz|mhz)?$/i.exec(figure.trim());
    const unit = match?.[2]?.toLowerCase() ?? 'v';
    const value = match ? Number(match[1]!.replace(',', '.')) : NaN;
    return (
        <section aria-label={`Pin ${pin.pin}`} className="flex flex-wrap items-end gap-x-4 gap-y-2 border-t border-rule pt-3">
            <div className="min-w-52">
                <p className="font-mono text-lg font-semibold">{pin.called}</p>
                <p className="text-[14px] text-soft">
                    {pin.net === null ? 'on no net' : pin.net} · should be{' '}
                    <strong className="text-ink">{pin.hz ?? pin.expected ?? 'anything'}</strong>
                    {pin.expected && (pin.by === 'simulation' ? ', by simulating the healthy board' : ', by the profile')}
                </p>
            </div>
            <div role="group" aria-label="The probe shows" className="flex flex-wrap gap-1">
                {levels.map((level) => (
                    <Button key={level} disabled={busy} onClick={() => onSee({ state: level })}>
                        {level}
                    </Button>
                ))}
                <Button disabled={busy} onClick={() => onSee({ differs: true })}>
                    unlike its neighbours
                </Button>
            </div>
            <form
                className="flex items-end gap-2"
                onSubmit={(event) => {
                    event.preventDefault();
                    onSee(unit === 'v' ? { volts: value } : { hz: value * { hz: 1, khz: 1e3, mhz: 1e6 }[unit as 'hz'] });
                    setFigure('');
                }}
            >
                <TextInput
                    label="Volts or frequency"
                    className="w-36 font-mono"
                    placeholder="2.1 V, 1 MHz"
                    value={figure}
                    onChange={setFigure}
                />
                <Button type="submit" disabled={busy || Number.isNaN(value)}>
                    Record
                </Button>
            </form>
            {pin.net && (
                <Button look="quiet" onClick={() => onFollow(pin.net!)}>
                    Show the way of {pin.net}
                </Button>
            )}
        </section>
    );
}

function Clocks({ signals, busy, onMeasured }: { signals: Signals; busy: boolean; onMeasured: (pin: string, hz: number) => void }) {
    const depth = (net: string): number => {
        const from = signals.clocks.find((clock) => clock.net === net)?.from;
        return from ? 1 + depth(from) : 0;
    };
    if (signals.clocks.length === 0) {
        return (
            <p className="text-soft">
                The profile says nothing of clocks: give an oscillator its frequency and the nets it feeds the kind “clock”.
            </p>
        );
    }
    return (
        <table className="w-full text-[15px]" aria-label="Clock tree">
            <thead>
                <tr className="text-left text-[13px] text-soft *:pr-4 *:font-normal">
                    <th>clock</th>
                    <th>at</th>
                    <th>should be</th>
                    <th>measured</th>
                    <th className="w-full">says</th>
                </tr>
            </thead>
            <tbody>
                {signals.clocks.map((clock) => (
                    <tr key={clock.net} className="border-t border-rule align-baseline *:pr-4">
                        <td className="py-1 font-mono whitespace-nowrap" style={{ paddingLeft: `${depth(clock.net) * 1.1}rem` }}>
                            {clock.from && <span className="text-soft">└ </span>}
                            {clock.net}
                        </td>
                        <td className="font-mono text-[13px]">{clock.pin}</td>
                        <td className="font-mono whitespace-nowrap">{clock.words}</td>
                        <td>
                            <Measured clock={clock} busy={busy} onMeasured={onMeasured} />
                        </td>
                        <td className={cn('text-[14px]', clock.says && clock.says !== 'It is right.' ? 'text-red' : 'text-soft')}>
                            {clock.says || clock.note}
                        </td>
                    </tr>
                ))}
            </tbody>
        </table>
    );
}

function Measured({
    clock,
    busy,
    onMeasured,
}: {
    clock: Signals['clocks'][number];
    busy: boolean;
    onMeasured: (pin: string, hz: number) => void;
}) {
    const [text, setText] = useState('');
    const match = /^(\d+(?:[.,]\d+)?)\s*(hz|khz|mhz)?$/i.exec(text.trim());
    return (
        <form
            className="flex items-baseline gap-1"
            onSubmit={(event) => {
                event.preventDefault();
                if (match) {
                    onMeasured(
                        clock.pin,
                        Number(match[1]!.replace(',', '.')) * { hz: 1, khz: 1e3, mhz: 1e6 }[(match[2] ?? 'hz').toLowerCase() as 'hz'],
                    );
                    setText('');
                }
            }}
        >
            <span className="min-w-20 font-mono">{clock.measured}</span>
            <input
                aria-label={`Measured at ${clock.pin}`}
                className="w-24 border border-rule bg-sheet px-1 font-mono text-[13px]"
                placeholder={clock.words}
                value={text}
                disabled={busy}
                onChange={(event) => setText(event.target.value)}
            />
        </form>
    );
}
