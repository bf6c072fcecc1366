/** The wished shape of a set: how its energy goes from start to end. */

/** Shapes that can be chosen by name; a drawn one is told by its points. */
export const SHAPES = ['steady', 'rising', 'two waves', 'rise and fall', 'wind down'] as const;
export type ShapeName = (typeof SHAPES)[number];

/** A point of a shape: share of the set, 0 … 1, and energy, 0 … 100. */
export type ShapePoint = readonly [share: number, energy: number];

const POINTS: Record<ShapeName, readonly ShapePoint[]> = {
  steady: [
    [0, 60],
    [1, 60],
  ],
  rising: [
    [0, 30],
    [1, 88],
  ],
  'two waves': [
    [0, 35],
    [0.32, 75],
    [0.52, 50],
    [0.85, 90],
    [1, 70],
  ],
  'rise and fall': [
    [0, 30],
    [0.65, 90],
    [1, 45],
  ],
  'wind down': [
    [0, 80],
    [1, 25],
  ],
};

/** Most points that a drawn shape has. */
export const MAX_SHAPE_POINTS = 40;

const isName = (text: string): text is ShapeName => (SHAPES as readonly string[]).includes(text);

/**
 * Reads a shape as it is kept: a name, or points "0 30, 0.5 80, 1 60" in the order of their shares.
 * @returns null where it is neither
 */
export function readShape(text: string): readonly ShapePoint[] | null {
  if (isName(text)) return POINTS[text];
  const points = text.split(',').map((pair) => pair.trim().split(/\s+/).map(Number));
  const sound =
    points.length >= 2 &&
    points.length <= MAX_SHAPE_POINTS &&
    points.every(
      (p, i) =>
        p.length === 2 &&
        p[0]! >= 0 &&
        p[0]! <= 1 &&
        p[1]! >= 0 &&
        p[1]! <= 100 &&
        (i === 0 || p[0]! > points[i - 1]![0]!),
    );
  return sound ? (points as unknown as ShapePoint[]) : null;
}

/** A drawn shape as it is kept. */
export const writeShape = (points: readonly ShapePoint[]): string =>
  points.map(([share, energy]) => `${Number(share.toFixed(3))} ${Math.round(energy)}`).join(', ');

/** What a shape is called. */
export const shapeLabel = (shape: string | null): string =>
  shape === null ? 'none' : isName(shape) ? shape : 'drawn by hand';

/** The energy wished for at a share of the set, 0 … 1; straight between its points. */
export function wishedAt(points: readonly ShapePoint[], share: number): number {
  const after = points.findIndex(([at]) => at >= share);
  if (after === 0) return points[0]![1];
  if (after < 0) return points.at(-1)![1];
  const [fromShare, from] = points[after - 1]!,
    [toShare, to] = points[after]!;
  return from + ((to - from) * (share - fromShare)) / (toShare - fromShare);
}
