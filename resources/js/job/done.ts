/** What was done to a part, as a word after its name. */
export const doneWords: Record<string, string> = {
    reseat: 'reseated',
    clean: 'cleaned',
    exchange: 'exchanged',
    replace: 'replaced',
    remove: 'taken out',
    bridge: 'bridged',
};
