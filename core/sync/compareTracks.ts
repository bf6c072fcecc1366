/** Tracks of the library beside those of a destination, field by field. */
import { marksOf, marksValue, type Mark } from '../fields/marks.ts';
import { isEmpty, sameValue, type FieldValue, type Held, type TrackValues } from '../fields/values.ts';
import { decide, joined, sameHereAndThere, type Choice, type Decision, type Side } from './decide.ts';
import type { Description, OtherTrack } from '../exchange/collection.ts';
import { canKeepBoth, mergeMarks, sameMarks, type MarkChoice, type MarkClash } from './marks.ts';
import type { Policies } from './policies.ts';
import { placedFields, storable, takenMarks, type Loss, type Storable } from './store.ts';

/** A track as it is here; what it says is asked for where that has to be known. */
export interface HereTrack {
  id: number;
  name: string;
  /** Whole path of its file as the destination would find it; null where it is not there. */
  path: string | null;
  /** Another one as soon as anything that is compared has changed; without it, it is compared in full each time. */
  print?: string;
}

/** Where a value here comes from, and when it was set. */
export type HeldOf = (trackId: number, field: string) => Held | null;
/** What a track here says. */
export type ValuesOf = (trackId: number) => TrackValues;

/** What both said of a track at the last sync: a missing field was never agreed on. */
export interface TrackPast {
  trackId: number;
  otherId: string;
  values: Record<string, FieldValue>;
}

export interface Line {
  /** The same for the same thing, however often it is compared. */
  id: string;
  what: 'track' | 'list';
  trackId: number | null;
  listId: string | null;
  otherId: string | null;
  /** Of the track or list. */
  name: string;
  /** A field's id, or 'file' (where it lies), 'track' (all of it), 'list', 'name', 'place', 'order'. */
  field: string;
  here: FieldValue;
  there: FieldValue;
  base: FieldValue;
  group: Exclude<Decision['group'], 'same'>;
  will: Side | null;
  /** What both say in the end, where both sides are joined. */
  joined: FieldValue;
  options: Choice[];
  reason: string | null;
}

export type Choices = Readonly<Record<string, Choice>>;

/** What comes of a comparison of one track. */
export interface ComparedTrack {
  lines: Line[];
  /** Values for here, as they will be. */
  here: Record<string, FieldValue>;
  /** Values for there. */
  there: Record<string, FieldValue>;
  /** Where its file lies by now; null where it need not be told. */
  path: string | null;
  /** What both say once this is done. */
  past: TrackPast;
  /** What of it has no place there. */
  losses: Loss[];
}

/** Is a path another one? Programs write letters composed or not. */
export const samePath = (a: string, b: string): boolean => a === b || a.normalize('NFC') === b.normalize('NFC');

/** A track beside itself, before anything is decided: what it would be there, and which fields differ. */
export interface BesideItself {
  here: HereTrack;
  values: TrackValues;
  there: OtherTrack;
  past: TrackPast | undefined;
  stored: Storable;
  differs: string[];
}

/** Cues that have the first claim to the room of a destination: those that stand there, then those that stood there. */
const claims = (there: OtherTrack, past: TrackPast | undefined): FieldValue[] => [
  there.values.cues ?? null,
  past?.values.cues ?? null,
];

/** Which fields differ; most tracks have none. */
export function besideItself(
  here: HereTrack,
  values: TrackValues,
  there: OtherTrack,
  past: TrackPast | undefined,
  about: Description,
): BesideItself {
  const stored = storable(values, about, claims(there, past));
  const differs = placedFields(about).filter((f) => !sameHereAndThere(f, stored.values[f], there.values[f]));
  return { here, values, there, past, stored, differs };
}

/** What both said, where nothing differs: the same record as before where it says so already. */
function agreed({ here, there, past, differs }: BesideItself, about: Description): TrackPast {
  const fields = placedFields(about);
  const as = (field: string): FieldValue => there.values[field] ?? null;
  if (past && differs.length === 0 && fields.every((f) => f in past.values && sameValue(past.values[f], as(f))))
    return past;
  const values = { ...past?.values };
  for (const field of fields) if (!differs.includes(field)) values[field] = as(field);
  return { trackId: here.id, otherId: there.id, values };
}

const NONE: ReadonlySet<string> = new Set();
const NOT_ASKED: TrackPast = { trackId: 0, otherId: '', values: {} };

/**
 * @param held where a value here comes from; asked for fields that differ only
 * @param linesOnly nobody asks what both say in the end
 */
export function compareTrack(
  beside: BesideItself,
  held: HeldOf,
  about: Description,
  policies: Policies,
  choices: Choices,
  linesOnly = false,
): ComparedTrack {
  const { here, values, there, past, stored, differs } = beside;
  const of: ComparedTrack = {
    lines: [],
    here: {},
    there: {},
    path: null,
    past: linesOnly && differs.length === 0 ? NOT_ASKED : agreed(beside, about),
    losses: stored.losses,
  };
  const lossy = differs.length > 0 ? new Set(stored.losses.map((l) => l.field)) : NONE;
  const line: AddLine = (field, more, part = '') =>
    of.lines.push({
      ...{ id: `t:${here.id}:${field}${part}`, what: 'track', trackId: here.id, listId: null, otherId: there.id },
      ...{ name: here.name, field, ...more },
    });
  for (const field of differs) {
    const sides = {
      field,
      here: stored.values[field] ?? null,
      held: held(here.id, field),
      there: there.values[field] ?? null,
      base: past?.values[field],
      lossy: lossy.has(field) && field !== 'cues',
      changedThere: there.times[field],
    };
    const { group, will, options, reason } = decide(sides, about, policies, choices[`t:${here.id}:${field}`]);
    if (field === 'cues' && group === 'clash') {
      compareCues(beside, about, (part) => choices[`t:${here.id}:cues${part}`], of, line);
      continue;
    }
    const both = joined(field, sides);
    if (will === 'here') of.there[field] = sides.here;
    if (will === 'there' || will === 'both') {
      const value = will === 'both' ? both : sides.there;
      if (field === 'cues') of.here.cues = takenMarks(values.cues ?? null, marksOf(sides.here), value, about);
      else of.here[field] = isEmpty(value) ? null : value;
      const becomes = { ...values, [field]: of.here[field] ?? null };
      // Further cues of this side may find a place there that has become free.
      const claimed = claims(there, past);
      const next = storable(becomes, about, claimed).values[field] ?? null;
      if (!sameHereAndThere(field, next, sides.there)) of.there[field] = next;
    }
    if (will !== null) of.past.values[field] = field in of.there ? of.there[field]! : sides.there;
    line(field, {
      ...{ here: sides.here, there: sides.there, base: sides.base ?? null },
      ...{ group: group as Line['group'], will, joined: both, options, reason },
    });
  }
  if (here.path !== null && !samePath(here.path, there.path) && policies.direction !== 'from there') {
    of.path = here.path;
    line('file', {
      ...{ here: here.path, there: there.path, base: null, group: 'out', will: 'here' },
      ...{ joined: null, options: [], reason: 'the path follows, cues stay' },
    });
  }
  return of;
}

/** Adds a line. @param part what of the field it is about, where that is not all of it */
type AddLine = (
  field: string,
  more: Omit<Line, 'id' | 'what' | 'trackId' | 'listId' | 'otherId' | 'name' | 'field'>,
  part?: string,
) => void;

/** Cues that both sides have changed: what does not clash is joined, each one that does is asked about. */
function compareCues(
  { values, there, past, stored }: BesideItself,
  about: Description,
  choiceOf: (part: string) => Choice | undefined,
  of: ComparedTrack,
  line: AddLine,
): void {
  const sides = { here: stored.values.cues ?? null, there: there.values.cues ?? null, base: past?.values.cues ?? null };
  const [base, mine, theirs] = [sides.base, sides.here, sides.there].map(marksOf) as [Mark[], Mark[], Mark[]];
  const partOf = ({ key }: MarkClash): string => `:${key}`;
  const optionsFor = (clash: MarkClash): Choice[] => [
    ...(about.readOnly ? [] : (['here'] as const)),
    'there',
    ...(canKeepBoth(clash) ? (['both'] as const) : []),
    'leave',
  ];
  const chosen = (clash: MarkClash): MarkChoice => {
    const choice = choiceOf(partOf(clash));
    return choice === undefined || choice === 'leave' || !optionsFor(clash).includes(choice) ? null : choice;
  };
  const byItself = mergeMarks(base, mine, theirs);
  if (!sameMarks(byItself.here, mine) || !sameMarks(byItself.there, theirs))
    line('cues', {
      ...{ ...sides, group: 'in', will: 'both', joined: marksValue(byItself.here), options: [] },
      reason: 'cues of both',
    });
  const { clashes, ...merged } = mergeMarks(base, mine, theirs, chosen);
  const one = (mark: Mark | null): FieldValue => mark && marksValue([mark]);
  for (const clash of clashes)
    line(
      'cues',
      {
        ...{ here: one(clash.here), there: one(clash.there), base: one(clash.base), group: 'clash' },
        ...{ will: chosen(clash), options: optionsFor(clash), reason: null },
        joined: marksValue([clash.here, clash.there].filter((m) => m !== null)),
      },
      partOf(clash),
    );
  const taken = (marks: readonly Mark[]): FieldValue => takenMarks(values.cues ?? null, mine, marksValue(marks), about);
  if (!sameMarks(merged.here, mine)) of.here.cues = taken(merged.here);
  // Further cues of this side may find a place there that has become free.
  const next = storable({ ...values, cues: taken(merged.there) }, about, claims(there, past)).values.cues ?? null;
  if (!sameHereAndThere('cues', next, sides.there)) of.there.cues = next;
  const open = clashes.filter((clash) => chosen(clash) === null);
  if (open.length === clashes.length && !('cues' in of.here) && !('cues' in of.there)) return;
  const agreedOn = marksOf(next).filter((mark) => !open.some((o) => o.there && sameMarks([o.there], [mark])));
  of.past.values.cues = marksValue([...agreedOn, ...open.flatMap((o) => o.base ?? [])]);
}

export interface LossGroup {
  /** Under which it is kept as accepted. */
  id: string;
  field: string;
  reason: string;
  tracks: number;
  /** Some of them. */
  names: string[];
}

const NAMED = 5;

/** What cannot be stored there, told once for each field and reason. */
export class Losses {
  readonly #groups = new Map<string, LossGroup>();
  readonly #shared = new Map<string, Loss[]>();

  add(name: string, losses: readonly Loss[]): void {
    for (const { field, reason } of losses) {
      const id = `${field}: ${reason}`;
      const group = this.#groups.get(id) ?? { id, field, reason, tracks: 0, names: [] };
      group.tracks++;
      if (group.names.length < NAMED) group.names.push(name);
      this.#groups.set(id, group);
    }
  }

  /** The same list of losses for all that lose the same. */
  shared(losses: Loss[]): Loss[] {
    const key = losses.map(({ field, reason }) => `${field}: ${reason}`).join('\n');
    const known = this.#shared.get(key);
    if (!known) this.#shared.set(key, losses);
    return known ?? losses;
  }

  all(): LossGroup[] {
    return [...this.#groups.values()].sort((a, b) => b.tracks - a.tracks);
  }
}
