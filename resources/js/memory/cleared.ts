import type { Job } from '../api/schemas';

/** Chips all of whose bits were read right where 0 and where 1 was expected. */
export function clearedChips(job: Job): Set<string> {
    const cleared = new Map<string, boolean>();
    for (const bit of job.memory.banks.flatMap((bank) => bank.bits)) {
        cleared.set(bit.chip, (cleared.get(bit.chip) ?? true) && bit.cleared);
    }
    return new Set([...cleared].filter(([, good]) => good).map(([chip]) => chip));
}
