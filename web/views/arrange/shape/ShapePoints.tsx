/** The points of a wished shape: dragged, or moved and taken out by keys. */
import type { ShapePoint } from '@early-set/core/arrange/shape';
import { useState } from 'react';
import { withoutPoint, withPoint } from './curve.ts';

interface Props {
  points: readonly ShapePoint[];
  onShape: (shape: string) => void;
  placeAt: (e: React.PointerEvent) => ShapePoint;
  /** Pixels of a share, and of an energy. */
  left: (share: number) => number;
  top: (energy: number) => number;
}

const STEPS: Record<string, readonly [share: number, energy: number]> = {
  ArrowLeft: [-0.02, 0],
  ArrowRight: [0.02, 0],
  ArrowUp: [0, 2],
  ArrowDown: [0, -2],
};

export function ShapePoints({ points, onShape, placeAt, left, top }: Props) {
  const [dragged, setDragged] = useState<{ index: number; to: ShapePoint } | null>(null);
  return points.map((point, index) => {
    const [share, energy] = dragged?.index === index ? dragged.to : point;
    return (
      <button
        key={index}
        type="button"
        role="slider"
        aria-label={`Wished energy at ${Math.round(share * 100)} % of the set`}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(energy)}
        title="Drag to draw the wished shape; double-click the chart for one more point, Delete removes one"
        className="absolute size-3 -translate-x-1/2 -translate-y-1/2 cursor-grab rounded-full border-2 border-buoy bg-sheet"
        style={{ left: left(share), top: top(energy) }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          setDragged({ index, to: point });
        }}
        onPointerMove={(e) => {
          if (dragged?.index !== index) return;
          const [to, height] = placeAt(e);
          const ends = index === 0 || index === points.length - 1;
          setDragged({ index, to: [ends ? point[0] : to, Math.max(0, Math.min(100, height))] });
        }}
        onPointerUp={() => {
          if (dragged && dragged.to !== point) onShape(withPoint(points, index, dragged.to));
          setDragged(null);
        }}
        onPointerCancel={() => setDragged(null)}
        onKeyDown={(e) => {
          const step = STEPS[e.key];
          if (step) onShape(withPoint(points, index, [point[0] + step[0], point[1] + step[1]]));
          else if (e.key === 'Delete' || e.key === 'Backspace') onShape(withoutPoint(points, index));
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
      />
    );
  });
}
