/** In what a pin is looked at, in the words the log has for it. */
export const situations = [
    { value: 'running', label: 'running its ROM' },
    { value: 'free-run', label: 'free run' },
    { value: 'reset', label: 'reset held' },
    { value: 'as-found', label: 'hung as found' },
] as const;

export type Situation = (typeof situations)[number]['value'];
