/** Cues and loops that were changed on two sides. */
import type { Mark } from '../fields/marks.ts';

/** Places nearer than this are the same place: programs keep milliseconds, frames or samples. */
const SAME_SECONDS = 0.003;
const samePlace = (a: Mark, b: Mark): boolean =>
  Math.abs(a.at - b.at) <= SAME_SECONDS &&
  (a.end === undefined) === (b.end === undefined) &&
  Math.abs((a.end ?? 0) - (b.end ?? 0)) <= SAME_SECONDS;

const sameMark = (a: Mark, b: Mark): boolean => samePlace(a, b) && a.name === b.name && a.colour === b.colour;

/** Are they the same marks? */
export const sameMarks = (a: readonly Mark[], b: readonly Mark[]): boolean =>
  a.length === b.length && a.every((mark) => b.some((other) => sameMark(mark, other)));

const at = (marks: readonly Mark[], mark: Mark): Mark | undefined => marks.find((other) => samePlace(mark, other));
const byTime = (a: Mark, b: Mark): number => a.at - b.at || (a.end ?? 0) - (b.end ?? 0);

/** A mark that both sides have changed, each in another way. */
export interface MarkClash {
  /** The same for the same mark, however often it is compared. */
  key: string;
  /** At the last sync; null: it was not there. */
  base: Mark | null;
  /** As each side has it; null: it was taken away. */
  here: Mark | null;
  there: Mark | null;
}

/** Which side's mark both have in the end; null: each keeps its own. */
export type MarkChoice = 'here' | 'there' | 'both' | null;

export interface MergedMarks {
  here: Mark[];
  there: Mark[];
  /** What both agree on from now on: of a clash that nobody has chosen for, what it was. */
  past: Mark[];
  clashes: MarkClash[];
}

/** Could it be the same mark at another place? */
const couldBe = (mark: Mark, was: Mark): boolean =>
  mark.name === was.name && (mark.end === undefined) === (was.end === undefined);

/** Can both be kept? At one place there is one mark. */
export const canKeepBoth = ({ here, there }: MarkClash): boolean =>
  here !== null && there !== null && !samePlace(here, there);

/**
 * Marks of both sides: what one side set, moved or took away is so in the end; what both have changed alike, too.
 * @param choose asked for each mark that clashes
 */
export function mergeMarks(
  base: readonly Mark[],
  here: readonly Mark[],
  there: readonly Mark[],
  choose: (clash: MarkClash) => MarkChoice = () => null,
): MergedMarks {
  const merged: MergedMarks = { here: [], there: [], past: [], clashes: [] };
  const agree = (...marks: Mark[]): void => {
    for (const side of [merged.here, merged.there, merged.past]) side.push(...marks);
  };
  /** Marks of either side that are spoken for by a clash. */
  const told = new Set<Mark>();
  const isNew = (mark: Mark): boolean => !at(base, mark) && !told.has(mark);
  const clash = (was: Mark | null, mine: Mark | null, theirs: Mark | null): void => {
    const { at: from, end } = (was ?? mine ?? theirs)!;
    const one = {
      key: [from, end ?? []]
        .flat()
        .map((s) => Math.round(s * 1000))
        .join('-'),
      base: was,
      here: mine,
      there: theirs,
    };
    merged.clashes.push(one);
    for (const mark of [mine, theirs]) if (mark) told.add(mark);
    const choice = choose(one);
    if (choice === null) {
      if (mine) merged.here.push(mine);
      if (theirs) merged.there.push(theirs);
      if (was) merged.past.push(was);
    } else agree(...[choice !== 'there' && mine, choice !== 'here' && theirs].filter((m) => m !== null && m !== false));
  };
  for (const was of base) {
    const [a, b] = [at(here, was) ?? null, at(there, was) ?? null];
    const [mine, theirs] = [a && !sameMark(a, was), b && !sameMark(b, was)];
    if (a && b) {
      if (mine && theirs && !sameMark(a, b)) clash(was, a, b);
      else agree(mine ? a : b);
    } else if (mine || theirs) clash(was, a, b);
    else if (!a && !b) {
      // Gone from both: taken away, or moved. Moved to two places, it clashes.
      const [x, y] = [
        [here, there],
        [there, here],
      ].map(([side, other]) => side!.find((m) => isNew(m) && !at(other!, m) && couldBe(m, was)));
      if (x && y && !sameMark(x, y)) clash(was, x, y);
    }
  }
  const [mine, theirs] = [here.filter(isNew), there.filter(isNew)];
  for (const mark of mine) {
    const other = at(theirs, mark);
    if (other && !sameMark(mark, other)) clash(null, mark, other);
    else agree(mark);
  }
  for (const mark of theirs) if (!at(mine, mark)) agree(mark);
  for (const side of [merged.here, merged.there, merged.past]) side.sort(byTime);
  return merged;
}
