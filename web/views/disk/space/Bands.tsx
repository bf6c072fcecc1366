/** The space as bands: what lies in a band lies below it. One is chosen by click or arrow keys. */
import { useMemo, useRef } from 'react';
import type { SpaceNode } from '@early-set/core/space/space';
import { bytes } from '../../../ui/format.ts';
import { bandBeside, bandsOf, type Band } from './bands.ts';

const ROW = 58;
const TONES = ['bg-inverse text-inverse-ink', 'bg-tide-deep/55', 'bg-tide-deep/38', 'bg-tide-deep/22'];
/** Narrower bands show no text, or no size. */
const NAME_SHARE = 0.045,
  SIZE_SHARE = 0.065;

interface Props {
  top: SpaceNode;
  /** Keys of the node that is chosen, from `top`. */
  chosen: readonly string[];
  nameOf: (keys: readonly string[]) => string;
  isMarked: (keys: readonly string[]) => boolean;
  onChoose: (keys: string[]) => void;
  onOpen: (keys: string[]) => void;
  onUp: () => void;
  onMark: (keys: string[]) => void;
}

const same = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((key, i) => key === b[i]);

export function Bands({ top, chosen, nameOf, isMarked, onChoose, onOpen, onUp, onMark }: Props) {
  const bands = useMemo(() => bandsOf(top), [top]);
  const levels = Math.max(0, ...bands.map((b) => b.depth)) + 1;
  const area = useRef<HTMLDivElement>(null);
  const current = bands.find((b) => b.rest === 0 && same(b.keys, chosen)) ?? bands[0];
  const go = (band: Band | undefined): void => {
    if (!band) return;
    onChoose(band.keys);
    area.current?.querySelectorAll<HTMLElement>('[role=treeitem]')[bands.indexOf(band)]?.focus();
  };
  const onKey = (e: React.KeyboardEvent, band: Band): void => {
    const acts: Record<string, () => void> = {
      Enter: () => onOpen(band.keys),
      Backspace: onUp,
      Delete: () => onMark(band.keys),
    };
    const act = acts[e.key];
    const beside = bandBeside(bands, band, e.key);
    if (!act && !e.key.startsWith('Arrow') && e.key !== 'Home' && e.key !== 'End') return;
    e.preventDefault();
    e.stopPropagation();
    if (act) act();
    else go(beside);
  };
  return (
    <div
      ref={area}
      role="tree"
      aria-label="Where the space goes"
      className="relative mx-3.5 mt-3 shrink-0"
      style={{ height: levels * (ROW + 3) }}
    >
      {bands.map((band, i) => {
        const share = band.to - band.from,
          name = band.rest ? `${band.rest} more` : nameOf(band.keys),
          size = bytes(band.node.bytes);
        const isCurrent = band === current,
          marked = band.rest === 0 && isMarked(band.keys);
        const tone = isCurrent ? 'bg-main-fill text-main-ink' : marked ? 'bg-chosen' : TONES[band.depth]!;
        return (
          <div
            key={i}
            role="treeitem"
            aria-level={band.depth + 1}
            aria-selected={isCurrent}
            aria-disabled={band.rest > 0 || undefined}
            aria-label={`${name}, ${size}${marked ? ', in this draft' : ''}`}
            tabIndex={isCurrent ? 0 : -1}
            title={`${name} · ${size}`}
            data-band={band.rest ? undefined : name}
            onClick={() => (band.rest ? onChoose(band.keys) : go(band))}
            onDoubleClick={() => onOpen(band.keys)}
            onKeyDown={(e) => onKey(e, band)}
            className={`absolute cursor-default overflow-hidden ${share >= NAME_SHARE ? 'px-1.5 py-1' : ''} ${tone} ${
              marked ? 'border-l-[3px] border-buoy' : ''
            } ${band.rest ? 'opacity-60' : ''}`}
            style={{
              left: `${band.from * 100}%`,
              width: `calc(${share * 100}% - 2px)`,
              top: band.depth * (ROW + 3),
              height: ROW,
            }}
          >
            {share >= NAME_SHARE && (
              <>
                <p className="truncate font-semibold">{name}</p>
                {share >= SIZE_SHARE && <p className="figures truncate text-small">{size}</p>}
              </>
            )}
          </div>
        );
      })}
    </div>
  );
}
