/**
 * Three orders of one list made one: what each side has added, moved or taken out since is so in the end.
 *
 * What neither side has moved stands still, in the order it had; between two such entries stands what either side has
 * put there, each in the order of its side. So no change of either side is lost, and the outcome does not depend on
 * which side goes first. What has been moved by both to different places is a clash, and stands where this side has it.
 */
import { longestRise } from '../changes/compare.ts';

export interface MergedOrder {
  order: string[];
  /** Entries that both have moved, or added, each to another place. */
  clashes: string[];
}

/** Entries are told apart by their track, and where it stands in a list several times, by which time it is. */
export function keyed(tracks: readonly string[]): string[] {
  const seen = new Map<string, number>();
  return tracks.map((track) => {
    const n = (seen.get(track) ?? 0) + 1;
    seen.set(track, n);
    return n === 1 ? track : `${track}\u0000${n}`;
  });
}
export const trackOf = (key: string): string => key.split('\u0000')[0]!;

interface Side {
  order: readonly string[];
  has: ReadonlySet<string>;
  /** What stands where this side has put it: added, or moved. */
  put: ReadonlySet<string>;
}

function sideOf(past: ReadonlyMap<string, number>, order: readonly string[]): Side {
  const common = order.filter((key) => past.has(key));
  const stays = longestRise(common.map((key) => past.get(key)!));
  const moved = common.filter((_, i) => !stays.has(i));
  return { order, has: new Set(order), put: new Set([...moved, ...order.filter((key) => !past.has(key))]) };
}

/** For each entry, behind which of those that stand still it comes. */
function gapsOf({ order }: Side, still: ReadonlySet<string>): Map<string, string | null> {
  let behind: string | null = null;
  const found = new Map<string, string | null>();
  for (const key of order)
    if (still.has(key)) behind = key;
    else found.set(key, behind);
  return found;
}

/** Entries by the gap they come in, in the order of their side. */
function byGap(keys: readonly string[], gaps: ReadonlyMap<string, string | null>): Map<string | null, string[]> {
  const runs = new Map<string | null, string[]>();
  for (const key of keys) {
    const gap = gaps.get(key)!;
    const run = runs.get(gap);
    if (run) run.push(key);
    else runs.set(gap, [key]);
  }
  return runs;
}

/** What stands still, and behind each of it (null: in front of all) what comes there. */
const laidOut = (still: readonly string[], runOf: (gap: string | null) => readonly string[]): string[] => [
  ...runOf(null),
  ...still.flatMap((key) => [key, ...runOf(key)]),
];

/**
 * @param base the order at the last sync
 * @returns all that any of the two sides has; who has taken out what is for the caller to see
 */
export function mergeOrder(base: readonly string[], here: readonly string[], there: readonly string[]): MergedOrder {
  const past = new Map(base.map((key, i) => [key, i]));
  const [a, b] = [sideOf(past, here), sideOf(past, there)];
  const unmoved = base.filter((key) => (a.has.has(key) || b.has.has(key)) && !a.put.has(key) && !b.put.has(key));
  // What both have put into the same gap, in the same order, stands still as well.
  const first = new Set(unmoved);
  const [gapsHere, gapsThere] = [gapsOf(a, first), gapsOf(b, first)];
  const inBoth = (side: Side): string[] => side.order.filter((key) => a.put.has(key) && b.put.has(key));
  const [bothHere, bothThere] = [byGap(inBoth(a), gapsHere), byGap(inBoth(b), gapsThere)];
  const agreed = (gap: string | null): string[] => {
    const [mine, theirs] = [bothHere.get(gap) ?? [], bothThere.get(gap) ?? []];
    return mine.length === theirs.length && mine.every((key, i) => key === theirs[i]) ? mine : [];
  };
  const still = laidOut(unmoved, agreed);
  const stands = new Set(still);
  const clashes = inBoth(a).filter((key) => !stands.has(key));
  const mine = a.order.filter((key) => a.put.has(key) && !stands.has(key));
  const theirs = b.order.filter((key) => b.put.has(key) && !a.put.has(key) && !stands.has(key));
  const [runsHere, runsThere] = [byGap(mine, gapsOf(a, stands)), byGap(theirs, gapsOf(b, stands))];
  return { order: laidOut(still, (gap) => inTurn(runsHere.get(gap) ?? [], runsThere.get(gap) ?? [])), clashes };
}

/** Two runs for one gap: whose first entry sorts first goes first, so that it does not matter which side is which. */
const inTurn = (a: readonly string[], b: readonly string[]): string[] =>
  a.length === 0 || (b.length > 0 && b[0]! < a[0]!) ? [...b, ...a] : [...a, ...b];
