import { useState } from 'react';
import type { Bus, BusCapture } from '../api/schemas';
import { SelectInput } from '../ui';

/** What a capture can be held against, and which of it is chosen. */
export function useAgainst(bus: Bus, capture: BusCapture, first: (references: Bus['against']) => Bus['against'][number] | undefined) {
    const references = bus.against.filter((each) => each.id !== capture.id);
    const [wanted, choose] = useState('');
    const against = references.some((each) => each.id === wanted) ? wanted : first(references)?.id;
    return { references, against, choose };
}

export function Against({
    label,
    references,
    value,
    onChange,
}: {
    label: string;
    references: Bus['against'];
    value: string;
    onChange: (value: string) => void;
}) {
    return (
        <SelectInput
            label={label}
            className="max-w-96"
            value={value}
            onChange={onChange}
            options={references.map((each) => ({ value: each.id, label: each.name }))}
        />
    );
}
