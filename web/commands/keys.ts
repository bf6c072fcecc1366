/**
 * All keys there are, by screen: what `?` and the list of actions show, what menus say, and what `useKeys` binds are
 * this one table. A key means one thing on a screen, whatever has the focus, unless it is a key of its table.
 */

export interface Key {
  /** As it is shown and read: modifiers and one key, separated by spaces; of alternatives, menus show the first. */
  keys: readonly string[];
  label: string;
  /** Works while the table of the screen has the focus, on the row in hand and on what is chosen. */
  table?: true;
  /** Several keys of one kind: the character they share their meaning by is handed on. */
  each?: RegExp;
  /** Also while somebody types. */
  always?: true;
}

const key = (keys: string | readonly string[], label: string, more: Partial<Key> = {}): Key => ({
  keys: typeof keys === 'string' ? [keys] : keys,
  label,
  ...more,
});
const rowKey = (keys: string | readonly string[], label: string): Key => key(keys, label, { table: true });

export const SCREENS = {
  everywhere: 'Everywhere',
  audition: 'Audition',
  columns: 'Pages with columns',
  table: 'Every table',
  tracks: 'Tracks',
  sound: 'Sound of a track',
  rate: 'Rate by ear',
  check: 'Check what is least certain',
  clean: 'Clean',
  catalogue: 'Catalogue',
  arrange: 'Arrange',
  disk: 'Missing files',
  duplicates: 'Duplicates',
  places: 'Out of place',
  others: 'Not music',
  quarantine: 'Quarantine',
  space: 'Space',
  handover: 'Handover',
  take: 'Other collections',
  waveform: 'Waveform in hand',
} as const;
export type Screen = keyof typeof SCREENS;

export const KEYS = {
  everywhere: {
    actions: key('Ctrl K', 'All actions by name', { always: true }),
    keys: key('?', 'List of keys'),
    undo: key('Ctrl Z', 'Undo the last change'),
    redo: key('Ctrl Shift Z', 'Redo'),
    find: key('/', 'Find'),
  },
  audition: {
    play: key('Space', 'Play or pause'),
    next: key('N', 'Next track'),
    previous: key('P', 'Previous track'),
    back: key(',', 'Back 30 seconds'),
    forward: key('.', 'Forward 30 seconds'),
  },
  columns: {
    left: key('[', 'Fold or open the left column'),
    right: key(']', 'Fold or open the right column'),
  },
  table: {
    go: rowKey(['↑', '↓'], 'Go along the rows'),
    across: rowKey(['←', '→'], 'Go along the covers'),
    page: rowKey(['Page Up', 'Page Down'], 'A screen further'),
    ends: rowKey(['Home', 'End'], 'First or last row'),
    more: rowKey(['Shift ↑', 'Shift ↓'], 'Choose more'),
    all: rowKey('Ctrl A', 'Choose everything that matches'),
    none: rowKey('Esc', 'Choose nothing'),
  },
  tracks: {
    audition: rowKey('Space', 'Audition'),
    open: rowKey('Enter', 'Open in the inspector'),
    edit: rowKey('E', 'Edit a cell; Tab, ↑ and ↓ go on'),
    add: rowKey('A', 'Add to a crate or playlist'),
    hearLater: rowKey('L', 'Hear later, or not'),
    fit: rowKey('F', 'Show what fits'),
    rate: rowKey('M', 'Rate by ear'),
  },
  sound: {
    zoomIn: key(['+', '='], 'Zoom in'),
    zoomOut: key('-', 'Zoom out'),
    whole: key('0', 'Show the whole track'),
    back: key('←', 'Scroll back'),
    forward: key('→', 'Scroll forward'),
    cue: key('C', 'Add a cue at the playhead'),
    loop: key('O', 'Add a loop of four bars at the playhead'),
    toMark: key('1 to 9', 'Play from a cue, or a loop', { each: /^[1-9]$/ }),
    leaveLoop: key('R', 'Leave the loop'),
    split: key('S', 'Split the section at the playhead'),
    metronome: key('K', 'Metronome'),
    firstBar: key('B', 'First bar at the playhead'),
    anchor: key('A', 'Anchor a beat at the playhead'),
    earlier: key('[', 'Grid 1 ms earlier'),
    later: key(']', 'Grid 1 ms later'),
    muchEarlier: key('{', 'Grid 10 ms earlier'),
    muchLater: key('}', 'Grid 10 ms later'),
    leave: key('Esc', 'Back'),
  },
  rate: {
    down: key('↓', 'Next track'),
    up: key('↑', 'Previous track'),
    energy: key('1 to 9, 0', 'Energy 10 to 90, and 100', { each: /^[0-9]$/ }),
    stars: key('Shift 1 to 5', 'Stars', { each: /^Shift [1-5]$/ }),
    mood: key('Q to G', 'Moods, as the words beside them say', { each: /^[QWERTASDFG]$/ }),
    hearLater: key('L', 'Hear later, or not'),
    leave: key('Esc', 'Back to the tracks'),
  },
  check: {
    keep: key('K', 'Keep'),
    half: key('H', 'Half tempo'),
    double: key('D', 'Double tempo'),
    down: key('↓', 'Next track'),
    up: key('↑', 'Previous track'),
    open: key('Enter', 'Open its sound'),
    leave: key('Esc', 'Back to the tracks'),
  },
  clean: {
    audition: rowKey('Space', 'Audition'),
    leaveOut: rowKey('X', 'Leave the track out of the draft, or take it in'),
  },
  catalogue: {
    up: rowKey('Alt ↑', 'Match the track to the one above'),
    down: rowKey('Alt ↓', 'Match the track to the one below'),
  },
  arrange: {
    audition: rowKey('Space', 'Audition'),
    up: rowKey('Alt ↑', 'Move up'),
    down: rowKey('Alt ↓', 'Move down'),
    pin: rowKey('I', 'Pin to its place, or unpin'),
    remove: rowKey(['Delete', 'Backspace'], 'Remove from the list'),
    follow: key('F', 'What could follow'),
    hear: key('H', 'Hear the transition, or stop'),
    rename: rowKey('F2', 'Rename the crate or playlist, in the tree'),
  },
  disk: {
    audition: rowKey('Space', 'Audition the file that was found'),
    leave: rowKey(['Delete', 'Backspace'], 'Leave as missing, or put into the draft'),
  },
  duplicates: {
    audition: rowKey('Space', 'Audition the file that stays'),
    hear: rowKey(['1', '2', '3', '4', '5', '6', '7', '8', '9'], 'Audition another file from the same moment'),
    leave: rowKey(['Delete', 'Backspace'], 'Leave the files as they are, or take them into the draft'),
  },
  places: {
    audition: rowKey('Space', 'Audition'),
    leave: rowKey(['Delete', 'Backspace'], 'Leave the files where they are, or take them into the draft'),
  },
  others: {
    aside: rowKey(['Delete', 'Backspace'], 'Put into quarantine; empty folders are removed'),
  },
  quarantine: {
    restore: rowKey('Enter', 'Restore'),
    remove: rowKey(['Delete', 'Backspace'], 'Delete for good…'),
  },
  space: {
    open: rowKey('Enter', 'Show what is in it'),
    up: rowKey('Backspace', 'Show what it is in'),
    take: rowKey('Delete', 'Take into the draft, or out of it'),
  },
  handover: {
    here: rowKey('H', 'As it is here'),
    there: rowKey('T', 'As it is there'),
    both: rowKey('B', 'Both joined'),
    leave: rowKey(['Delete', 'Backspace'], 'Leave both sides as they are'),
    sync: key('Ctrl Enter', 'Apply what is shown'),
  },
  take: {
    audition: rowKey('Space', 'Audition'),
    basket: rowKey('B', 'Put into the basket, or take out of it'),
  },
  waveform: {
    seek: rowKey(['←', '→'], 'Back or forward 5 seconds'),
  },
} as const satisfies Record<Screen, Record<string, Key>>;

export type Keys = typeof KEYS;
export type KeyOf<S extends Screen> = Extract<keyof Keys[S], string>;

/** A key of the table; widened, so that what only some have can be asked of all. */
export const keyOf = <S extends Screen>(screen: S, id: KeyOf<S>): Key =>
  (KEYS[screen] as unknown as Record<string, Key>)[id]!;

/** All of a screen, in the order of the table. */
export const keysOf = (screen: Screen): [id: string, key: Key][] => Object.entries<Key>(KEYS[screen]);

const BROWSER_NAMES: Record<string, string> = {
  ' ': 'Space',
  Escape: 'Esc',
  ArrowUp: '↑',
  ArrowDown: '↓',
  ArrowLeft: '←',
  ArrowRight: '→',
  PageUp: 'Page Up',
  PageDown: 'Page Down',
};

/** What a pressed key is called in the table. Of characters other than letters and digits, Shift is part already. */
export function nameOfPress(
  e: Pick<KeyboardEvent, 'key' | 'code' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>,
): string {
  const digit = /^Digit(\d)$/.exec(e.code)?.[1]; // Shift and 3 is 3 whatever the keyboard makes of it
  const letter = e.key.length === 1 && e.key.toLowerCase() !== e.key.toUpperCase();
  const shifted = e.shiftKey && (letter || e.key.length > 1 || e.key === ' ' || digit !== undefined);
  const shiftIsPart = digit !== undefined && e.shiftKey && isCharacterOfTable(e.key);
  const name = letter ? e.key.toUpperCase() : shiftIsPart ? e.key : (digit ?? BROWSER_NAMES[e.key] ?? e.key);
  return [e.ctrlKey || e.metaKey ? 'Ctrl' : '', e.altKey ? 'Alt' : '', shifted && !shiftIsPart ? 'Shift' : '', name]
    .filter(Boolean)
    .join(' ');
}

/** Characters that some keyboards have on Shift and a digit, and that the table uses. */
const CHARACTERS = new Set(
  (Object.keys(SCREENS) as Screen[])
    .flatMap((screen) => keysOf(screen))
    .flatMap(([, { keys }]) => keys)
    .filter((k) => k.length === 1 && !/[\p{L}\d]/u.test(k)),
);
const isCharacterOfTable = (character: string): boolean => CHARACTERS.has(character);

/** Does a press, by its name, mean this key? */
export const means = (k: Key, press: string): boolean => (k.each ? k.each.test(press) : k.keys.includes(press));
