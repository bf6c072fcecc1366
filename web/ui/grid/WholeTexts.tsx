/** What is cut off in the row that has the focus is shown whole after a moment, as the mouse shows it by a title. */
import { useEffect, useState } from 'react';
import { createPortal } from 'react-dom';

/** Somebody who goes along the rows by key is not in need of it. */
const MOMENT_MS = 600;
const LINE = 20,
  PADDING = 6;

/** One box, so that the texts of neighbours do not lie over each other. */
interface Whole {
  left: number;
  top: number;
  texts: string[];
}

const isCut = (cell: HTMLElement): boolean =>
  [cell, ...cell.querySelectorAll<HTMLElement>('.truncate')].some((e) => e.scrollWidth > e.clientWidth + 1);

/** The texts of a row that are cut, and where they belong on the page: below the first, or above at the very bottom. */
function cutTexts(row: HTMLElement): Whole | null {
  const cells = [...row.querySelectorAll<HTMLElement>(':scope > [role=gridcell]')].filter(isCut);
  if (cells.length === 0) return null;
  const { left, top, bottom } = cells[0]!.getBoundingClientRect();
  const height = cells.length * LINE + PADDING;
  return {
    left,
    top: bottom + height > window.innerHeight ? top - height : bottom,
    texts: cells.map((cell) => cell.textContent ?? ''),
  };
}

export function WholeTexts({ rowId }: { rowId: string }) {
  const [whole, setWhole] = useState<Whole | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => {
      const row = document.getElementById(rowId);
      // Only for whoever is at the grid, not for a row that was left in hand.
      if (row?.closest('[role=grid]')?.contains(document.activeElement)) setWhole(cutTexts(row));
    }, MOMENT_MS);
    const hide = (): void => setWhole(null);
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
  if (whole === null) return null;
  return createPortal(
    <div
      aria-hidden
      data-whole
      className="floating pointer-events-none fixed max-w-[60vw] px-2 py-[3px] text-small"
      style={{ left: whole.left, top: whole.top }}
    >
      {whole.texts.map((text, i) => (
        <span key={i} className="block truncate" style={{ height: LINE, lineHeight: `${LINE}px` }}>
          {text}
        </span>
      ))}
    </div>,
    document.body,
  );
}
