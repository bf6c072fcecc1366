/** What the tests of adapters and of syncing share: made-up collections, and a library in memory. */
import fc from 'fast-check';
import type { Collection, DataFiles, Format } from '../exchange/collection.ts';
import { ALL_KEYS } from '../fields/keys.ts';
import { MARK_COLOURS, marksValue, readMarks, type Mark } from '../fields/marks.ts';
import type { FieldValue, Held, Origin, TrackValues } from '../fields/values.ts';
import type { Ask, Told } from '../sync/ask.ts';
import type { Comparison, Here } from '../sync/compare.ts';
import type { HereList } from '../sync/compareLists.ts';
import type { HereTrack } from '../sync/compareTracks.ts';

export const FOLDER = '/srv/programs/one/data';
export const AT = '2026-11-29T10:00:00Z';

const word = fc.constantFrom(
  'Kelp',
  'Øre',
  'harbour',
  '潮',
  'No. 5',
  'a & b',
  '"quoted"',
  "it's",
  'x,y',
  '<tide>',
  '#1',
);
const name = fc.array(word, { minLength: 1, maxLength: 3 }).map((words) => words.join(' '));
const orNull = <T>(value: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(value, { nil: null });
const mark: fc.Arbitrary<Mark> = fc.record(
  {
    at: fc.integer({ min: 0, max: 300_000 }).map((ms) => ms / 1000),
    name: name,
    colour: fc.constantFrom(...MARK_COLOURS),
  },
  { requiredKeys: ['at'] },
);
/** Cues and loops that lie apart: two at one place are one to most programs. */
export const marks: fc.Arbitrary<FieldValue> = fc
  .tuple(
    fc.uniqueArray(mark, { selector: (m) => Math.round(m.at * 100), maxLength: 12 }),
    fc.array(fc.nat(60_000), { maxLength: 3 }),
  )
  .map(([list, lengths]) => {
    const read = readMarks(list.map((m, i) => (lengths[i] ? { ...m, end: m.at + lengths[i] / 1000 + 0.01 } : m)));
    return marksValue(read as Mark[]);
  });

/** Values of a track as the desk holds them. */
export const trackValues: fc.Arbitrary<Record<string, FieldValue>> = fc.record({
  title: orNull(name),
  cover: orNull(fc.constantFrom<FieldValue>('a1'.repeat(20), 'b2'.repeat(20))),
  version: orNull(name),
  artist: orNull(fc.uniqueArray(name, { minLength: 1, maxLength: 3 })),
  album: orNull(name),
  genre: orNull(fc.uniqueArray(name, { minLength: 1, maxLength: 2 })),
  label: orNull(name),
  year: orNull(fc.integer({ min: 1950, max: 2030 })),
  comment: orNull(fc.array(word, { minLength: 1, maxLength: 80 }).map((w) => w.join(' '))),
  bpm: orNull(fc.integer({ min: 6000, max: 20_000 }).map((n) => n / 100)),
  key: orNull(fc.constantFrom<FieldValue>(...ALL_KEYS)),
  energy: orNull(fc.integer({ min: 0, max: 100 })),
  rating: orNull(fc.integer({ min: 1, max: 5 })),
  timesUsed: orNull(fc.integer({ min: 1, max: 500 })),
  moods: orNull(fc.uniqueArray(name, { minLength: 1, maxLength: 2 })),
  cues: marks,
  gridStartSeconds: orNull(fc.integer({ min: 0, max: 9000 }).map((ms) => ms / 1000)),
  beatsPerBar: orNull(fc.constantFrom(3, 4)),
});

const held = (value: FieldValue | undefined, origin: Origin): Held | null =>
  value === null || value === undefined ? null : { value, origin, at: AT, locked: false };

/** A track of the library, with where its values come from. */
export interface TestTrack extends HereTrack {
  values: TrackValues;
  held: (field: string) => Held | null;
  sound?: string;
}
export interface TestHere extends Here {
  tracks: TestTrack[];
}

export const hereTrack = (id: number, values: Record<string, FieldValue>, origin: Origin = 'typed'): TestTrack => ({
  id,
  name: String(values.title ?? `track ${id}`),
  values: { durationSeconds: 200 + id, format: 'FLAC', ...values },
  held: (field) => held(values[field], origin),
  path: `/srv/music/${id}.flac`,
});

/** The library with prints, as a database makes them. */
export const printed = (here: TestHere): TestHere => ({
  ...here,
  tracks: here.tracks.map((t) => ({ ...t, print: JSON.stringify(t.values) })),
});

/** Names of crates that may be made on the way. */
let made = 0;

/** The library after what a comparison says for it; new lists get their ids, which stand in what both said, too. */
export function applyHere(
  here: TestHere,
  comparison: Comparison,
  past = comparison.past,
): { here: TestHere; past: Comparison['past'] } {
  const fields = new Map(comparison.here.fields.map((f) => [f.trackId, f.values]));
  const tracks = here.tracks.map((t): TestTrack => {
    const values = fields.get(t.id);
    if (!values) return t;
    const next = { ...t.values, ...values };
    return {
      ...t,
      values: next,
      held: (field) => (field in values ? held(values[field], 'destination') : t.held(field)),
    };
  });
  const changes = new Map(comparison.here.lists.map((l) => [l.listId, l.change]));
  const lists = here.lists.flatMap((l): HereList[] => {
    const change = changes.get(l.id);
    if (change?.removed) return [];
    return [{ ...l, ...change }];
  });
  const ids = new Map<string, string>();
  for (const { otherId, name: called, place, trackIds } of comparison.here.newLists) {
    const id = `made-${++made}`;
    ids.set(otherId, id);
    lists.push({ id, name: called, place, trackIds, fillsItself: false, once: false });
  }
  return {
    here: { ...here, tracks, lists },
    past: { ...past, lists: past.lists.map((l) => (l.listId ? l : { ...l, listId: ids.get(l.otherId)! })) },
  };
}

/** The data after what is to be written there. */
export function applyThere(
  format: Format,
  files: DataFiles,
  { there }: Pick<Comparison, 'there'>,
): Map<string, string> {
  const next = new Map(files);
  for (const [file, text] of format.write(files, there, FOLDER, AT))
    if (text === null) next.delete(file);
    else next.set(file, text);
  return next;
}

/** Runs a comparison with a library to its end. @param told counts of what tracks were asked */
export function finish<T>(steps: Generator<Ask, T, Told>, { tracks }: TestHere, told = { values: 0 }): T {
  const byId = new Map(tracks.map((t) => [t.id, t]));
  const answer: Told = {
    values: (trackId) => byId.get(trackId)!.values,
    held: (trackId, field) => byId.get(trackId)?.held(field) ?? null,
    withSound: (sound) => tracks.flatMap((t) => (t.sound === sound ? t.id : [])),
  };
  for (;;) {
    const { done, value } = steps.next(answer);
    if (done) return value;
    if (value.what === 'values') told.values += value.ids.length;
  }
}

export const tracksById = ({ tracks }: Collection): Map<string, Collection['tracks'][number]> =>
  new Map(tracks.map((t) => [t.id, t]));
