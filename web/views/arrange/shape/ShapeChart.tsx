/** The shape of a set above its entries: what it is, and what is wished for. */
import { useMemo, useState, type ReactNode } from 'react';
import type { ListEntryRow } from '@early-set/core/api/types';
import { wishedAt, type ShapePoint } from '@early-set/core/arrange/shape';
import { clockLength, timeOfDay } from '@early-set/core/clock/clock';
import { figure } from '../../../ui/format.ts';
import { Segmented } from '../../../ui/Segmented.tsx';
import { useSize } from '../../../ui/useSize.ts';
import { titleOf } from '../EntryCells.tsx';
import { ShapePoints } from './ShapePoints.tsx';
import {
  CURVE_LABELS,
  CURVES,
  curveOf,
  rangeOf,
  secondsAt,
  shareAt,
  thinned,
  withNewPoint,
  type Curve,
} from './curve.ts';

interface Props {
  entries: readonly ListEntryRow[];
  starts: readonly number[];
  /** Whole length in seconds. */
  total: number;
  startsAt: string | null;
  wished: readonly ShapePoint[] | null;
  curve: Curve;
  onCurve: (curve: Curve) => void;
  /** Index of the entry in hand. */
  inHand: number | null;
  onChoose: (index: number) => void;
  onShape: (shape: string) => void;
  /** Where the wished shape is chosen. */
  menu: ReactNode;
}

const HEIGHT = 92,
  TOP = 10,
  BOTTOM = 6,
  SIDE = 14;

export function ShapeChart({ entries, starts, total, startsAt, wished, curve, onCurve, ...rest }: Props) {
  const { inHand, onChoose, onShape, menu } = rest;
  const [box, { width }] = useSize<HTMLDivElement>();
  const [hovered, setHovered] = useState<number | null>(null);
  const all = useMemo(() => curveOf(entries, starts, curve), [entries, starts, curve]);
  const points = useMemo(() => thinned(all), [all]);
  const isLong = points !== all;
  const { low, high } = rangeOf(points, curve);
  const inside = Math.max(1, width - 2 * SIDE);
  const x = (seconds: number): number => SIDE + (total > 0 ? seconds / total : 0) * inside;
  const left = (share: number): number => x(secondsAt(starts, share));
  const y = (value: number): number => TOP + (1 - (value - low) / (high - low)) * (HEIGHT - TOP - BOTTOM);
  const line = points.map((p) => `${x(p.seconds).toFixed(1)},${y(p.value).toFixed(1)}`);
  const shown = curve === 'energy' ? wished : null;
  /** The place in the wished shape under a pointer. */
  const placeAt = ({ clientX, clientY }: React.MouseEvent): ShapePoint => {
    const { left: edge, top } = box.current!.getBoundingClientRect();
    const energy = low + (1 - (clientY - top - TOP) / (HEIGHT - TOP - BOTTOM)) * (high - low);
    return [shareAt(starts, ((clientX - edge - SIDE) / inside) * total), energy];
  };
  const told = hovered ?? inHand;
  const entry = told === null ? undefined : entries[told];
  const marks = [0, 0.25, 0.5, 0.75, 1];
  return (
    <section aria-label="Shape of the set" className="shrink-0 border-b border-line bg-sheet px-3.5 pt-2 pb-1">
      <div className="flex items-center gap-3 text-small">
        <Segmented
          label="Drawn over time"
          value={curve}
          choices={CURVES.map((c) => [c, CURVE_LABELS[c]])}
          onChoose={onCurve}
        />
        <p className="min-w-0 flex-1 truncate text-right text-dim" aria-live="off">
          {entry && told !== null && (
            <>
              <span className="font-semibold text-ink">{titleOf(entry)}</span>{' '}
              {toldOf(entry, curve, shown, told, entries.length)}
            </>
          )}
        </p>
        {menu}
      </div>
      <div ref={box} className="relative" style={{ height: HEIGHT }}>
        <svg
          width={width}
          height={HEIGHT}
          className="block"
          aria-hidden="true"
          onDoubleClick={(e) => shown && onShape(withNewPoint(shown, placeAt(e)))}
          // Of a long list there are no single entries to click on.
          onClick={(e) => isLong && onChoose(Math.round(placeAt(e)[0] * (entries.length - 1)))}
        >
          {line.length > 1 && (
            <polygon
              points={`${x(points[0]!.seconds)},${HEIGHT - BOTTOM} ${line.join(' ')} ${x(points.at(-1)!.seconds)},${HEIGHT - BOTTOM}`}
              className="fill-tide"
            />
          )}
          <polyline points={line.join(' ')} fill="none" className="stroke-energy" strokeWidth="1.8" />
          {shown && (
            <polyline
              points={Array.from({ length: 101 }, (_, i) => {
                const share = i / 100;
                return `${left(share).toFixed(1)},${y(wishedAt(shown, share)).toFixed(1)}`;
              }).join(' ')}
              fill="none"
              className="stroke-buoy"
              strokeWidth="1.6"
              strokeDasharray="4 3"
            />
          )}
          {(isLong ? all.filter((p) => p.at === inHand) : points).map((p) => (
            <rect
              key={entries[p.at]!.entryId}
              x={x(p.seconds) - 4}
              y={y(p.value) - 4}
              width="8"
              height="8"
              data-at={p.at}
              className={`cursor-pointer ${p.at === inHand ? 'fill-buoy' : 'fill-energy'}`}
              onPointerEnter={() => setHovered(p.at)}
              onPointerLeave={() => setHovered(null)}
              onClick={() => onChoose(p.at)}
            />
          ))}
        </svg>
        {shown && <ShapePoints points={shown} onShape={onShape} placeAt={placeAt} left={left} top={y} />}
      </div>
      <div className="figures relative h-4 text-tiny text-dim" aria-hidden="true">
        {marks.map((share) => (
          <span
            key={share}
            className="absolute"
            style={{ left: SIDE + share * inside, transform: `translateX(${-100 * share}%)` }}
          >
            {startsAt ? timeOfDay(startsAt, total * share).slice(0, 5) : clockLength(total * share)}
          </span>
        ))}
      </div>
    </section>
  );
}

/** What the curve says of an entry, in words. */
function toldOf(
  { values }: ListEntryRow,
  curve: Curve,
  wished: readonly ShapePoint[] | null,
  at: number,
  count: number,
): string {
  const value = values[curve];
  if (value === null || value === undefined) return `no ${CURVE_LABELS[curve]}`;
  const text = typeof value === 'number' ? figure(value, curve === 'energy' ? 0 : 1) : String(value);
  const wish = wished ? `, wished ${figure(wishedAt(wished, count > 1 ? at / (count - 1) : 0), 0)}` : '';
  return `${curve === 'key' ? '' : `${CURVE_LABELS[curve]} `}${text}${wish}`;
}
