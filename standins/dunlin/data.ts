/** Dunlin's data: read as it reads them, and what it refuses of them. */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { isAbsolute, join } from 'node:path';

export type Row = Record<string, string>;

export interface Crate {
  id: string;
  parent: string | null;
  name: string;
  tracks: string[];
}

export interface Data {
  columns: string[];
  tracks: Row[];
  crates: Crate[];
  /** What it refuses, as sentences. */
  refused: string[];
}

const MAX_COMMENT = 250,
  MAX_NAME = 40,
  MAX_DEPTH = 3;
const KEY = /^[A-G](?:#|b)? (?:major|minor)$/;
const CUE = /^\d+(?:\.\d+)?(?: .+)?$/;

/** Rows of a CSV by RFC 4180. @throws where a quote does not end */
export function readCsv(text: string): string[][] {
  const rows: string[][] = [];
  let row: string[] = [],
    cell = '',
    quoted = false;
  const endCell = (): void => {
    row.push(cell);
    cell = '';
  };
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (quoted) {
      if (c === '"' && text[i + 1] === '"') cell += text[++i]!;
      else if (c === '"') quoted = false;
      else cell += c;
    } else if (c === '"') quoted = true;
    else if (c === ',') endCell();
    else if (c === '\n') {
      endCell();
      rows.push(row);
      row = [];
    } else if (c !== '\r') cell += c;
  }
  if (quoted) throw new RangeError('a quote does not end');
  if (cell !== '' || row.length > 0) {
    endCell();
    rows.push(row);
  }
  return rows;
}

const quotedCell = (cell: string): string => (/[",\n\r]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell);

export const writeTracks = (data: string, columns: readonly string[], tracks: readonly Row[]): void =>
  writeFileSync(
    join(data, 'tracks.csv'),
    [columns, ...tracks.map((t) => columns.map((c) => t[c] ?? ''))]
      .map((cells) => `${cells.map(quotedCell).join(',')}\n`)
      .join(''),
  );

export const writeCrates = (data: string, crates: readonly Crate[]): void =>
  writeFileSync(join(data, 'crates.jsonl'), crates.map((c) => `${JSON.stringify(c)}\n`).join(''));

const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
const MAX_PIXELS = 500;

/** What is wrong with a picture of its own; null when nothing is. */
function wrongWithPicture(file: string): string | null {
  if (!existsSync(file)) return 'is not there';
  const data = readFileSync(file);
  if (data.length < 24 || !data.subarray(0, 8).equals(PNG)) return 'is no PNG';
  // Width and height stand in the first chunk (PNG, third edition, 11.2.1).
  return Math.max(data.readUInt32BE(16), data.readUInt32BE(20)) > MAX_PIXELS ? 'is too large' : null;
}

/** What is wrong with a track; null when nothing is. */
function wrongWith(track: Row, wrongWithCover: (name: string) => string | null): string | null {
  const path = track.path ?? '';
  if (path === '') return 'a track without a path';
  if (isAbsolute(path) || path.startsWith('file:')) return `${path}: paths are relative`;
  if ((track.comment ?? '').length > MAX_COMMENT)
    return `${path}: its comment is longer than ${MAX_COMMENT} characters`;
  if (track.key && !KEY.test(track.key)) return `${path}: "${track.key}" is no key`;
  if (track.bpm && !(Number(track.bpm) > 0)) return `${path}: "${track.bpm}" is no tempo`;
  const rating = Number(track.rating ?? 0);
  if (!Number.isInteger(rating) || rating < 0 || rating > 255) return `${path}: its rating lies between 0 and 255`;
  const picture = track.cover ? wrongWithCover(track.cover) : null;
  if (picture !== null) return `${path}: its cover ${track.cover} ${picture}`;
  const cue = [1, 2, 3, 4].map((n) => track[`cue ${n}`] ?? '').find((text) => text !== '' && !CUE.test(text));
  return cue === undefined ? null : `${path}: "${cue}" is no cue`;
}

/**
 * Reads the data as Dunlin does when it is opened.
 * @param as where they will lie, when they are checked in another place
 */
export function readData(data: string, as = data): Data {
  const refused: string[] = [];
  const file = join(data, 'tracks.csv');
  if (!existsSync(file)) return { columns: [], tracks: [], crates: [], refused: ['there is no tracks.csv'] };
  let rows: string[][] = [];
  try {
    rows = readCsv(readFileSync(file, 'utf8').replace(/^\uFEFF/, ''));
  } catch (error) {
    refused.push(`tracks.csv: ${(error as Error).message}`);
  }
  const [columns = [], ...lines] = rows;
  const pictures = new Map<string, string | null>();
  const wrongWithCover = (name: string): string | null => {
    if (!pictures.has(name)) pictures.set(name, wrongWithPicture(join(as, '../covers', name)));
    return pictures.get(name)!;
  };
  const paths = new Set<string>();
  const tracks = lines.map((line, i) => {
    if (line.length !== columns.length) refused.push(`tracks.csv, line ${i + 2}: ${line.length} cells`);
    const track = Object.fromEntries(columns.map((c, n) => [c, line[n] ?? '']));
    const wrong = wrongWith(track, wrongWithCover);
    if (wrong !== null) refused.push(wrong);
    if (paths.has(track.path!)) refused.push(`${track.path} is there twice`);
    else if (!existsSync(join(as, track.path!))) refused.push(`${track.path}: there is no such file`);
    paths.add(track.path!);
    return track;
  });
  return { columns, tracks, crates: readCrates(data, paths, refused), refused };
}

function readCrates(data: string, paths: ReadonlySet<string>, refused: string[]): Crate[] {
  const file = join(data, 'crates.jsonl');
  if (!existsSync(file)) return [];
  const crates: Crate[] = [];
  for (const [i, line] of readFileSync(file, 'utf8').split('\n').entries()) {
    if (!line.trim()) continue;
    try {
      crates.push(JSON.parse(line) as Crate);
    } catch {
      refused.push(`crates.jsonl, line ${i + 1}: no JSON`);
    }
  }
  const byId = new Map(crates.map((c) => [c.id, c]));
  if (byId.size < crates.length) refused.push('two crates have one id');
  for (const { id, parent, name, tracks } of crates) {
    if (name.length === 0 || name.length > MAX_NAME) refused.push(`${name}: a name has 1 to ${MAX_NAME} characters`);
    if (parent !== null && !byId.has(parent)) refused.push(`${name}: the crate it lies in is not there`);
    let depth = 1;
    for (let at = parent; at !== null && depth <= crates.length; at = byId.get(at)?.parent ?? null) depth++;
    if (depth > MAX_DEPTH) refused.push(`${name}: crates lie at most ${MAX_DEPTH} deep`);
    if (new Set(tracks).size < tracks.length) refused.push(`${name} (${id}): a track is in it twice`);
    for (const track of tracks) if (!paths.has(track)) refused.push(`${name}: ${track} is no track`);
  }
  return crates;
}
