/** What keys do in every grid: go, extend, choose all or nothing; the rest is said by the grid's owner. */
import type { How } from './choice.ts';

export interface GridKeys {
  count: number;
  /** Row with the focus. */
  focus: number | null;
  choose: (index: number, how: How) => void;
  all?: (() => void) | undefined;
  none?: (() => void) | undefined;
  /** By key as the browser names it, letters small; " " is the space bar. */
  actions?: Record<string, () => unknown>;
  /** The same with Alt held. */
  alt?: Record<string, () => unknown>;
  /** Tiles side by side, on a wall of them: up and down pass over so many, left and right go one further. */
  across?: number;
  /** Rows that Page Up and Page Down pass over; as many as are in sight when not given. */
  pageRows?: number;
}

export const ROW_HEIGHT = 31;

/** The handler for keys pressed while a grid itself has the focus. Keys that mean nothing here go on their way. */
export function gridKeys({ count, focus, choose, all, none, actions = {}, alt = {}, across, pageRows }: GridKeys) {
  return (e: React.KeyboardEvent<HTMLElement>): void => {
    if (e.target !== e.currentTarget) return; // an editor, a header or a handle inside
    const control = e.ctrlKey || e.metaKey,
      letter = e.key.length === 1 ? e.key.toLowerCase() : e.key;
    const page = pageRows ?? Math.max(1, Math.floor(e.currentTarget.clientHeight / ROW_HEIGHT) - 1);
    const go = (index: number): void => {
      if (count > 0) choose(Math.max(0, Math.min(count - 1, index)), e.shiftKey ? 'range' : 'one');
    };
    const moves: Record<string, (() => unknown) | undefined> = {
      ArrowDown: () => go(focus === null ? 0 : focus + (across ?? 1)),
      ArrowUp: () => go(focus === null ? 0 : focus - (across ?? 1)),
      ArrowRight: across ? () => go(focus === null ? 0 : focus + 1) : undefined,
      ArrowLeft: across ? () => go(focus === null ? 0 : focus - 1) : undefined,
      PageDown: () => go((focus ?? 0) + page),
      PageUp: () => go((focus ?? 0) - page),
      Home: () => go(0),
      End: () => go(count - 1),
      Escape: none,
    };
    const held = alt[letter] ?? (letter.startsWith('Arrow') ? moves[letter] : undefined);
    const plain = moves[letter] ?? actions[letter];
    const run = control ? (letter === 'a' ? all : undefined) : e.altKey ? held : plain;
    if (!run) return;
    e.preventDefault();
    e.stopPropagation();
    run();
  };
}
