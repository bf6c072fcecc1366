/** A library in memory and a program's data beside it, compared and made alike, edited on either side. */
import type { Collection, DataFiles, Format } from '../exchange/collection.ts';
import { PROGRAMS } from '../exchange/programs.ts';
import type { FieldValue } from '../fields/values.ts';
import { compare, NO_PAST, type Comparison, type Past } from '../sync/compare.ts';
import type { HereList } from '../sync/compareLists.ts';
import type { Choices } from '../sync/compareTracks.ts';
import { DEFAULT_POLICIES, type Policies } from '../sync/policies.ts';
import { applyHere, applyThere, finish, FOLDER, hereTrack, type TestHere } from './collections.ts';

export interface Both {
  here: TestHere;
  files: DataFiles;
  past: Past;
}
export const ALL: Policies = { ...DEFAULT_POLICIES, tracks: 'all' };
export const PLOVER = PROGRAMS.plover!;

export const look = (format: Format, { here, files, past }: Both, policies = ALL, choices: Choices = {}): Comparison =>
  finish(
    compare({ here, past, format, folder: FOLDER, maps: [], policies, choices, there: format.read(files, FOLDER) }),
    here,
  );
export function sync(format: Format, both: Both, policies = ALL, choices: Choices = {}): Both {
  const comparison = look(format, both, policies, choices);
  const after = applyHere(both.here, comparison);
  return { here: after.here, past: after.past, files: applyThere(format, both.files, comparison) };
}
export const library = (all: Record<string, FieldValue>[], lists: HereList[] = []): TestHere => ({
  tracks: all.map((values, i) => hereTrack(i + 1, values)),
  lists,
  others: new Set(),
});
export const list = (id: string, name: string, trackIds: number[], more: Partial<HereList> = {}): HereList => ({
  ...{ id, name, place: [], trackIds, fillsItself: false, once: false },
  ...more,
});
export const start = (here: TestHere): Both => ({ here, files: new Map(), past: NO_PAST });
export const there = (format: Format, both: Both): Collection => format.read(both.files, FOLDER);
/** Somebody edits a track there. */
export const editThere = (format: Format, both: Both, at: number, values: Record<string, FieldValue>): Both => {
  const { id } = there(format, both).tracks[at]!;
  const changes = { tracks: [{ id, values }], newTracks: [], lists: [], newLists: [], removedLists: [] };
  return { ...both, files: applyThere(format, both.files, { there: changes }) };
};
export const editHere = (both: Both, at: number, values: Record<string, FieldValue>): Both => ({
  ...both,
  here: {
    ...both.here,
    tracks: both.here.tracks.map((t, i) => (i === at ? hereTrack(t.id, { ...t.values, ...values }) : t)),
  },
});
export const value = (both: Both, at: number, field: string): FieldValue => both.here.tracks[at]!.values[field] ?? null;
