import { Link, useRouteError } from 'react-router';
import { Button } from '../ui';

/** Shown in place of a page that threw. What was noted lies with the server, and is not lost by it. */
export function Broken() {
    const error = useRouteError();
    return (
        <main className="mx-auto flex max-w-xl flex-col gap-4 p-8">
            <h1 className="text-2xl">This page broke.</h1>
            <p>
                That is a mistake of the program, not of yours. Everything that was noted is kept; only what was typed and not yet noted is
                gone. Load the page again; where that does not help, go back to the bench and take another way.
            </p>
            <div className="flex items-center gap-4">
                <Button look="act" onClick={() => window.location.reload()}>
                    Load it again
                </Button>
                <Link to="/" reloadDocument className="underline underline-offset-2">
                    Back to the bench
                </Link>
            </div>
            <details>
                <summary className="min-h-6 cursor-pointer text-soft underline underline-offset-2">What it said</summary>
                <p className="mt-2 break-words font-mono text-[13px]">{error instanceof Error ? error.message : String(error)}</p>
            </details>
        </main>
    );
}
