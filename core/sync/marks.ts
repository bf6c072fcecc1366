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

/**
 * Marks of both sides: what one side set, moved or took away is so in the end; what both have changed alike, too.
 * @returns `clash` where both have changed the same mark, each in another way; the marks are then those of both
 */
export function mergeMarks(
  base: readonly Mark[],
  here: readonly Mark[],
  there: readonly Mark[],
): { marks: Mark[]; clash: boolean } {
  const marks: Mark[] = [];
  let clash = false;
  for (const was of base) {
    const [a, b] = [at(here, was), at(there, was)];
    if (a && b) {
      const [mine, theirs] = [!sameMark(a, was), !sameMark(b, was)];
      if (mine && theirs && !sameMark(a, b)) clash = true;
      marks.push(mine ? a : b);
    } else if (a && !sameMark(a, was)) {
      clash = true;
      marks.push(a);
    } else if (b && !sameMark(b, was)) {
      clash = true;
      marks.push(b);
    } else if (!a && !b) {
      // Gone from both: taken away, or moved. Moved to two places, it clashes.
      const moved = [here, there].map((side) => side.filter((m) => !at(base, m) && m.name === was.name));
      if (moved[0]!.length && moved[1]!.length && !sameMarks(moved[0]!, moved[1]!)) clash = true;
    }
  }
  for (const mark of [...here, ...there]) if (!at(base, mark) && !at(marks, mark)) marks.push(mark);
  return { marks: marks.sort(byTime), clash };
}
