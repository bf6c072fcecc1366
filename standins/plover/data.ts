/** Plover's data: read as it reads them, and what it refuses of them. */
import { existsSync, readdirSync, readFileSync, writeFileSync, mkdirSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';

export interface Mark {
  at: number;
  to?: number;
  name?: string;
  colour?: string;
}

export interface Track {
  id: string;
  location: string;
  title?: string;
  artist?: string;
  bpm?: number;
  key?: string;
  stars?: number;
  comment?: string;
  played?: number;
  lastPlayed?: string;
  length?: number;
  cues?: Mark[];
  loops?: Mark[];
  grid?: { first?: number; beats?: number };
  changed?: Record<string, string>;
}

export interface Playlist {
  /** Below "lists", with forward slashes. */
  file: string;
  title: string;
  identifier: string;
  locations: string[];
}

export interface Data {
  tracks: Track[];
  lists: Playlist[];
  /** What it refuses, as sentences. */
  refused: string[];
}

const MAX_CUES = 8,
  MAX_LOOPS = 4;
const COLOURS = ['orange', 'green', 'yellow', 'blue', 'red', 'grey'];
const KEY = /^[A-G](?:#|b)?m?$/;

const unescaped = (text: string): string =>
  text.replace(
    /&(lt|gt|quot|apos|amp);/g,
    (_, n: string) => ({ lt: '<', gt: '>', quot: '"', apos: "'", amp: '&' })[n]!,
  );
const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

function filesBelow(folder: string, below = ''): string[] {
  if (!existsSync(join(folder, below))) return [];
  return readdirSync(join(folder, below), { withFileTypes: true })
    .flatMap((e) => (e.isDirectory() ? filesBelow(folder, join(below, e.name)) : [join(below, e.name)]))
    .sort();
}

/** What is wrong with a track; null when nothing is. */
function wrongWith(track: Partial<Track>): string | null {
  if (!track.id) return 'a track without an id';
  if (!track.location?.startsWith('file:///')) return `${track.id}: its location is no file address`;
  if (/[^\x21-\x7e]/.test(track.location)) return `${track.id}: its location is not escaped`;
  if (track.key !== undefined && !KEY.test(track.key)) return `${track.id}: "${track.key}" is no key`;
  if (track.stars !== undefined && ![1, 2, 3, 4, 5].includes(track.stars)) return `${track.id}: stars from 1 to 5`;
  if ((track.cues?.length ?? 0) > MAX_CUES) return `${track.id}: more than ${MAX_CUES} cues`;
  if ((track.loops?.length ?? 0) > MAX_LOOPS) return `${track.id}: more than ${MAX_LOOPS} loops`;
  for (const mark of [...(track.cues ?? []), ...(track.loops ?? [])]) {
    if (!Number.isInteger(mark.at) || mark.at < 0) return `${track.id}: a mark lies at whole milliseconds`;
    if (mark.to !== undefined && mark.to <= mark.at) return `${track.id}: a loop ends after it begins`;
    if (mark.colour !== undefined && !COLOURS.includes(mark.colour))
      return `${track.id}: "${mark.colour}" is no colour`;
  }
  return null;
}

function readPlaylist(file: string, text: string, refused: string[]): Playlist | null {
  const title = /<title>([^<]*)<\/title>/.exec(text)?.[1],
    identifier = /<identifier>([^<]+)<\/identifier>/.exec(text)?.[1];
  if (title === undefined || !/<\/playlist>\s*$/.test(text)) {
    refused.push(`lists/${file}: no whole playlist`);
    return null;
  }
  if (identifier === undefined) refused.push(`lists/${file}: no identifier`);
  return {
    file,
    title: unescaped(title),
    identifier: unescaped(identifier ?? ''),
    locations: [...text.matchAll(/<location>([^<]*)<\/location>/g)].map((m) => unescaped(m[1]!)),
  };
}

/** Reads a collection as Plover does when it is opened. */
export function readData(data: string): Data {
  const refused: string[] = [];
  const tracks: Track[] = [];
  const file = join(data, 'tracks.jsonl');
  if (!existsSync(file)) return { tracks, lists: [], refused: ['there is no tracks.jsonl'] };
  const text = readFileSync(file, 'utf8');
  if (text !== '' && !text.endsWith('\n')) refused.push('tracks.jsonl breaks off');
  const ids = new Set<string>(),
    locations = new Set<string>();
  for (const [i, line] of text.split('\n').entries()) {
    if (!line.trim()) continue;
    try {
      const track = JSON.parse(line) as Track;
      const wrong = wrongWith(track);
      if (wrong !== null) refused.push(wrong);
      if (ids.has(track.id)) refused.push(`${track.id} is there twice`);
      if (locations.has(track.location)) refused.push(`${track.location} is there twice`);
      ids.add(track.id);
      locations.add(track.location);
      tracks.push(track);
    } catch {
      refused.push(`tracks.jsonl, line ${i + 1}: no JSON`);
    }
  }
  const folder = join(data, 'lists');
  const identifiers = new Set<string>();
  const lists = filesBelow(folder).flatMap((name): Playlist[] => {
    if (!name.endsWith('.xspf')) return [];
    const list = readPlaylist(name, readFileSync(join(folder, name), 'utf8'), refused);
    if (!list) return [];
    if (identifiers.has(list.identifier)) refused.push(`lists/${name}: its identifier is another list's`);
    identifiers.add(list.identifier);
    for (const location of list.locations)
      if (!locations.has(location)) refused.push(`lists/${name}: ${location} is no track`);
    return [list];
  });
  return { tracks, lists, refused };
}

export const writeTracks = (data: string, tracks: readonly Track[]): void =>
  writeFileSync(join(data, 'tracks.jsonl'), tracks.map((t) => `${JSON.stringify(t)}\n`).join(''));

export function writeList(data: string, { file, title, identifier, locations }: Playlist): void {
  const path = join(data, 'lists', file);
  mkdirSync(dirname(path), { recursive: true });
  const tracks = locations.map((l) => `    <track><location>${escaped(l)}</location></track>`).join('\n');
  writeFileSync(
    path,
    `<?xml version="1.0" encoding="UTF-8"?>\n<playlist version="1" xmlns="http://xspf.org/ns/0/">\n` +
      `  <title>${escaped(title)}</title>\n  <identifier>${escaped(identifier)}</identifier>\n  <trackList>\n` +
      `${tracks}\n  </trackList>\n</playlist>\n`,
  );
}

export const removeList = (data: string, file: string): void => rmSync(join(data, 'lists', file));
