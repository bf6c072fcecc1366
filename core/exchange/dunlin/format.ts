/**
 * The data of Dunlin: a CSV of tracks and a JSON Lines file of crates; its paths are relative to its data folder
 * (standins/dunlin/README.md).
 */
import { marksOf, marksValue, type Mark } from '../../fields/marks.ts';
import { splitList, type FieldValue } from '../../fields/values.ts';
import { relativePath } from '../../files/paths.ts';
import {
  NO_CHANGES,
  type Collection,
  type DataFiles,
  type Description,
  type Format,
  type OtherChanges,
  type OtherList,
  type OtherTrack,
  type KeyTable,
} from '../collection.ts';
import { readCsv, writeCsv, type Row } from '../csvTable.ts';
import { numberIn, readJsonLines, textIn, writeJsonLines } from '../jsonLines.ts';
import { wholePath } from '../locations.ts';
import { LaterTrack } from '../laterTrack.ts';
import { KEY_SPELLINGS, readKey, scaled, spellKey, starsOf } from '../spelling.ts';

const CUES = 4;
const RATING = 255;

export const DESCRIPTION: Description = {
  kind: 'dunlin',
  name: 'Dunlin',
  what: 'performance program',
  fields: {
    title: { maxLength: 200 },
    artist: { maxLength: 200 },
    album: { maxLength: 200 },
    genre: { maxLength: 100 },
    year: {},
    comment: { maxLength: 250 },
    bpm: { decimals: 1, measured: true },
    key: { measured: true },
    rating: { scale: RATING },
    timesUsed: { counted: true },
  },
  keys: KEY_SPELLINGS['A minor'],
  cues: { max: CUES, names: true, colours: null },
  loops: null,
  grid: false,
  lists: { kind: 'crate', depth: 3, maxName: 40, repeats: false, folders: false },
  paths: 'relative to its data folder',
  keepsTimes: false,
  decoderOffset: {},
  mustBeClosed: true,
  covers: { maxPixels: 500 },
  ownCopies: false,
};

const TRACKS = 'tracks.csv';
const CRATES = 'crates.jsonl';
const CUE_COLUMNS = Array.from({ length: CUES }, (_, i) => `cue ${i + 1}`);
const COLUMNS = [
  ...['path', 'title', 'artist', 'album', 'genre', 'year', 'bpm', 'key', 'rating', 'comment', 'length', 'plays'],
  ...CUE_COLUMNS,
  'cover',
];
const TEXTS = ['title', 'album', 'comment'] as const;
const SEVERAL = ['artist', 'genre'] as const;

/** Pictures that come from here are named by their contents. */
const OWN_PICTURE = /^([0-9a-f]{40})\.png$/;
const pictureName = (cover: string): string => (/^[0-9a-f]{40}$/.test(cover) ? `${cover}.png` : cover);

/** "12.345 Drop" → a cue. */
function readCue(text: string): Mark[] {
  const found = /^\s*(\d+(?:\.\d+)?)(?:\s+(.*\S))?\s*$/.exec(text);
  return found ? [{ at: Number(found[1]), ...(found[2] ? { name: found[2] } : {}) }] : [];
}

function readValues(row: Row, keys: KeyTable): OtherTrack['values'] {
  const values: Record<string, FieldValue> = {};
  for (const field of TEXTS) values[field] = textIn(row[field]);
  for (const field of SEVERAL) {
    const several = splitList(row[field] ?? '');
    values[field] = several.length ? several : null;
  }
  for (const field of ['year', 'bpm'] as const) values[field] = numberIn(row[field]);
  const key = textIn(row.key),
    rating = numberIn(row.rating);
  values.key = key && readKey(key, keys);
  values.rating = rating === null ? null : starsOf(rating, RATING) || null;
  values.timesUsed = numberIn(row.plays) || null;
  values.durationSeconds = numberIn(row.length);
  values.cover = textIn(row.cover)?.replace(OWN_PICTURE, '$1') ?? null;
  values.cues = marksValue(CUE_COLUMNS.flatMap((c) => readCue(row[c] ?? '')).sort((a, b) => a.at - b.at));
  return values;
}

interface Crate {
  id: string;
  parent: string | null;
  name: string;
  tracks: string[];
  raw: Record<string, unknown>;
}

function readCrates(text: string, problems: Collection['problems']): Crate[] {
  return readJsonLines(text).flatMap(({ line, value }): Crate[] => {
    const id = value && textIn(value.id);
    if (!value || !id) {
      problems.push({ where: `${CRATES}, line ${line}`, reason: 'it is no crate' });
      return [];
    }
    const tracks = Array.isArray(value.tracks) ? value.tracks.flatMap((t) => textIn(t) ?? []) : [];
    return [{ id, parent: textIn(value.parent), name: textIn(value.name) ?? 'untitled', tracks, raw: value }];
  });
}

/** Names of the crates in which one lies, the topmost first. */
function placeOf(crate: Crate, byId: ReadonlyMap<string, Crate>): string[] {
  const names: string[] = [];
  const seen = new Set([crate.id]);
  for (let at = crate.parent; at !== null && !seen.has(at); at = byId.get(at)?.parent ?? null) {
    seen.add(at);
    const parent = byId.get(at);
    if (parent) names.unshift(parent.name);
  }
  return names;
}

/** Crates that only hold others: places, as folders are. */
function onlyPlaces(crates: readonly Crate[]): Set<string> {
  const parents = new Set(crates.map((c) => c.parent));
  return new Set(crates.filter((c) => c.tracks.length === 0 && parents.has(c.id)).map((c) => c.id));
}

function read(files: DataFiles, folder: string, keys: KeyTable = DESCRIPTION.keys): Collection {
  const { rows, problems } = readCsv(files.get(TRACKS) ?? '', TRACKS, COLUMNS);
  const seen = new Set<string>();
  const reader = { values: (row: Row) => readValues(row, keys), times: () => ({}) };
  const tracks = rows.flatMap((row, i): OtherTrack[] => {
    const path = row.path?.trim();
    if (!path || seen.has(path)) {
      problems.push({
        where: `${TRACKS}, line ${i + 2}`,
        reason: path ? `${path} is there already` : 'it has no path',
      });
      return [];
    }
    seen.add(path);
    const own = { ...row, path };
    return [new LaterTrack(path, wholePath(folder, path), Object.values(own).join('\n'), own, reader)];
  });
  const crates = readCrates(files.get(CRATES) ?? '', problems);
  const byId = new Map(crates.map((c) => [c.id, c]));
  const places = onlyPlaces(crates);
  const lists = crates.flatMap((crate): OtherList[] => {
    if (places.has(crate.id)) return [];
    const trackIds = crate.tracks.filter((t) => {
      const there = seen.has(t);
      if (!there) problems.push({ where: `${CRATES}, ${crate.name}`, reason: `${t} is no track of the collection` });
      return there;
    });
    return [{ id: crate.id, name: crate.name, place: placeOf(crate, byId), trackIds }];
  });
  return { tracks, lists, problems };
}

function patched(row: Row, values: Record<string, FieldValue>, keys: KeyTable): Row {
  const next = { ...row };
  const put = (column: string, value: FieldValue): void => void (next[column] = value === null ? '' : String(value));
  for (const field of [...TEXTS, 'year', 'bpm'] as const) if (field in values) put(field, values[field]!);
  for (const field of SEVERAL)
    if (field in values) put(field, values[field] ? [values[field]].flat().join('; ') : null);
  if ('key' in values) put('key', values.key && spellKey(String(values.key), keys));
  if ('rating' in values) put('rating', values.rating === null ? null : scaled(Number(values.rating), RATING));
  if ('timesUsed' in values) put('plays', values.timesUsed!);
  if ('durationSeconds' in values) put('length', values.durationSeconds!);
  if ('cover' in values) put('cover', values.cover && pictureName(String(values.cover)));
  if ('cues' in values) {
    const marks = marksOf(values.cues);
    for (const [i, column] of CUE_COLUMNS.entries()) {
      const mark = marks[i];
      put(column, mark ? [mark.at.toFixed(3), mark.name ?? ''].join(' ').trim() : null);
    }
  }
  return next;
}

function write(
  files: DataFiles,
  changes: OtherChanges,
  folder: string,
  _at: string,
  keys: KeyTable = DESCRIPTION.keys,
): Map<string, string | null> {
  const { tracks, newTracks, lists, newLists, removedLists } = { ...NO_CHANGES, ...changes };
  const out = new Map<string, string | null>();
  const table = readCsv(files.get(TRACKS) ?? '', TRACKS, COLUMNS);
  // What cannot be read would be lost with the rewriting of the rest.
  for (const { where, reason } of table.problems) throw new RangeError(`${where}: ${reason}`);
  const edits = new Map(tracks.map((t) => [t.id, t]));
  /** A track is known by its path: where its file has moved, it has another name from now on. */
  const renamed = new Map<string, string>();
  const rows = table.rows.map((row) => {
    const id = row.path!.trim();
    const edit = edits.get(id);
    if (!edit) return row;
    const path = edit.path === undefined ? id : relativePath(folder, edit.path);
    renamed.set(id, path);
    return { ...patched(row, edit.values, keys), path };
  });
  const empty = Object.fromEntries(table.columns.map((c) => [c, '']));
  for (const { id, values } of newTracks) rows.push({ ...patched(empty, values, keys), path: id });
  if (tracks.length || newTracks.length) out.set(TRACKS, writeCsv(table.columns, rows));
  const moved = [...renamed].some(([was, is]) => was !== is);
  if (moved || lists.length || newLists.length || removedLists.length)
    out.set(
      CRATES,
      writeCrates(files, { lists, newLists, removedLists }, (id) => renamed.get(id) ?? id),
    );
  return out;
}

function writeCrates(
  files: DataFiles,
  { lists, newLists, removedLists }: Pick<OtherChanges, 'lists' | 'newLists' | 'removedLists'>,
  nameOf: (trackId: string) => string,
): string {
  let crates = readCrates(files.get(CRATES) ?? '', []);
  const taken = new Set([...crates.map((c) => c.id), ...newLists.map((l) => l.id)]);
  /** The crate in which something is to lie, made where it is not there. */
  const parentFor = (place: readonly string[]): string | null => {
    let parent: string | null = null;
    for (const name of place) {
      let found: Crate | undefined = crates.find((c) => c.parent === parent && c.name === name);
      if (!found) {
        found = { id: newListId(taken), parent, name, tracks: [], raw: {} };
        taken.add(found.id);
        crates.push(found);
      }
      parent = found.id;
    }
    return parent;
  };
  const places = onlyPlaces(crates);
  const edited = lists.flatMap((edit) => crates.filter((c) => c.id === edit.id).map((crate) => ({ crate, edit })));
  // Names first: what lies in a crate of another name is looked for under that.
  for (const { crate, edit } of edited) {
    crate.name = edit.name ?? crate.name;
    crate.tracks = edit.trackIds ?? crate.tracks;
  }
  for (const { crate, edit } of edited) if (edit.place !== undefined) crate.parent = parentFor(edit.place);
  for (const { id, name, place, trackIds } of [...newLists].sort((a, b) => a.place.length - b.place.length))
    crates.push({ id, name, parent: parentFor(place), tracks: trackIds, raw: {} });
  const gone = new Set(removedLists);
  for (const crate of crates) {
    // What lies in a crate that goes comes to lie where that lay.
    while (crate.parent !== null && gone.has(crate.parent)) {
      const above: string = crate.parent;
      crate.parent = crates.find((c) => c.id === above)?.parent ?? null;
    }
  }
  crates = crates.filter((c) => !gone.has(c.id));
  // A place in which nothing lies any more goes.
  for (let size = -1; size !== crates.length;) {
    size = crates.length;
    const parents = new Set(crates.map((c) => c.parent));
    crates = crates.filter((c) => !places.has(c.id) || parents.has(c.id) || c.tracks.length > 0);
  }
  const unread = readJsonLines(files.get(CRATES) ?? '').filter(({ value }) => !value || !textIn(value.id));
  return writeJsonLines([
    ...crates.map(({ id, parent, name, tracks, raw }) =>
      JSON.stringify({ ...raw, id, parent, name, tracks: tracks.map(nameOf) }),
    ),
    ...unread.map((line) => line.text),
  ]);
}

function newListId(taken: ReadonlySet<string>): string {
  for (let n = taken.size + 1; ; n++) if (!taken.has(`c${n}`)) return `c${n}`;
}

export const DUNLIN: Format = {
  describe: DESCRIPTION,
  read,
  write,
  newTrackId: (path, _taken, folder) => relativePath(folder, path),
  movedId: (path, folder) => relativePath(folder, path),
  newListId,
};
