/** Beside the scroll bar, while it moves far: what stands where one is just now. */
import { useRef } from 'react';

interface Props {
  /** The first row in sight, of how many. */
  index: number;
  count: number;
  /** Rows that fit on the screen. */
  screen: number;
  moving: boolean;
  /** What stands there, in a word. */
  placeAt: (index: number) => string;
}

/** So many screens are far. */
const FAR = 3;

export function ScrollPlace({ index, count, screen, moving, placeAt }: Props) {
  const rest = useRef(index);
  const far = useRef(false);
  if (!moving) {
    rest.current = index;
    far.current = false;
  } else if (Math.abs(index - rest.current) > FAR * screen) far.current = true;
  const word = far.current ? placeAt(index) : '';
  if (word === '') return null;
  const share = Math.min(1, index / Math.max(1, count - screen));
  return (
    <div
      aria-hidden="true"
      data-testid="scroll-place"
      className="pointer-events-none absolute right-6 z-20 rounded-xs bg-inverse px-3 py-1.5 text-inverse-ink"
      style={{ top: `calc(${28 + 12}px + ${share} * (100% - ${28 + 12 + 74}px))` }}
    >
      <p className="heading text-[22px] leading-tight">{word}</p>
      <p className="figures text-small">{(index + 1).toLocaleString('en-GB')}</p>
    </div>
  );
}
