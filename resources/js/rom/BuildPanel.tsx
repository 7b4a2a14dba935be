import { useState } from 'react';
import { problemsOf } from '../api/client';
import { useBuild, useBuiltFile } from '../api/queries';
import { Button, ProblemList, SelectInput, TextInput } from '../ui';
import { inBase } from '../ui/numbers';

const kinds = [
    { value: 'repeat', label: 'repeat to fill', fields: ['size'] },
    { value: 'pad', label: 'pad', fields: ['size', 'fill'] },
    { value: 'cut', label: 'cut out', fields: ['from', 'length'] },
    { value: 'swap', label: 'swap the bytes of each pair', fields: [] },
    { value: 'even', label: 'even bytes only', fields: [] },
    { value: 'odd', label: 'odd bytes only', fields: [] },
    { value: 'interleave', label: 'interleave with the second image', fields: [] },
    { value: 'concatenate', label: 'put the second image behind it', fields: [] },
    { value: 'correct', label: 'correct a checksum byte', fields: ['at', 'sum'] },
] as const;
const preset: Record<string, string> = { size: '2000', fill: 'FF', from: '0', length: '1000', at: '1FFF', sum: '00' };

/** An image for a chip, made in steps; looked at before it is saved. */
export function BuildPanel({ images }: { images: { sha1: string; name: string }[] }) {
    const [first, setFirst] = useState(images[0]?.sha1 ?? '');
    const [second, setSecond] = useState('');
    const [steps, setSteps] = useState<Record<string, string>[]>([]);
    const [kind, setKind] = useState<string>('repeat');
    const build = useBuild();
    const file = useBuiltFile();
    const request = { sources: second ? [first, second] : [first], steps };
    const built = build.data?.built;
    const unique = images.filter((image, place) => images.findIndex((other) => other.sha1 === image.sha1) === place);
    if (images.length === 0) {
        return <p className="text-soft">Bring in a read or a known-good image first: everything is built from those.</p>;
    }
    const change = (next: Record<string, string>[]) => (setSteps(next), build.reset());
    return (
        <section aria-label="Build an image" className="flex flex-col gap-3">
            <div className="flex flex-wrap gap-4">
                {[
                    { label: 'Image', value: first, set: setFirst, none: false },
                    { label: 'Second image', value: second, set: setSecond, none: true },
                ].map((source) => (
                    <SelectInput
                        key={source.label}
                        label={source.label}
                        value={source.value}
                        onChange={(value) => (source.set(value), build.reset())}
                        options={[
                            ...(source.none ? [{ value: '', label: 'none' }] : []),
                            ...unique.map((image) => ({ value: image.sha1, label: image.name })),
                        ]}
                    />
                ))}
            </div>
            <ol className="flex flex-col gap-1" aria-label="Steps">
                {steps.map((step, place) => (
                    <li key={place} className="flex flex-wrap items-end gap-3 border-l-2 border-rule pl-3">
                        <span className="w-64">
                            {place + 1}. {kinds.find((each) => each.value === step.do)?.label}
                        </span>
                        {(kinds.find((each) => each.value === step.do)?.fields ?? []).map((field) => (
                            <TextInput
                                key={field}
                                label={`${field} (hex)`}
                                className="w-24 font-mono"
                                value={step[field] ?? ''}
                                onChange={(value) =>
                                    change(steps.map((each, other) => (other === place ? { ...each, [field]: value } : each)))
                                }
                            />
                        ))}
                        <Button look="quiet" onClick={() => change(steps.filter((_, other) => other !== place))}>
                            take away
                        </Button>
                    </li>
                ))}
            </ol>
            <div className="flex flex-wrap items-end gap-2">
                <SelectInput
                    label="Next step"
                    value={kind}
                    onChange={setKind}
                    options={kinds.map((each) => ({ value: each.value, label: each.label }))}
                />
                <Button
                    onClick={() =>
                        change([
                            ...steps,
                            {
                                do: kind,
                                ...Object.fromEntries(
                                    (kinds.find((each) => each.value === kind)?.fields ?? []).map((field) => [field, preset[field]!]),
                                ),
                            },
                        ])
                    }
                >
                    Add this step
                </Button>
                <Button look="act" disabled={build.isPending} onClick={() => build.mutate(request)}>
                    Look at it
                </Button>
            </div>
            <ProblemList problems={problemsOf(build.error ?? file.error)} title="This cannot be built." />
            {built && (
                <div className="flex flex-col gap-2 border border-rule bg-sheet p-3" data-testid="built">
                    <p className="font-mono text-[13px]">
                        {built.bytes} bytes · CRC-32 {built.crc32} · sum {inBase(built.sum16, 16, 16)}
                    </p>
                    <p className="font-mono text-[12px] break-all text-soft">
                        {pairs(built.head)} … {pairs(built.tail)}
                    </p>
                    <div className="flex flex-wrap gap-2">
                        {[
                            ['binary', 'Save as binary'],
                            ['intel-hex', 'Save as Intel HEX'],
                            ['s-record', 'Save as S-records'],
                        ].map(([format, label]) => (
                            <Button key={format} disabled={file.isPending} onClick={() => file.mutate({ ...request, format: format! })}>
                                {label}
                            </Button>
                        ))}
                    </div>
                </div>
            )}
        </section>
    );
}

const pairs = (text: string) => (text.match(/../g) ?? []).join(' ').toUpperCase();
