/** What is cut off in the row that has the focus is shown whole after a moment, as the mouse shows it by a title. */
import { useEffect, useState } from 'react';
import { createPortal } from 'react-dom';

/** Somebody who goes along the rows by key is not in need of it. */
const MOMENT_MS = 600;
const HEIGHT = 26;

interface Whole {
  left: number;
  top: number;
  text: string;
}

const isCut = (cell: HTMLElement): boolean =>
  [cell, ...cell.querySelectorAll<HTMLElement>('.truncate')].some((e) => e.scrollWidth > e.clientWidth + 1);

/**
 * The texts of a row that are cut, and where they belong on the page: below their cells, or above at the very bottom.
 */
function cutTexts(row: HTMLElement): Whole[] {
  return [...row.querySelectorAll<HTMLElement>(':scope > [role=gridcell]')].filter(isCut).map((cell) => {
    const { left, top, bottom } = cell.getBoundingClientRect();
    return {
      left,
      top: bottom + HEIGHT > window.innerHeight ? top - HEIGHT : bottom,
      text: cell.textContent ?? '',
    };
  });
}

export function WholeTexts({ rowId }: { rowId: string }) {
  const [texts, setTexts] = useState<Whole[]>([]);
  useEffect(() => {
    const timer = setTimeout(() => {
      const row = document.getElementById(rowId);
      // Only for whoever is at the grid, not for a row that was left in hand.
      if (row?.closest('[role=grid]')?.contains(document.activeElement)) setTexts(cutTexts(row));
    }, MOMENT_MS);
    const hide = (): void => setTexts([]);
    document.addEventListener('scroll', hide, true);
    document.addEventListener('focusin', hide);
    document.addEventListener('keydown', hide, true);
    return () => {
      clearTimeout(timer);
      document.removeEventListener('scroll', hide, true);
      document.removeEventListener('focusin', hide);
      document.removeEventListener('keydown', hide, true);
    };
  }, [rowId]);
  if (texts.length === 0) return null;
  return createPortal(
    texts.map(({ left, top, text }) => (
      <span
        key={left}
        aria-hidden
        data-whole
        className="floating pointer-events-none fixed max-w-[60vw] truncate px-2 py-0.5 text-small"
        style={{ left, top, height: HEIGHT }}
      >
        {text}
      </span>
    )),
    document.body,
  );
}
