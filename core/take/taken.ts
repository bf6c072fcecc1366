/** What a track of the library takes over from a collection that it came from. */
import { goesIn } from '../fields/merge.ts';
import { isEmpty, sameValue, type FieldValue, type Held } from '../fields/values.ts';
import { BUNDLED_FIELDS } from '../exchange/exchangedFields.ts';
import { inComment } from './inComment.ts';

/** What happens where both say something. */
export type TakeOver = 'fill gaps' | 'replace';

export interface TakeRule {
  over: TakeOver;
  /** Energy and moods that stand in the comment become fields. */
  fromComments: boolean;
  /** Moods as the library spells them. */
  moods: readonly string[];
}

/** The values that go in, by field. Locked ones stay. @param held what is here */
export function takenOver(
  theirs: Readonly<Record<string, FieldValue>>,
  held: (field: string) => Held | null,
  { over, fromComments, moods }: TakeRule,
): Record<string, { before: FieldValue; after: FieldValue }> {
  const offered: Record<string, FieldValue> = {};
  for (const field of BUNDLED_FIELDS) if (!isEmpty(theirs[field])) offered[field] = theirs[field]!;
  if (fromComments) {
    const said = inComment(typeof theirs.comment === 'string' ? theirs.comment : null, moods);
    if (said.energy !== null) offered.energy ??= said.energy;
    if (said.moods.length > 0) offered.moods ??= said.moods;
  }
  const out: Record<string, { before: FieldValue; after: FieldValue }> = {};
  for (const [field, after] of Object.entries(offered)) {
    const now = held(field);
    if (now?.locked || sameValue(now?.value ?? null, after) || !goesIn(now?.value, over)) continue;
    out[field] = { before: now?.value ?? null, after };
  }
  return out;
}

/**
 * A list here that gets what a list there has more: each entry behind the one that it follows there. What is here stays
 * where it is.
 */
export function withNew(here: readonly number[], there: readonly number[]): number[] {
  const out = [...here];
  const has = new Set(here);
  let behind: number | null = null;
  for (const id of there) {
    if (!has.has(id)) {
      out.splice(behind === null ? 0 : out.indexOf(behind) + 1, 0, id);
      has.add(id);
    }
    behind = id;
  }
  return out;
}
