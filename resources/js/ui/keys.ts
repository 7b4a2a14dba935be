import { useEffect, useRef, useSyncExternalStore } from 'react';

const key = 'zap-trace.single-keys';
const listeners = new Set<() => void>();

export function singleKeysOn(): boolean {
    return localStorage.getItem(key) !== 'off';
}

export function switchSingleKeys(on: boolean): void {
    localStorage.setItem(key, on ? 'on' : 'off');
    listeners.forEach((listener) => listener());
}

export function useSingleKeys(): boolean {
    return useSyncExternalStore((listener) => {
        listeners.add(listener);
        return () => listeners.delete(listener);
    }, singleKeysOn);
}

const typing = (target: EventTarget | null) =>
    target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** Own single keys: not while typing, not with a dialog open, and only while they are switched on. */
export function useKeys(actions: Record<string, () => void>): void {
    const latest = useRef(actions);
    useEffect(() => {
        latest.current = actions;
    });
    useEffect(() => {
        const onKey = (event: KeyboardEvent) => {
            if (
                event.ctrlKey ||
                event.metaKey ||
                event.altKey ||
                typing(event.target) ||
                !singleKeysOn() ||
                document.querySelector('[role="dialog"]')
            ) {
                return;
            }
            const action = latest.current[event.key];
            if (action) {
                event.preventDefault();
                action();
            }
        };
        window.addEventListener('keydown', onKey);
        return () => window.removeEventListener('keydown', onKey);
    }, []);
}
