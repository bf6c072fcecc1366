/** The space of a node and of what lies in it as bands, one below the other, as wide as they are large. */
import { hierarchy, partition } from 'd3-hierarchy';
import type { SpaceNode } from '@early-set/core/space/space';

export interface Band {
  /** From the node that is laid out; not counting its own. */
  keys: string[];
  node: SpaceNode;
  /** How many others too narrow to be seen it stands for; 0 for one of its own. */
  rest: number;
  depth: number;
  /** 0 … 1 from left to right. */
  from: number;
  to: number;
}

/** So many levels are drawn, the first is the node itself. */
const LEVELS = 4;
/** What is narrower than this share is drawn together with others. */
const NARROW = 0.006;

interface Wide {
  node: SpaceNode;
  keys: string[];
  rest: number;
  below: Wide[];
}

export function bandsOf(top: SpaceNode): Band[] {
  if (top.bytes <= 0) return [];
  const wide = (node: SpaceNode, keys: string[], depth: number): Wide => {
    const below = depth + 1 < LEVELS ? node.children : [];
    const own = below.filter((child) => child.bytes >= NARROW * top.bytes);
    const narrow = below.filter((child) => child.bytes > 0 && child.bytes < NARROW * top.bytes);
    const lines = own.map((child) => wide(child, [...keys, child.key], depth + 1));
    const bytes = narrow.reduce((sum, child) => sum + child.bytes, 0);
    if (bytes >= NARROW * top.bytes)
      lines.push({ node: { ...node, key: '', bytes, children: [] }, keys, rest: narrow.length, below: [] });
    return { node, keys, rest: 0, below: lines };
  };
  const root = hierarchy(wide(top, [], 0), (w) => w.below).sum(
    ({ node, below }) => node.bytes - below.reduce((sum, w) => sum + w.node.bytes, 0),
  );
  return partition<Wide>()
    .size([1, LEVELS])(root)
    .descendants()
    .map(({ data: { node, keys, rest }, depth, x0, x1 }) => ({ node, keys, rest, depth, from: x0, to: x1 }));
}

/** The band that a key of the keyboard leads to. */
export function bandBeside(bands: readonly Band[], at: Band, key: string): Band | undefined {
  const level = bands.filter((b) => b.depth === at.depth && b.rest === 0);
  const place = level.indexOf(at);
  switch (key) {
    case 'ArrowLeft':
      return level[place - 1];
    case 'ArrowRight':
      return level[place + 1];
    case 'ArrowUp':
      return bands.find((b) => b.depth === at.depth - 1 && b.from <= at.from && b.to >= at.to);
    case 'ArrowDown':
      return bands.find((b) => b.depth === at.depth + 1 && b.rest === 0 && b.from >= at.from && b.to <= at.to);
    case 'Home':
      return level[0];
    case 'End':
      return level.at(-1);
    default:
      return undefined;
  }
}
