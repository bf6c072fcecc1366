/** A word that is on or off, in a row of such. */
import type { ReactNode } from 'react';

const SIZES = { small: 'px-1.5 py-px text-tiny', plain: 'px-2 py-0.5', large: 'px-2.5 py-1.5 text-body' };

export function Chip({
  on,
  onToggle,
  size = 'plain',
  quiet = false,
  children,
}: {
  on: boolean;
  onToggle: () => void;
  size?: keyof typeof SIZES;
  /** On is what it is most of the time. */
  quiet?: boolean;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onToggle}
      className={`${quiet ? 'chip-quiet' : 'chip'} text-dim ${SIZES[size]}`}
    >
      {children}
    </button>
  );
}
