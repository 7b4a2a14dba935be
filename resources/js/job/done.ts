/** What the complaint did after something was done. */
export const results = [
    { value: 'cured', label: 'Cured' },
    { value: 'better', label: 'Better' },
    { value: 'as-before', label: 'As before' },
    { value: 'worse', label: 'Worse' },
    { value: 'different', label: 'Different' },
];

export type Action = { value: string; label: string; tells: string };

/** Done to find out; each can be undone. */
export const trials: Action[] = [
    { value: 'reseat', label: 'reseat', tells: 'Out of its socket and back, or pressed home. Tells a bad contact from a bad part.' },
    { value: 'clean', label: 'clean contacts', tells: 'Tells a dirty contact from a bad part.' },
    {
        value: 'piggyback',
        label: 'press a good one on top',
        tells: 'Cures a dead output, seldom one that drives hard: "as before" says little.',
    },
    {
        value: 'swap',
        label: 'swap with a neighbour',
        tells: 'Does the bad bit move with the chip? A third place speaks for contact or loading.',
    },
    {
        value: 'exchange',
        label: 'exchange for a known good one',
        tells: 'If the fault goes, put the original back: if it does not return, it was the contact.',
    },
    {
        value: 'exchange-second',
        label: 'exchange with the second machine',
        tells: 'Does the fault travel with the part? Prove the second machine first, and test it again afterwards.',
    },
    { value: 'refit', label: 'put the original back', tells: 'Tells a bad part from a contact that was only disturbed.' },
    { value: 'remove', label: 'take out', tells: 'Frees the lines that it holds. Some machines do not start without it.' },
    {
        value: 'unplug',
        label: 'unplug',
        tells: 'For what is plugged in: what frees a line may only be passing on the fault of something behind it.',
    },
    { value: 'plug', label: 'plug in again', tells: 'For what was unplugged. The contact was disturbed both times.' },
    { value: 'bridge', label: 'bridge for now', tells: 'For a pin or a line, such as U14.14 or D5: proves an open trace.' },
    { value: 'load', label: 'add load', tells: 'A weak part or supply shows it under load. The site may be "machine".' },
    { value: 'unload', label: 'take load off', tells: 'A tired supply comes right with less to feed.' },
    { value: 'warm', label: 'warm', tells: 'A weak part shows it when warm. Hot air burns: low setting, one chip at a time.' },
    { value: 'cool', label: 'cool', tells: 'A weak part comes right when cold. Cooling spray may burn and freezes skin.' },
];

/** Done to stay. */
export const repairs: Action[] = [
    { value: 'replace', label: 'replace the part', tells: 'A chip, a regulator, a cable: a new one fitted for good.' },
    { value: 'wire', label: 'wire a broken trace', tells: 'From pin to pin, for good.' },
    { value: 'clean', label: 'clean contacts', tells: 'When the contact was the fault, and stays good.' },
    { value: 'fix', label: 'put a rail right', tells: 'For a supply part: adjusted, repaired, its capacitors changed.' },
    { value: 'refit', label: 'put the original back', tells: 'What was borrowed goes home, what was good goes back.' },
];
