/**
 * Reads a bundle into an empty library. Everything is checked before anything is stored, and all of it is stored in
 * one transaction: broken off, the library is as empty as it was.
 */
import { existsSync } from 'node:fs';
import { stat } from 'node:fs/promises';
import { dirname, isAbsolute, join } from 'node:path';
import type { Client } from 'pg';
import type { BundlePart, Category, FolderPlace } from '@early-set/core/bundle/manifest';
import { mapPath, type PathMap } from '@early-set/core/relink/pathMap';
import { sayingWhere } from '../base/sayingWhere.ts';
import { summed, writeSummed } from '../base/hashed.ts';
import { batchesOf, linesOf } from '../base/lines.ts';
import { Problem } from '../base/problem.ts';
import { onDatabase } from '../db/dumps.ts';

import { layMusic, MUSIC_PART, NO_MUSIC, type MusicLaid } from './music.ts';
import { HOLDS, NOT_EMPTY } from './empty.ts';
import { camel, KEPT_FILES, TABLE_PARTS, type TablePart } from './parts.ts';
import type { Source } from './source.ts';
import { INSERT_ORIGINS, INSERT_TRACKS, rowOfLine, type TrackLine } from './tracksPart.ts';
import type { BundledFile } from './write.ts';

export interface ReadWish {
  categories: readonly Category[];
  /** Where its folders are here; the others keep their paths. */
  folders: readonly FolderPlace[];
  /** Music that goes along is copied into the folders that are here. */
  music?: boolean;
  /** A setting that is stored with all of it: who was killed just after it knows that it is done. */
  mark?: { name: string; value: object };
}
export interface ReadOptions {
  signal?: AbortSignal;
  tell?: (current: string, done: number, total: number) => Promise<void>;
}
export interface BundleRead {
  tracks: number;
  lists: number;
  /** Ids of folders that are where they are said to be. */
  here: number[];
  away: number[];
  music: MusicLaid;
}

const TRACKS_AT_ONCE = 500;
const TRACKS = 'tracks',
  KEPT = 'keptFiles';

/** @throws Problem when the library is not empty, or the bundle is not whole; nothing is stored then */
export async function readBundle(
  { databaseUrl, dataFolder }: { databaseUrl: string; dataFolder: string },
  source: Source,
  wish: ReadWish,
  { signal, tell }: ReadOptions = {},
): Promise<BundleRead> {
  const { manifest } = source;
  const had = new Set(manifest.categories);
  const categories = new Set<Category>(['tracks', ...wish.categories.filter((one) => had.has(one))]);
  const parts = new Map(manifest.parts.map((part) => [part.name, part]));
  const places = placesOf(manifest.folders, wish.folders);
  const step = async (words: string, done: number, total: number): Promise<void> => {
    signal?.throwIfAborted();
    await tell?.(words, done, total);
  };
  try {
    for (const [at, part] of manifest.parts.entries()) {
      await step('Checking the bundle', at, manifest.parts.length);
      await mustBeWhole(source, part, signal);
    }
    await onDatabase(databaseUrl, mustBeEmpty);
    const music = wish.music
      ? await layMusic(source, parts.get(MUSIC_PART), foldersHere(manifest.folders, places), step)
      : NO_MUSIC;
    await layFiles(source, parts.get(KEPT), dataFolder, categories, step);
    return await onDatabase(databaseUrl, async (client) => {
      await client.query('BEGIN');
      try {
        await client.query('LOCK TABLE tracks, lists, change_sets, dates IN SHARE ROW EXCLUSIVE MODE');
        await mustBeEmpty(client);
        const waiting = await makeRoom(client, categories);
        const total = parts.get(TRACKS)?.lines ?? 0;
        for (const part of TABLE_PARTS) {
          if (!categories.has(part.category)) continue;
          if (part.name === 'files') await readTracks(client, source, parts.get(TRACKS), categories, step);
          const there = parts.get(part.name);
          if (there) await readPart(client, source, part, there, { categories, places, step, total });
        }
        await client.query("SELECT setval('tracks_id_seq', GREATEST(1, (SELECT max(id) FROM tracks)))");
        await client.query("SELECT setval('tracks_playout_id_seq', GREATEST(1, (SELECT max(playout_id) FROM tracks)))");
        await putFoldersBack(client, waiting);
        const read = await endOf(client);
        if (wish.mark) await keepMark(client, wish.mark);
        signal?.throwIfAborted();
        await client.query('COMMIT');
        await client.query('ANALYZE');
        return { ...read, music };
      } catch (error) {
        await client.query('ROLLBACK').catch(() => undefined);
        throw error;
      }
    });
  } catch (error) {
    signal?.throwIfAborted();
    const code = (error as { code?: string }).code ?? '';
    // Data exceptions and integrity violations of SQL: what was read is not what it should be.
    if (/^2[23]\w{3}$/.test(code) || (error as Error).name === 'SyntaxError')
      throw new Problem(409, 'broken', `The bundle does not fit together: ${(error as Error).message}`);
    throw sayingWhere(error, dataFolder, 'the bundle was not read');
  }
}

/** Paths here of the folders there. @throws Problem when two would be one, or one is no whole path */
function placesOf(folders: readonly { id: number; path: string }[], wished: readonly FolderPlace[]): PathMap[] {
  const chosen = new Map(wished.map(({ id, path }) => [id, path]));
  const seen = new Set<string>();
  return folders.map(({ id, path }) => {
    const to = chosen.get(id) ?? path;
    if (!isAbsolute(to)) throw new Problem(400, 'bad-path', `${to} is no whole path`);
    if (seen.has(to)) throw new Problem(409, 'same-folder', `Two folders of the bundle would be ${to}`);
    seen.add(to);
    return { from: path, to };
  });
}

const foldersHere = (folders: readonly { id: number }[], places: readonly PathMap[]): FolderPlace[] =>
  folders.map(({ id }, at) => ({ id, path: places[at]!.to }));

/** @throws Problem when a part is missing, or not what was written */
export async function mustBeWhole(source: Source, part: BundlePart, signal?: AbortSignal): Promise<void> {
  const file = await source.open(`${part.name}.jsonl`);
  const { pieces, sha256 } = summed(file);
  try {
    while (!(await pieces.next()).done) signal?.throwIfAborted();
  } catch (error) {
    signal?.throwIfAborted();
    throw new Problem(409, 'broken', `${part.name}.jsonl cannot be read: ${(error as Error).message}`);
  } finally {
    await pieces.return(undefined); // the file is closed
  }
  if (sha256() !== part.sha256)
    throw new Problem(409, 'broken', `${part.name}.jsonl is not what was written into the bundle`);
}

async function mustBeEmpty(client: Client): Promise<void> {
  const { rows } = await client.query<{ holds: boolean }>(HOLDS);
  if (rows[0]!.holds) throw new Problem(409, 'not-empty', NOT_EMPTY);
  const { rows: running } = await client.query("SELECT 1 FROM runs WHERE state = 'running' AND kind = 'intake'");
  if (running.length > 0) throw new Problem(409, 'busy', 'A folder is being read; wait until that is done');
}

/** A folder that was taken in and has no track yet. */
interface WaitingFolder {
  path: string;
  label: string;
  purpose: string;
}

/**
 * Settings that the bundle brings make room, and so do folders: their ids are those of the bundle's.
 * @returns the folders, which come behind them again
 */
async function makeRoom(client: Client, categories: ReadonlySet<Category>): Promise<WaitingFolder[]> {
  const { rows } = await client.query<WaitingFolder>(
    'WITH gone AS (DELETE FROM roots RETURNING *) SELECT path, label, purpose FROM gone WHERE NOT removed ORDER BY id',
  );
  if (categories.has('settings')) await client.query("DELETE FROM settings WHERE name = 'desk'");
  await client.query('DELETE FROM arts');
  return rows;
}

async function putFoldersBack(client: Client, folders: readonly WaitingFolder[]): Promise<void> {
  for (const { path, label, purpose } of folders)
    await client.query('INSERT INTO roots (path, label, purpose) VALUES ($1, $2, $3) ON CONFLICT (path) DO NOTHING', [
      path,
      label,
      purpose,
    ]);
}

interface Reading {
  categories: ReadonlySet<Category>;
  places: readonly PathMap[];
  step: (words: string, done: number, total: number) => Promise<void>;
  total: number;
}

async function readTracks(
  client: Client,
  source: Source,
  part: BundlePart | undefined,
  categories: ReadonlySet<Category>,
  step: Reading['step'],
): Promise<void> {
  if (!part) return;
  const measured = categories.has('analyses'),
    hasCovers = categories.has('covers');
  let done = 0;
  for await (const batch of batchesOf(linesOf(await source.open(`${TRACKS}.jsonl`)), TRACKS_AT_ONCE)) {
    const lines = batch.map((line) => JSON.parse(line) as TrackLine);
    await client.query(INSERT_TRACKS, [JSON.stringify(lines.map((line) => rowOfLine(line, measured, hasCovers)))]);
    await client.query(INSERT_ORIGINS, [JSON.stringify(lines.map(({ id, origins }) => ({ id, origins })))]);
    done += batch.length;
    await step('Reading tracks', done, part.lines);
  }
}

async function readPart(
  client: Client,
  source: Source,
  part: TablePart,
  there: BundlePart,
  { categories, places, step, total }: Reading,
): Promise<void> {
  const file = `${part.name}.jsonl`;
  const types = await typesOf(client, part.table);
  const { insert, fill } = statementsOf(part, types);
  let done = 0;
  for await (const batch of batchesOf(linesOf(await source.open(file)), part.batch)) {
    const lines = LOOKED_AT.has(part.name) ? batch.map((line) => placed(part.name, line, places, categories)) : batch;
    if (part.bytes)
      for (const line of lines) await client.query({ name: part.name, text: insert, values: apart(line, part.bytes) });
    else await client.query(insert, [`[${lines.join(',')}]`]);
    done += batch.length;
    await step(`Reading ${part.name}`, Math.min(total, Math.round((done / there.lines) * total)), total);
  }
  if (fill)
    for await (const batch of batchesOf(linesOf(await source.open(file)), part.batch))
      await client.query(fill, [`[${batch.join(',')}]`]);
  if (part.sequence)
    await client.query(`SELECT setval('${part.sequence}', GREATEST(1, (SELECT max(id) FROM ${part.table})))`);
}

/** Parts in which paths of the other computer stand, by the name they have in lines. */
const PLACED: Readonly<Record<string, string>> = { folders: 'path', destinations: 'folder', sticks: 'folder' };
/** Parts that are not stored as they were said. */
const LOOKED_AT: ReadonlySet<string> = new Set([...Object.keys(PLACED), 'settings']);

/** A path of the other computer as it is here: below the nearest folder that it lies in; elsewhere as it was. */
function pathHere(path: string, places: readonly PathMap[]): string {
  const itself = places.find(({ from }) => from === path);
  if (itself) return itself.to;
  const nearest = [...places].sort((a, b) => b.from.length - a.from.length);
  return nearest.map((place) => mapPath(path, place)).find((mapped) => mapped !== null) ?? path;
}

function placed(part: string, line: string, places: readonly PathMap[], categories: ReadonlySet<Category>): string {
  const said = JSON.parse(line) as Record<string, unknown>;
  const name = PLACED[part];
  if (name) said[name] = pathHere(String(said[name]), places);
  // Where backups go is a matter of this computer.
  if (part === 'settings') said.value = { ...(said.value as object), backups: undefined };
  if (part === 'folders' && !categories.has('settings')) said.presetId = null;
  return JSON.stringify(said);
}

/** The types of a table's columns, as SQL writes them. */
async function typesOf(client: Client, table: string): Promise<Map<string, string>> {
  const { rows } = await client.query<{ name: string; type: string }>(
    `SELECT attname AS name, format_type(atttypid, atttypmod) AS type FROM pg_attribute
      WHERE attrelid = $1::regclass AND attnum > 0 AND NOT attisdropped`,
    [table],
  );
  return new Map(rows.map(({ name, type }) => [name, type]));
}

/** What stores lines, and what fills in afterwards what refers to rows of the same table. */
function statementsOf(
  { table, columns, bytes = [], later = [] }: TablePart,
  types: ReadonlyMap<string, string>,
): { insert: string; fill: string | null } {
  const shape = (of: readonly string[]): string =>
    of.map((column) => `"${camel(column)}" ${types.get(column)}`).join(', ');
  const valueOf = (column: string): string =>
    bytes.includes(column) ? `$${2 + bytes.indexOf(column)}::bytea` : `r."${camel(column)}"`;
  const first = columns.filter((column) => !later.includes(column));
  const insert = `INSERT INTO ${table} (${first.join(', ')}) SELECT ${first.map(valueOf).join(', ')}
    FROM jsonb_to_recordset($1::jsonb) AS r(${shape(first.filter((column) => !bytes.includes(column)))})`;
  if (later.length === 0) return { insert, fill: null };
  const fill = `UPDATE ${table} x SET ${later.map((column) => `${column} = ${valueOf(column)}`).join(', ')}
    FROM jsonb_to_recordset($1::jsonb) AS r(${shape(['id', ...later])})
    WHERE x.id = r.id AND (${later.map((column) => `${valueOf(column)} IS NOT NULL`).join(' OR ')})`;
  return { insert, fill };
}

/** A line without its bytes, and these as they are: in JSON the database takes many times as long. */
function apart(line: string, columns: readonly string[]): unknown[] {
  const row = JSON.parse(line) as Record<string, unknown>;
  const bytes = columns.map((column) => {
    const said = row[camel(column)];
    delete row[camel(column)];
    return typeof said === 'string' ? Buffer.from(said, 'base64') : null;
  });
  return [JSON.stringify([row]), ...bytes];
}

const keepMark = (client: Client, { name, value }: NonNullable<ReadWish['mark']>): Promise<unknown> =>
  client.query(
    'INSERT INTO settings (name, value) VALUES ($1, $2) ON CONFLICT (name) DO UPDATE SET value = excluded.value',
    [name, JSON.stringify(value)],
  );

/** What has been read, where that was done before. */
export const readBefore = async (databaseUrl: string): Promise<BundleRead> => ({
  ...(await onDatabase(databaseUrl, endOf)),
  music: NO_MUSIC,
});

/** Folders that are not where they are said to be are away until somebody says where they are. */
async function endOf(client: Client): Promise<Omit<BundleRead, 'music'>> {
  const { rows: roots } = await client.query<{ id: number; path: string }>(
    'SELECT id, path FROM roots WHERE NOT removed',
  );
  const here: number[] = [],
    away: number[] = [];
  for (const { id, path } of roots) {
    const isThere = (await stat(path).catch(() => null))?.isDirectory() ?? false;
    (isThere ? here : away).push(id);
  }
  await client.query('UPDATE roots SET away_since = now() WHERE id = ANY($1)', [away]);
  const { rows } = await client.query<{ tracks: number; lists: number }>(
    `SELECT (SELECT count(*)::int FROM tracks) AS tracks, (SELECT count(*)::int FROM lists WHERE NOT removed) AS lists`,
  );
  return { ...rows[0]!, here, away };
}

/** Lays covers and what is kept of destinations into the data folder; each has its name when it is whole. */
async function layFiles(
  source: Source,
  part: BundlePart | undefined,
  dataFolder: string,
  categories: ReadonlySet<Category>,
  step: Reading['step'],
): Promise<void> {
  if (!part) return;
  let done = 0;
  for await (const line of linesOf(await source.open(`${KEPT}.jsonl`))) {
    if (line === '') continue;
    const { path, sha256 } = JSON.parse(line) as BundledFile;
    const kind = KEPT_FILES.find(({ from }) => path.startsWith(`${from}/`));
    if (!kind || path.split('/').some((name) => name === '..' || name === ''))
      throw new Problem(409, 'broken', `The bundle holds a file where none belongs: ${path}`);
    await step('Covers', ++done, part.lines);
    const to = join(dataFolder, path);
    // Covers are named by what they show; states of another library's destinations give way.
    if (!categories.has(kind.category) || (kind.category === 'covers' && existsSync(to))) continue;
    await layFile(source, path, sha256, to);
  }
}

const layFile = async (source: Source, path: string, sha256: string, to: string): Promise<unknown> =>
  writeSummed(await source.open(path), dirname(to), (sum) => {
    if (sum !== sha256) throw new Problem(409, 'broken', `${path} is not what was written into the bundle`);
    return to;
  });
