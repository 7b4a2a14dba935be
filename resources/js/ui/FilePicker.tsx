import type { ReactNode } from 'react';
import { useRef } from 'react';
import { Button } from '.';

/** A button that asks for a JSON file and hands it on; the same file may be chosen again. */
export function FilePicker({
    label,
    busy,
    onChoose,
    children,
}: {
    label: string;
    busy: boolean;
    onChoose: (file: File) => void;
    children: ReactNode;
}) {
    const input = useRef<HTMLInputElement>(null);

    return (
        <>
            <input
                ref={input}
                type="file"
                accept=".json,application/json"
                aria-label={label}
                className="hidden"
                onChange={(event) => {
                    const chosen = event.target.files?.[0];
                    event.target.value = '';
                    if (chosen) {
                        onChoose(chosen);
                    }
                }}
            />
            <Button onClick={() => input.current?.click()} disabled={busy}>
                {children}
            </Button>
        </>
    );
}
