import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { problemsOf } from '../api/client';
import { romQuery, useReadRom } from '../api/queries';
import type { Board, Job, RomReading } from '../api/schemas';
import { Entries, StageHead } from '../job/Entries';
import { Button, Choice, cn, FileInput, ProblemList, SelectInput, Tabs } from '../ui';
import { inBase } from '../ui/numbers';
import { AdapterSheet } from './AdapterSheet';
import { BuildPanel } from './BuildPanel';
import { HexView } from './HexView';
import { ImageMap } from './ImageMap';

/** Stage 10: images that can be trusted. */
export default function RomStage({ job }: { job: Job; board: Board }) {
    const [ref, setRef] = useState('');
    const rom = useQuery({ ...romQuery(job.id, ref, job.changedAt), placeholderData: keepPreviousData });
    const [at, setAt] = useState(0);
    const data = rom.data;
    const last = data?.last ?? null;

    return (
        <div className="flex flex-col gap-4">
            <StageHead title="ROM">
                Read the chip two or three times, hold it against a good image, and see which line is at fault.
            </StageHead>
            <ProblemList problems={problemsOf(rom.error)} />
            {data && data.chips.length === 0 && (
                <p className="text-soft">This board profile has no ROM. Add it on the page of the board.</p>
            )}
            {data && data.chips.length > 0 && (
                <>
                    <Choice
                        label="Chip"
                        value={data.chip ?? ''}
                        onChange={(value) => (setRef(value), setAt(0))}
                        options={data.chips.map((chip) => ({ value: chip.ref, label: `${chip.ref} ${chip.part}` }))}
                    />
                    <Bring key={data.chip} job={job} chip={data.chip ?? ''} goods={data.goods} role={roleOf(data)} />
                    {last && <Found reading={last} onGo={setAt} />}
                    <Tabs.Root defaultValue="bytes" className="flex flex-col gap-3">
                        <Tabs.List aria-label="What to do with it">
                            <Tabs.Tab value="bytes">Bytes</Tabs.Tab>
                            <Tabs.Tab value="build">Build</Tabs.Tab>
                            <Tabs.Tab value="adapter">Adapter</Tabs.Tab>
                        </Tabs.List>
                        <Tabs.Panel value="bytes">
                            {last ? (
                                <HexView
                                    key={last.id}
                                    read={last.reads[last.reads.length - 1]!}
                                    good={last.good ?? (last.reads.length > 1 ? last.reads[0]! : null)}
                                    runs={last.runs}
                                    from={data.from}
                                    at={at}
                                />
                            ) : (
                                <p className="text-soft">Nothing read yet. The bytes show here as soon as a read is brought in.</p>
                            )}
                        </Tabs.Panel>
                        <Tabs.Panel value="build">
                            <BuildPanel
                                images={[
                                    ...(last?.good ? [last.good] : []),
                                    ...(last?.reads ?? []),
                                    ...data.goods.filter((good) => good.sha1 !== last?.good?.sha1),
                                ]}
                            />
                        </Tabs.Panel>
                        <Tabs.Panel value="adapter">
                            <AdapterSheet socket={data.chips.find((chip) => chip.ref === data.chip)?.part ?? '2364'} />
                        </Tabs.Panel>
                    </Tabs.Root>
                </>
            )}
            <Entries job={job} kinds={['rom-read']} title="Read so far" />
        </div>
    );
}

const roleOf = (data: { chips: { ref: string; role: string; bytes: number }[]; chip: string | null }) => {
    const chip = data.chips.find((each) => each.ref === data.chip);
    return chip ? `${chip.role || 'ROM'}; ${chip.bytes} bytes` : '';
};

function Bring({ job, chip, goods, role }: { job: Job; chip: string; goods: { sha1: string; name: string }[]; role: string }) {
    const read = useReadRom(job.id);
    const [where, setWhere] = useState<'reader' | 'board'>('reader');
    const [reads, setReads] = useState<File[]>([]);
    const [good, setGood] = useState<File | null>(null);
    const [known, setKnown] = useState('');
    return (
        <form
            className="flex flex-wrap items-end gap-x-4 gap-y-2 border-y border-rule py-3"
            aria-label={`Read of ${chip}`}
            onSubmit={(event) => {
                event.preventDefault();
                const form = new FormData();
                form.set('chip', chip);
                form.set('where', where);
                reads.forEach((file) => form.append('reads[]', file));
                if (good) {
                    form.set('good', good);
                } else if (known) {
                    form.set('goodSha1', known);
                }
                read.mutate(form, { onSuccess: () => setReads([]) });
            }}
        >
            <p className="basis-full text-soft">
                {chip}: {role}.
            </p>
            <FileInput label="Reads of the chip (one file each)" multiple className="max-w-64 text-[13px]" onChange={setReads} />
            <FileInput
                label="Known-good image, if there is one"
                className="max-w-64 text-[13px]"
                onChange={([chosen]) => setGood(chosen ?? null)}
            />
            {goods.length > 0 && (
                <SelectInput
                    label="or one that is kept here"
                    value={known}
                    disabled={good !== null}
                    onChange={setKnown}
                    options={[{ value: '', label: 'none' }, ...goods.map((image) => ({ value: image.sha1, label: image.name }))]}
                />
            )}
            <Choice
                label="Read where"
                value={where}
                onChange={setWhere}
                options={[
                    { value: 'reader', label: 'in a reader' },
                    { value: 'board', label: 'on the board' },
                ]}
            />
            <Button type="submit" look="act" disabled={read.isPending || reads.length === 0}>
                {read.isPending ? 'Comparing…' : 'Compare and record'}
            </Button>
            <div className="basis-full">
                <ProblemList problems={problemsOf(read.error)} />
            </div>
        </form>
    );
}

function Found({ reading, onGo }: { reading: RomReading; onGo: (at: number) => void }) {
    return (
        <section aria-label="What the read says" className="flex flex-col gap-2">
            <h2
                className={cn('text-xl font-semibold', reading.bad === true ? 'text-red' : reading.bad === false ? 'text-green' : '')}
                data-testid="rom-verdict"
            >
                {reading.bad === true ? '✗ ' : reading.bad === false ? '✓ ' : ''}
                {reading.reads.map((file) => file.name).join(', ')}: {reading.words}
            </h2>
            <ul className="flex flex-col gap-0.5" data-testid="rom-because">
                {reading.because.map((sentence) => (
                    <li key={sentence}>{sentence}</li>
                ))}
            </ul>
            <p className="font-mono text-[13px] text-soft">
                {reading.size} bytes · CRC-32 {reading.crc32} · sum {inBase(reading.sum16, 16, 16)}
                {reading.good && ` · against ${reading.good.name}`}
            </p>
            {reading.map.length > 0 && reading.differences > 0 && (
                <div className="flex flex-wrap items-start gap-x-8 gap-y-3">
                    <ImageMap map={reading.map} size={reading.size} onGo={onGo} />
                    {reading.byBit.length > 0 && (
                        <table className="text-[14px]" aria-label="Bits that differ">
                            <thead>
                                <tr className="text-left text-[13px] text-soft">
                                    <th className="pr-4 font-normal">bit</th>
                                    <th className="pr-4 text-right font-normal">reads 1 for 0</th>
                                    <th className="text-right font-normal">reads 0 for 1</th>
                                </tr>
                            </thead>
                            <tbody className="font-mono">
                                {reading.byBit.map((bit) => (
                                    <tr key={bit.bit} className="border-t border-rule">
                                        <td className="pr-4 font-semibold">D{bit.bit}</td>
                                        <td className="pr-4 text-right">{bit.toOnes || '–'}</td>
                                        <td className="text-right">{bit.toZeros || '–'}</td>
                                    </tr>
                                ))}
                            </tbody>
                        </table>
                    )}
                </div>
            )}
        </section>
    );
}
