/**
 * A bundle of another library (docs/formats/bundle.md) as a destination that is only read: its tracks with all that is
 * known of them, its crates and playlists.
 */
import { MARK_COLOURS } from '../../fields/marks.ts';
import { ALL_KEYS } from '../../fields/keys.ts';
import { keptDate, type FieldValue } from '../../fields/values.ts';
import { BUNDLED_FIELDS, GRID_FIELDS, saysNothing } from '../exchangedFields.ts';
import type { Collection, DataFiles, Description, Format, OtherList } from '../collection.ts';
import { jsonLines, numberIn, objectOf, textIn } from '../jsonLines.ts';
import { LaterTrack, type TrackReader } from '../laterTrack.ts';

const APART: ReadonlySet<string> = new Set(['cues', ...GRID_FIELDS]);
const MANY = 100_000;

export const DESCRIPTION: Description = {
  kind: 'bundle',
  name: 'Bundle',
  what: 'another library',
  readOnly: true,
  fields: {
    ...Object.fromEntries(BUNDLED_FIELDS.filter((field) => !APART.has(field)).map((field) => [field, {}])),
    // Of both libraries the later day, and the higher count.
    timesUsed: { counted: true },
    lastUsed: { counted: true },
  },
  keys: Object.fromEntries(ALL_KEYS.map((key) => [key, key])),
  cues: { max: MANY, names: true, colours: Object.fromEntries(MARK_COLOURS.map((colour) => [colour, colour])) },
  loops: { max: MANY },
  grid: true,
  lists: { kind: 'playlist', depth: null, maxName: 1000, repeats: true, folders: false },
  paths: 'whole paths of the other computer, or its own music',
  keepsTimes: true,
  decoderOffset: {},
  mustBeClosed: false,
  covers: null,
  ownCopies: false,
};

/** What of a bundle is read to compare it. */
export const COMPARED_PARTS = ['folders', 'files', 'tracks', 'lists', 'entries', 'music'] as const;
const file = (part: (typeof COMPARED_PARTS)[number]): string => `${part}.jsonl`;

/** Music that goes along lies here, by the number of its folder. */
export const MUSIC = 'music';
export const musicFolder = (bundle: string, folder: number): string => `${bundle}/${MUSIC}/${folder}`;

const DATES: ReadonlySet<string> = new Set(['lastUsed']);
const SAID = [...BUNDLED_FIELDS, 'durationSeconds', 'format'];

function valueOf(field: string, said: unknown): FieldValue {
  if (DATES.has(field) && typeof said === 'string') {
    const at = new Date(said);
    return Number.isNaN(at.getTime()) ? null : keptDate(at);
  }
  return saysNothing(field, said as FieldValue) ? null : (said as FieldValue);
}

const READER: TrackReader<string> = {
  values(text) {
    const said = (objectOf(text)!.values ?? {}) as Record<string, unknown>;
    return Object.fromEntries(SAID.map((field) => [field, valueOf(field, said[field] ?? null)]));
  },
  times(text) {
    const origins = (objectOf(text)!.origins ?? {}) as Record<string, { at?: unknown } | null>;
    const times: Record<string, string> = {};
    for (const [field, origin] of Object.entries(origins)) if (typeof origin?.at === 'string') times[field] = origin.at;
    return times;
  },
};

class BundledTrack extends LaterTrack<string> {
  readonly sound?: string;

  constructor(id: string, path: string, text: string, sound: string | null) {
    super(id, path, text, text, READER);
    if (sound !== null) this.sound = sound;
  }
}

/** Where the file of a track lies there, and the hash of its sound. */
interface MainFile {
  path: string;
  sound: string | null;
}

function filesOf(texts: DataFiles, folder: string): Map<string, MainFile> {
  const folders = new Map<string, string>();
  for (const { value } of jsonLines(texts.get(file('folders')) ?? ''))
    if (value) folders.set(String(value.id), String(value.path));
  const along = new Set<string>();
  for (const { value } of jsonLines(texts.get(file('music')) ?? '')) if (value) along.add(String(value.trackId));
  const files = new Map<string, MainFile>();
  for (const { value } of jsonLines(texts.get(file('files')) ?? '')) {
    if (value?.role !== 'main') continue;
    const [id, root] = [String(value.trackId), String(value.rootId)];
    const where = along.has(id) ? musicFolder(folder, Number(root)) : folders.get(root);
    if (where !== undefined) files.set(id, { path: `${where}/${String(value.path)}`, sound: textIn(value.audioHash) });
  }
  return files;
}

function listsOf(texts: DataFiles): OtherList[] {
  const all = new Map<string, Record<string, unknown>>();
  const holdsOthers = new Set<string>();
  for (const { value } of jsonLines(texts.get(file('lists')) ?? ''))
    if (value) {
      all.set(String(value.id), value);
      if (value.removed !== true) holdsOthers.add(String(value.parentId));
    }
  const entries = new Map<string, { at: number; trackId: string }[]>();
  for (const { value } of jsonLines(texts.get(file('entries')) ?? '')) {
    if (!value || value.kind !== 'track' || value.trackId === null) continue;
    const of = entries.get(String(value.listId)) ?? [];
    of.push({ at: numberIn(value.position) ?? 0, trackId: String(value.trackId) });
    entries.set(String(value.listId), of);
  }
  const above = (list: Record<string, unknown>): Record<string, unknown>[] => {
    const path: Record<string, unknown>[] = [];
    const seen = new Set<unknown>([list]);
    for (let up = all.get(String(list.parentId)); up && !seen.has(up); up = all.get(String(up.parentId))) {
      seen.add(up);
      path.unshift(up);
    }
    return path;
  };
  const lists = [...all.values()].flatMap((list): OtherList[] => {
    const { kind, name, rule, mirror, mirrorOf } = list;
    // What fills itself there fills itself from the tracks; it is no list of chosen ones.
    if ((kind !== 'crate' && kind !== 'playlist') || ![rule, mirror, mirrorOf].every(isNothing)) return [];
    const id = String(list.id),
      path = above(list);
    // A crate that only holds others is a place.
    if ([list, ...path].some((l) => l.removed === true) || (!entries.has(id) && holdsOthers.has(id))) return [];
    const trackIds = (entries.get(id) ?? []).sort((a, b) => a.at - b.at).map((entry) => entry.trackId);
    return [{ id, kind, name: String(name), place: path.map((l) => String(l.name)), trackIds }];
  });
  // A crate before what lies in it, so that it is not made on the way and then once more.
  return lists.sort((a, b) => a.place.length - b.place.length);
}
const isNothing = (value: unknown): boolean => value === null || value === undefined;

function read(texts: DataFiles, folder: string): Collection {
  const out: Collection = { tracks: [], lists: listsOf(texts), problems: [] };
  const files = filesOf(texts, folder);
  for (const { line, text, value } of jsonLines(texts.get(file('tracks')) ?? '')) {
    const id = value && textIn(value.id);
    const main = id ? files.get(id) : undefined;
    if (id && main) out.tracks.push(new BundledTrack(id, main.path, text, main.sound));
    else out.problems.push({ where: `${file('tracks')}, line ${line}`, reason: id ? NOWHERE : 'it cannot be read' });
  }
  return out;
}
const NOWHERE = 'it says nowhere where its file lies';

const only = (): never => {
  throw new RangeError('A bundle is only read');
};

export const BUNDLE: Format = { describe: DESCRIPTION, read, write: only, newTrackId: only, newListId: only };
