import { useSyncExternalStore } from 'react';

export type Theme = 'day' | 'lights-out';

const key = 'zap-trace.theme';
const listeners = new Set<() => void>();
const system = window.matchMedia('(prefers-color-scheme: dark)');

function chosen(): Theme | null {
    const stored = localStorage.getItem(key);
    return stored === 'day' || stored === 'lights-out' ? stored : null;
}

function current(): Theme {
    return chosen() ?? (system.matches ? 'lights-out' : 'day');
}

export function applyTheme(): void {
    document.documentElement.dataset.theme = current();
    listeners.forEach((listener) => listener());
}

/** The system's choice holds until the technician chooses; choosing what the system has gives it back. */
export function chooseTheme(theme: Theme): void {
    if (theme === (system.matches ? 'lights-out' : 'day')) {
        localStorage.removeItem(key);
    } else {
        localStorage.setItem(key, theme);
    }
    applyTheme();
}

system.addEventListener('change', applyTheme);

export function useTheme(): Theme {
    return useSyncExternalStore((listener) => {
        listeners.add(listener);
        return () => listeners.delete(listener);
    }, current);
}
