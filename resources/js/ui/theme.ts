import { useSyncExternalStore } from 'react';

export type Theme = 'day' | 'lights-out';

const key = 'zap-trace.theme';
const workshopKey = 'zap-trace.workshop-theme';
const listeners = new Set<() => void>();
const system = window.matchMedia('(prefers-color-scheme: dark)');

function chosen(): Theme | null {
    const stored = localStorage.getItem(key);
    return stored === 'day' || stored === 'lights-out' ? stored : null;
}

function ofWorkshop(): Theme | null {
    const stored = localStorage.getItem(workshopKey);
    return stored === 'day' || stored === 'lights-out' ? stored : null;
}

/** What the workshop wants on every device that has chosen nothing itself. */
export function takeWorkshopTheme(theme: Theme | 'system'): void {
    if (theme !== (ofWorkshop() ?? 'system')) {
        localStorage.setItem(workshopKey, theme);
        applyTheme();
    }
}

function current(): Theme {
    return chosen() ?? ofWorkshop() ?? (system.matches ? 'lights-out' : 'day');
}

export function applyTheme(): void {
    document.documentElement.dataset.theme = current();
    listeners.forEach((listener) => listener());
}

/** The workshop's or the system's choice holds until the technician chooses; choosing the same gives it back. */
export function chooseTheme(theme: Theme): void {
    if (theme === (ofWorkshop() ?? (system.matches ? 'lights-out' : 'day'))) {
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
