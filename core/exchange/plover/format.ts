/**
 * The data of Plover: one JSON Lines file of tracks, one XSPF for each playlist, in folders
 * (standins/plover/README.md).
 */
import { MARK_COLOURS, marksOf, marksValue, type Mark } from '../../fields/marks.ts';
import { keptDate, splitList, type FieldValue } from '../../fields/values.ts';
import { safeFileName } from '../../files/paths.ts';
import {
  NO_CHANGES,
  type Collection,
  type DataFiles,
  type Description,
  type Format,
  type OtherChanges,
  type OtherTrack,
  type KeyTable,
} from '../collection.ts';
import { jsonLines, numberIn, objectOf, readJsonLines, textIn, writeJsonLines } from '../jsonLines.ts';
import { LaterTrack, type TrackReader } from '../laterTrack.ts';
import { percentEncode, readLocation } from '../locations.ts';
import { KEY_SPELLINGS, readEnergy, readKey, spellKey, withEnergy } from '../spelling.ts';
import { readPlaylist, writePlaylist } from './playlist.ts';

const COLOURS = ['orange', 'green', 'yellow', 'blue', 'red', 'grey'];

export const DESCRIPTION: Description = {
  kind: 'plover',
  name: 'Plover',
  what: 'performance program',
  fields: {
    title: {},
    version: {},
    artist: {},
    album: {},
    genre: {},
    label: {},
    year: {},
    comment: {},
    bpm: { decimals: 2 },
    key: {},
    energy: { inComment: true },
    rating: { scale: 5 },
    timesUsed: { counted: true },
    lastUsed: { counted: true },
  },
  keys: KEY_SPELLINGS['Am, F#m'],
  cues: { max: 8, names: true, colours: Object.fromEntries(MARK_COLOURS.map((own, i) => [own, COLOURS[i]!])) },
  loops: { max: 4 },
  grid: true,
  lists: { kind: 'playlist', depth: null, maxName: 120, repeats: true, folders: true },
  paths: 'file:// addresses, whole paths',
  keepsTimes: true,
  decoderOffset: { mp3: 0.025 },
  mustBeClosed: true,
  covers: null,
  ownCopies: false,
};

const TRACKS = 'tracks.jsonl';
const LISTS = 'lists/';

/** Names of its own for our fields. */
const TEXTS = { title: 'title', version: 'version', album: 'album', label: 'label' } as const;
const SEVERAL = { artist: 'artist', genre: 'genre' } as const;
const NUMBERS = { year: 'year', bpm: 'bpm', rating: 'stars', timesUsed: 'played' } as const;
const AS_THEY_ARE = Object.entries({ ...TEXTS, ...NUMBERS });
const OF_SEVERAL = Object.entries(SEVERAL);

const seconds = (ms: number): number => Math.round(ms) / 1000;
const colourHere = (theirs: unknown): string | undefined => {
  const at = COLOURS.indexOf(String(theirs));
  return at < 0 ? undefined : MARK_COLOURS[at];
};

function readMark(raw: unknown, offset: number): Mark[] {
  if (typeof raw !== 'object' || raw === null) return [];
  const { at, to, name, colour } = raw as Record<string, unknown>;
  const from = numberIn(at),
    end = numberIn(to);
  if (from === null) return [];
  const text = textIn(name),
    own = colourHere(colour);
  const mark: Mark = { at: Math.max(0, seconds(from - offset * 1000)) };
  if (end !== null) mark.end = Math.max(0, seconds(end - offset * 1000));
  if (text) mark.name = text;
  if (own) mark.colour = own;
  return [mark];
}

const offsetOf = (location: string): number =>
  DESCRIPTION.decoderOffset[/\.([a-z0-9]+)$/i.exec(location)?.[1]?.toLowerCase() ?? ''] ?? 0;

function readTrack(text: string, raw: Record<string, unknown>, reader: TrackReader<string>): OtherTrack | string {
  const id = textIn(raw.id),
    path = readLocation(textIn(raw.location) ?? '', true);
  if (!id) return 'it has no id';
  if (!path) return 'it says nowhere where its file lies';
  return new LaterTrack(id, path, text, text, reader);
}

const readerWith = (keys: KeyTable): TrackReader<string> => ({
  values: (text, path) => readValues(objectOf(text)!, path, keys),
  times: (text) => readTimes(objectOf(text)!),
});

function readValues(raw: Record<string, unknown>, path: string, keys: KeyTable): OtherTrack['values'] {
  const offset = offsetOf(path);
  const { energy, comment } = readEnergy(textIn(raw.comment));
  const key = textIn(raw.key),
    grid = (raw.grid ?? {}) as Record<string, unknown>,
    first = numberIn(grid.first);
  const marks = [raw.cues, raw.loops].flatMap((list) => (Array.isArray(list) ? list : []));
  // Each property by itself: of a large collection, spreading takes longer than everything else.
  return {
    comment,
    energy,
    title: textIn(raw.title),
    version: textIn(raw.version),
    artist: splitOrNull(textIn(raw.artist)),
    album: textIn(raw.album),
    genre: splitOrNull(textIn(raw.genre)),
    label: textIn(raw.label),
    year: numberIn(raw.year),
    bpm: numberIn(raw.bpm),
    key: key && readKey(key, keys),
    rating: numberIn(raw.stars) || null,
    timesUsed: numberIn(raw.played) || null,
    lastUsed: dayOf(textIn(raw.lastPlayed)),
    durationSeconds: numberIn(raw.length),
    cues: marks.length ? marksValue(marks.flatMap((mark) => readMark(mark, offset)).sort((a, b) => a.at - b.at)) : null,
    gridStartSeconds: first === null ? null : Math.max(0, seconds(first - offset * 1000)),
    beatsPerBar: numberIn(grid.beats),
  };
}

function readTimes({ changed }: Record<string, unknown>): OtherTrack['times'] {
  const times: OtherTrack['times'] = {};
  if (typeof changed !== 'object' || changed === null) return times;
  for (const [field, at] of Object.entries(changed)) if (typeof at === 'string') times[field] = at;
  return times;
}

function dayOf(text: string | null): string | null {
  if (text === null) return null;
  const at = new Date(text);
  return Number.isNaN(at.getTime()) ? null : keptDate(at);
}

const splitOrNull = (text: string | null): string[] | null => {
  const list = text ? splitList(text) : [];
  return list.length ? list : null;
};

/** Puts values of ours into a track as Plover keeps it. */
function patched(
  raw: Record<string, unknown>,
  values: Record<string, FieldValue>,
  location: string,
  at: string,
  keys: KeyTable,
): Record<string, unknown> {
  const next: Record<string, unknown> = { ...raw };
  const put = (name: string, value: unknown): void => {
    if (value !== null && value !== undefined) next[name] = value;
    else if (name in next) delete next[name];
  };
  const offset = offsetOf(location);
  const there = (own: number): number => Math.round((own + offset) * 1000);
  for (const [field, name] of AS_THEY_ARE) if (field in values) put(name, values[field]);
  for (const [field, name] of OF_SEVERAL)
    if (field in values) put(name, values[field] === null ? null : [values[field]].flat().join('; '));
  if ('key' in values) put('key', values.key === null ? null : spellKey(String(values.key), keys));
  if ('lastUsed' in values) put('lastPlayed', values.lastUsed);
  if ('durationSeconds' in values) put('length', values.durationSeconds);
  if ('comment' in values || 'energy' in values) {
    const was = readEnergy(textIn(raw.comment));
    const energy = 'energy' in values ? values.energy : was.energy,
      comment = 'comment' in values ? values.comment : was.comment;
    put('comment', withEnergy(energy as number | null, comment as string | null) || null);
  }
  if ('cues' in values) {
    const marks = marksOf(values.cues).map((m) => ({
      at: there(m.at),
      ...(m.end === undefined ? {} : { to: there(m.end) }),
      ...(m.name === undefined ? {} : { name: m.name }),
      ...(m.colour === undefined ? {} : { colour: DESCRIPTION.cues!.colours![m.colour] }),
    }));
    put(
      'cues',
      marks.filter((m) => !('to' in m)),
    );
    put(
      'loops',
      marks.filter((m) => 'to' in m),
    );
  }
  if ('gridStartSeconds' in values || 'beatsPerBar' in values) {
    const grid = { ...(raw.grid as Record<string, unknown> | undefined) };
    const set = (name: string, value: unknown): void => {
      if (value === null) delete grid[name];
      else grid[name] = value;
    };
    if ('gridStartSeconds' in values)
      set('first', values.gridStartSeconds === null ? null : there(values.gridStartSeconds as number));
    if ('beatsPerBar' in values) set('beats', values.beatsPerBar);
    put('grid', Object.keys(grid).length ? grid : null);
  }
  const changed = { ...(raw.changed as Record<string, unknown> | undefined) };
  // Of a new track only what it says.
  const told = Object.keys(values).filter((f) => f !== 'durationSeconds' && f !== 'format');
  for (const field of told) if (values[field] !== null || raw.changed !== undefined) changed[field] = at;
  if (Object.keys(changed).length) next.changed = changed;
  return next;
}

const locationOf = (path: string): string => `file://${path.startsWith('/') ? '' : '/'}${percentEncode(path)}`;

function read(files: DataFiles, _folder?: string, keys: KeyTable = DESCRIPTION.keys): Collection {
  const out: Collection = { tracks: [], lists: [], problems: [] };
  const problem = (where: string, reason: string): number => out.problems.push({ where, reason });
  const seen = new Set<string>(),
    reader = readerWith(keys);
  for (const { line, text, value } of jsonLines(files.get(TRACKS) ?? '')) {
    const track = value ? readTrack(text, value, reader) : 'it cannot be read';
    if (typeof track === 'string') problem(`${TRACKS}, line ${line}`, track);
    else if (seen.has(track.id)) problem(`${TRACKS}, line ${line}`, `the id ${track.id} is there already`);
    else {
      seen.add(track.id);
      out.tracks.push(track);
    }
  }
  const byLocation = new Map(out.tracks.map((t) => [t.path.normalize('NFC'), t.id]));
  for (const name of [...files.keys()].filter(isList).sort()) {
    const list = readPlaylist(files.get(name)!);
    if (typeof list === 'string') {
      problem(name, list);
      continue;
    }
    const trackIds = list.locations.flatMap((location) => {
      const path = readLocation(location, true)?.normalize('NFC');
      const id = path === undefined ? undefined : byLocation.get(path);
      if (id === undefined) problem(name, `${location} is no track of the collection`);
      return id ?? [];
    });
    const place = name.slice(LISTS.length).split('/').slice(0, -1);
    out.lists.push({
      id: list.id ?? name,
      name:
        list.title ??
        name
          .split('/')
          .at(-1)!
          .replace(/\.xspf$/i, ''),
      place,
      trackIds,
    });
  }
  return out;
}

const isList = (name: string): boolean => name.startsWith(LISTS) && /\.xspf$/i.test(name);

function write(
  files: DataFiles,
  changes: OtherChanges,
  _folder: string,
  at: string,
  keys: KeyTable = DESCRIPTION.keys,
): Map<string, string | null> {
  const out = new Map<string, string | null>();
  const { tracks, newTracks, lists, newLists, removedLists } = { ...NO_CHANGES, ...changes };
  const edits = new Map(tracks.map((t) => [t.id, t]));
  const pathOf = new Map<string, string>();
  const lines = readJsonLines(files.get(TRACKS) ?? '').map(({ text, value }) => {
    const id = value && textIn(value.id);
    if (!value || !id) return text;
    const edit = edits.get(id);
    const location = edit?.path === undefined ? (textIn(value.location) ?? '') : locationOf(edit.path);
    pathOf.set(id, location);
    if (!edit) return text;
    return JSON.stringify(patched({ ...value, location }, edit.values, location, at, keys));
  });
  for (const { id, path, values } of newTracks) {
    const location = locationOf(path);
    pathOf.set(id, location);
    lines.push(JSON.stringify(patched({ id, location, added: at }, values, location, at, keys)));
  }
  if (tracks.length || newTracks.length) out.set(TRACKS, writeJsonLines(lines));
  writeLists({ files, lists, newLists, removedLists, pathOf, moved: tracks.some((t) => t.path !== undefined) }, out);
  return out;
}

function writeLists(
  {
    files,
    lists,
    newLists,
    removedLists,
    pathOf,
    moved,
  }: Pick<OtherChanges, 'lists' | 'newLists' | 'removedLists'> & {
    files: DataFiles;
    pathOf: ReadonlyMap<string, string>;
    moved: boolean;
  },
  out: Map<string, string | null>,
): void {
  const former = read(files);
  const nameOf = new Map<string, string>();
  for (const name of [...files.keys()].filter(isList).sort()) {
    const list = readPlaylist(files.get(name)!);
    if (typeof list !== 'string') nameOf.set(list.id ?? name, name);
  }
  const names = new Set([...files.keys()].map((n) => n.toLowerCase()));
  const free = (name: string): void => void names.delete(name.toLowerCase());
  const fileFor = (title: string, place: readonly string[]): string => {
    const start = [LISTS.slice(0, -1), ...place.map((p) => safeFileName(p)), safeFileName(title)].join('/');
    for (let n = 1; ; n++) {
      const name = `${start}${n === 1 ? '' : ` ${n}`}.xspf`;
      if (names.has(name.toLowerCase())) continue;
      names.add(name.toLowerCase());
      return name;
    }
  };
  const text = (id: string, title: string, trackIds: readonly string[], was: string | null = null): string =>
    writePlaylist({ id, title, locations: trackIds.flatMap((t) => pathOf.get(t) ?? []) }, was);
  for (const id of removedLists) {
    const name = nameOf.get(id);
    if (name === undefined) continue;
    out.set(name, null);
    free(name);
  }
  const edits = new Map(lists.map((l) => [l.id, l]));
  for (const list of former.lists) {
    const edit = edits.get(list.id);
    if ((!edit && !moved) || removedLists.includes(list.id)) continue;
    const { name: title, place, trackIds } = { ...list, ...edit };
    const was = nameOf.get(list.id)!;
    const elsewhere = title !== list.name || place.join('\n') !== list.place.join('\n');
    if (elsewhere) free(was);
    const now = elsewhere ? fileFor(title, place) : was;
    if (now !== was) out.set(was, null);
    out.set(now, text(list.id, title, trackIds, files.get(was) ?? null));
  }
  for (const list of newLists) out.set(fileFor(list.name, list.place), text(list.id, list.name, list.trackIds));
}

export const PLOVER: Format = {
  describe: DESCRIPTION,
  read,
  write,
  newTrackId(_path, taken) {
    for (let n = taken.size + 1; ; n++) {
      const id = `p-${String(n).padStart(6, '0')}`;
      if (!taken.has(id)) return id;
    }
  },
  newListId(taken) {
    for (let n = taken.size + 1; ; n++) {
      const id = `urn:plover:list:${n}`;
      if (!taken.has(id)) return id;
    }
  },
};
