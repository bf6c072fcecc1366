/** One field on two sides, and what both said when they were last compared: what becomes of it. */
import { marksOf, marksValue } from '../fields/marks.ts';
import { isEmpty, sameValue, type FieldValue, type Held } from '../fields/values.ts';
import { mergeMarks, sameMarks } from './marks.ts';
import type { Description } from '../exchange/collection.ts';
import { policyKindOf, type Policies } from './policies.ts';

export type Side = 'here' | 'there' | 'both';
/** What somebody has chosen for a line: a side, both joined, or that it stays as it is. */
export type Choice = Side | 'leave';

export interface Sides {
  field: string;
  /** As it would stand there. */
  here: FieldValue;
  /** As it is here, with where it comes from. */
  held: Held | null;
  there: FieldValue;
  /** At the last sync; undefined: they were never compared. */
  base: FieldValue | undefined;
  /** Here is more than could stand there. */
  lossy: boolean;
  /** When it was changed there, where that is known. */
  changedThere?: string | undefined;
}

export interface Decision {
  group: 'same' | 'clash' | 'out' | 'in' | 'left';
  /** Whose value both have in the end; null: each keeps its own. */
  will: Side | null;
  options: Choice[];
  /** Why, where that is not plain from the sides. */
  reason: string | null;
}

export const sameHereAndThere = (field: string, a: FieldValue | undefined, b: FieldValue | undefined): boolean =>
  sameValue(a ?? null, b ?? null) || (field === 'cues' && sameMarks(marksOf(a), marksOf(b)));

/** Texts, names and marks of both sides can be joined. */
export function joined(field: string, { here, there, base }: Pick<Sides, 'here' | 'there' | 'base'>): FieldValue {
  if (field === 'cues') return marksValue(mergeMarks(marksOf(base), marksOf(here), marksOf(there)).here);
  if (Array.isArray(here) || Array.isArray(there)) return [...new Set([here ?? [], there ?? []].flat() as string[])];
  if (typeof here === 'number' || typeof there === 'number') {
    const [a, b] = [Number(here ?? 0), Number(there ?? 0)];
    return base === undefined ? Math.max(a, b) : Math.max(0, a + b - Number(base ?? 0));
  }
  const [a, b] = [String(here ?? ''), String(there ?? '')];
  if (field === 'lastUsed') return a > b ? a : b;
  if (a.includes(b)) return a || null;
  return b.includes(a) ? b : `${a}; ${b}`;
}

const JOINED = new Set(['comment', 'genre', 'moods', 'cues']);
const left = (reason: string | null, options: Choice[]): Decision => ({ group: 'left', will: null, options, reason });

/** A cover goes there and never comes from there: what somebody has put there in place of ours is theirs. */
function coverDecision({ here, there, base }: Sides, { direction, removals }: Policies): Decision {
  const options: Choice[] = ['here', 'leave'];
  if (!isEmpty(there) && !sameValue(there, base ?? null)) return left('a picture of its own', options);
  if (isEmpty(here) && !removals) return left('emptied here', options);
  // Somebody has taken ours off there, and here it is the same still.
  if (isEmpty(there) && !isEmpty(base ?? null) && sameValue(here, base ?? null) && !removals)
    return left('emptied there', options);
  if (direction === 'from there') return left('only taken from there', options);
  return { group: 'out', will: 'here', options, reason: null };
}

/** What becomes of a field, without anybody having chosen. */
function proposed(sides: Sides, about: Description, policies: Policies): Decision {
  const { field, here, held, there, base, lossy } = sides;
  if (field === 'cover') return coverDecision(sides, policies);
  const options: Choice[] = held?.locked ? ['here', 'leave'] : ['here', 'there', 'leave'];
  if (JOINED.has(field) && !held?.locked) options.splice(2, 0, 'both');
  const to = (group: 'out' | 'in', reason: string | null = null): Decision => ({
    group,
    will: group === 'out' ? 'here' : 'there',
    options,
    reason,
  });
  const clash = (reason: string | null = null): Decision => ({ group: 'clash', will: null, options, reason });
  const { counted, measured: foundThere } = about.fields[field] ?? {};
  const policy = policies[policyKindOf(field)];
  if (counted) return { group: 'in', will: 'both', options, reason: 'counted there' };
  const past = base !== undefined;
  const mine = past && !sameHereAndThere(field, here, base),
    theirs = past && !sameHereAndThere(field, there, base);
  const oneWay = (group: 'out' | 'in'): Decision => {
    const emptied = isEmpty(group === 'out' ? here : there);
    if (emptied && !policies.removals) return left(group === 'out' ? 'emptied here' : 'emptied there', options);
    if (policy === 'fill gaps' && !isEmpty(group === 'out' ? there : here))
      return left('only gaps are filled', options);
    if (group === 'out')
      return policies.direction === 'from there' ? left('only taken from there', options) : to('out');
    if (policies.direction === 'to there')
      return policies.removals ? to('out', 'made like here') : left('only given there', options);
    if (held?.locked) return left('locked here', options);
    return lossy ? clash('here is more than it can hold') : to('in');
  };
  if (past && !mine && theirs) return oneWay('in');
  if (past && mine && !theirs) return oneWay('out');
  if (!past && isEmpty(here)) return oneWay('in');
  if (!past && isEmpty(there)) return oneWay('out');
  // Both have changed it, or they were never compared.
  const typed = held?.locked ? 'locked here' : held?.origin === 'typed' ? 'typed here' : null;
  // In another library it may have been typed as well.
  if (held?.locked || (typed && !about.readOnly && (foundThere || !past))) return { ...oneWay('out'), reason: typed };
  if (past && held?.origin === 'analysis' && !foundThere) return { ...oneWay('in'), reason: 'measured here' };
  if (field === 'cues' && mergeMarks(marksOf(base), marksOf(here), marksOf(there)).clashes.length === 0)
    return { group: 'in', will: 'both', options, reason: 'cues of both' };
  if (policy === 'here') return oneWay('out');
  if (policy === 'there') return oneWay('in');
  if (policy === 'fill gaps') return left('only gaps are filled', options);
  if (policy === 'newer' && sides.changedThere && held)
    return { ...oneWay(sides.changedThere > held.at ? 'in' : 'out'), reason: 'changed later' };
  return clash();
}

/** Of what is only read nothing goes there. */
const readable = (decision: Decision, { readOnly }: Description): Decision =>
  readOnly ? { ...decision, options: decision.options.filter((o) => o !== 'here') } : decision;

/** What becomes of a field: as somebody has chosen, else by the policies. */
export function decide(sides: Sides, about: Description, policies: Policies, choice?: Choice): Decision {
  if (sameHereAndThere(sides.field, sides.here, sides.there))
    return { group: 'same', will: null, options: [], reason: null };
  const decision = readable(proposed(sides, about, policies), about);
  if (choice === undefined || !decision.options.includes(choice)) return decision;
  // What was asked about stays where it is asked about, so that another choice can be made there.
  return { ...decision, will: choice === 'leave' ? null : choice };
}
