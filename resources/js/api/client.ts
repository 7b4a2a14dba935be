import type { Problem } from './schemas';

/** What the server refused, as sentences. */
export class Refused extends Error {
    constructor(readonly problems: Problem[]) {
        super(problems.map((problem) => problem.sentence).join(' '));
    }
}

const unreachable: Problem = {
    place: '',
    sentence: 'Zap Trace does not answer. Is bin/start still running? What you typed is still here; try again when it is.',
};

export async function send<T>(method: string, path: string, body?: unknown): Promise<T> {
    const headers: Record<string, string> = { Accept: 'application/json', 'X-Zap-Trace': '1' };
    let content: BodyInit | undefined;
    if (body instanceof FormData) {
        content = body;
    } else if (body instanceof Blob) {
        headers['Content-Type'] = 'application/octet-stream';
        content = body;
    } else if (body !== undefined) {
        headers['Content-Type'] = 'application/json';
        content = JSON.stringify(body);
    }
    let response: Response;
    try {
        response = await fetch(`/api/${path}`, { method, headers, body: content });
    } catch {
        throw new Refused([unreachable]);
    }
    const answer: unknown = await response.json().catch(() => null);
    if (!response.ok) {
        const problems = (answer as { problems?: Problem[] } | null)?.problems;
        throw new Refused(problems ?? [{ place: '', sentence: 'The server gave no readable answer. Nothing was stored.' }]);
    }
    return answer as T;
}

export const get = <T>(path: string) => send<T>('GET', path);
export const post = <T>(path: string, body?: unknown) => send<T>('POST', path, body ?? {});
export const patch = <T>(path: string, body: unknown) => send<T>('PATCH', path, body);

/** A file as bytes. */
export async function bytes(path: string): Promise<Uint8Array> {
    const response = await fetch(`/api/${path}`).catch(() => {
        throw new Refused([unreachable]);
    });
    if (!response.ok) {
        throw new Refused([{ place: '', sentence: 'This file is not kept here any more.' }]);
    }
    return new Uint8Array(await response.arrayBuffer());
}

/** Asks for a file and hands it to the browser to keep. */
export async function download(path: string, body: unknown): Promise<void> {
    const response = await fetch(`/api/${path}`, {
        method: 'POST',
        headers: { Accept: 'application/json', 'X-Zap-Trace': '1', 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
    }).catch(() => {
        throw new Refused([unreachable]);
    });
    if (!response.ok) {
        const answer = (await response.json().catch(() => null)) as { problems?: Problem[] } | null;
        throw new Refused(answer?.problems ?? [{ place: '', sentence: 'The server gave no readable answer.' }]);
    }
    const link = document.createElement('a');
    link.href = URL.createObjectURL(await response.blob());
    link.download = /filename="([^"]+)"/.exec(response.headers.get('Content-Disposition') ?? '')?.[1] ?? 'image.bin';
    link.click();
    URL.revokeObjectURL(link.href);
}

export function problemsOf(error: unknown): Problem[] {
    if (error instanceof Refused) {
        return error.problems;
    }
    return error ? [{ place: '', sentence: 'Something went wrong on this page. Load it again; nothing that was recorded is lost.' }] : [];
}
