import { useQuery } from '@tanstack/react-query';
import { formsQuery } from '../api/queries';
import { Dialog, Key } from '../ui';
import { switchSingleKeys, useSingleKeys } from '../ui/keys';

export const keySheet = [
    ['/', 'to the note line'],
    ['i', 'check-in'],
    ['o', 'look'],
    ['v', 'rails'],
    ['h', 'heat'],
    ['s', 'signs'],
    ['d', 'diagnostics'],
    ['m', 'memory'],
    ['e', 'signals: on its pinout ↑ ↓ walk the pins; l h p s b say low, high, pulsing, silent, between'],
    ['t', 'traces'],
    ['n', 'ROM'],
    ['b', 'bus'],
    ['k', 'confirm'],
    ['r', 'repair'],
    ['p', 'prove'],
    ['l', 'log'],
    ['g', 'chip ledger'],
    ['w', 'record for the owner'],
    ['c', 'the machine as it stands'],
    ['z', 'take back the last observation'],
    ['Z', 'restore the one taken back last'],
    ['?', 'this sheet'],
] as const;

/** The sheet of keys, and what the bench line takes. */
export function Help({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
    const on = useSingleKeys();
    const forms = useQuery({ ...formsQuery, enabled: open });

    return (
        <Dialog open={open} onOpenChange={onOpenChange} title="Keys and notes" wide>
            <div className="grid gap-8 md:grid-cols-2">
                <section>
                    <h3 className="mb-2 font-semibold">What the note line takes</h3>
                    <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5 text-sm">
                        {forms.data?.map((form) => (
                            <div key={form.form} className="contents">
                                <dt className="font-mono">{form.form}</dt>
                                <dd className="text-soft">{form.means}</dd>
                            </div>
                        ))}
                    </dl>
                    <p className="mt-3 text-sm text-soft">
                        Bare numbers are in the base of the job. <code className="font-mono">0x2A $2A 2Ah &amp;2A</code> is hexadecimal,{' '}
                        <code className="font-mono">0o52 52q</code> octal, <code className="font-mono">%101010</code> binary,{' '}
                        <code className="font-mono">#42</code> decimal. The arrow keys go through earlier notes.
                    </p>
                </section>
                <section>
                    <h3 className="mb-2 font-semibold">Keys</h3>
                    <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5 text-sm">
                        {keySheet.map(([key, means]) => (
                            <div key={key} className="contents">
                                <dt>
                                    <Key>{key}</Key>
                                </dt>
                                <dd className="text-soft">{means}</dd>
                            </div>
                        ))}
                    </dl>
                    <label className="mt-3 flex items-center gap-2 text-sm">
                        <input type="checkbox" checked={on} onChange={(event) => switchSingleKeys(event.target.checked)} />
                        Single keys work (they never do while you type)
                    </label>
                </section>
            </div>
        </Dialog>
    );
}
