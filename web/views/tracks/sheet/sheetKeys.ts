/** What keys do in the sheet. */
export interface SheetActions {
  total: number;
  focus: number | null;
  pageRows: number;
  chooseAt: (index: number, how: 'one' | 'toggle' | 'range') => void;
  audition: () => void;
  add: () => void;
  hearLater: () => void;
  open: () => void;
  edit: () => void;
  all: () => void;
  none: () => void;
  fit: () => void;
  listen: () => void;
}

/** The handler for keys pressed while the sheet has the focus. */
export function sheetKeys(actions: SheetActions): (e: React.KeyboardEvent) => void {
  const { total, focus, pageRows, chooseAt } = actions;
  return (e) => {
    const control = e.ctrlKey || e.metaKey;
    const go = (index: number): void => {
      if (total === 0) return;
      chooseAt(Math.max(0, Math.min(total - 1, index)), e.shiftKey ? 'range' : 'one');
    };
    const moves: Record<string, () => void> = {
      ArrowDown: () => go(focus === null ? 0 : focus + 1),
      ArrowUp: () => go(focus === null ? 0 : focus - 1),
      PageDown: () => go((focus ?? 0) + pageRows),
      PageUp: () => go((focus ?? 0) - pageRows),
      Home: () => go(0),
      End: () => go(total - 1),
      Enter: actions.open,
      ' ': actions.audition,
      Escape: actions.none,
    };
    const letters: Record<string, () => void> = {
      a: actions.add,
      e: actions.edit,
      f: actions.fit,
      l: actions.hearLater,
      m: actions.listen,
    };
    const run = control
      ? e.key.toLowerCase() === 'a'
        ? actions.all
        : undefined
      : (moves[e.key] ?? (e.altKey ? undefined : letters[e.key.toLowerCase()]));
    if (!run) return;
    e.preventDefault();
    e.stopPropagation();
    run();
  };
}
