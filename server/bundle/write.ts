/** Writes a bundle: one moment of the library, by categories, of all of it or of what stands in some lists. */
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { hostname } from 'node:os';
import { basename, join } from 'node:path';
import { Readable } from 'node:stream';
import type { Client } from 'pg';
import {
  BUNDLE_FORMAT,
  BUNDLE_VERSION,
  MANIFEST,
  type BundleManifest,
  type BundledFolder,
  type BundlePart,
  type Category,
} from '@early-set/core/bundle/manifest';
import { filesBelow } from '../backups/objects.ts';
import { sayingWhere } from '../base/sayingWhere.ts';
import { onDatabase } from '../db/dumps.ts';
import { camel, KEPT_FILES, TABLE_PARTS, type TablePart } from './parts.ts';
import { writeMusic } from './music.ts';
import { openTarget, type Target, type WriteOptions } from './target.ts';
import { TRACK_LINES } from './tracksPart.ts';

export interface BundleWish {
  categories: readonly Category[];
  /** Ids of lists; null: the whole library. */
  lists: readonly string[] | null;
  zip: boolean;
  /** The main files of its tracks go along. */
  music?: boolean;
  layouts?: readonly object[];
}
/** A file that goes along. */
export interface BundledFile {
  /** In the bundle, and below the data folder. */
  path: string;
  bytes: number;
  sha256: string;
}

/** @throws Problem when it cannot be written; nothing is left of it then */
export async function writeBundle(
  { databaseUrl, dataFolder }: { databaseUrl: string; dataFolder: string },
  path: string,
  wish: BundleWish,
  options: WriteOptions = {},
): Promise<BundleManifest> {
  const { signal, tell } = options;
  const categories = new Set<Category>(['tracks', ...wish.categories]);
  if (wish.lists) for (const none of ['destinations', 'history'] as const) categories.delete(none);
  const target = await openTarget(path, wish.zip).catch((error: unknown) => {
    throw sayingWhere(error, path, 'the bundle was not made');
  });
  try {
    const manifest = await onDatabase(databaseUrl, async (client) => {
      await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ');
      await choose(client, wish.lists);
      const total = await countOf(client);
      const parts: BundlePart[] = [];
      const write = async (name: string, sql: string, batch: number): Promise<void> => {
        let lines = 0;
        const counted = async function* (): AsyncGenerator<Buffer> {
          for await (const rows of rowsOf(client, sql, batch)) {
            signal?.throwIfAborted();
            lines += rows.length;
            await tell?.(`Writing ${name}`, name === 'tracks' ? lines : total, total);
            yield Buffer.from(rows.map((line) => `${line}\n`).join(''));
          }
        };
        const sha256 = await target.file(`${name}.jsonl`, Readable.from(counted()));
        parts.push({ name, lines, sha256 });
      };
      for (const part of TABLE_PARTS) {
        if (!categories.has(part.category)) continue;
        // Files and all else of a track stand behind it.
        if (part.name === 'files') await write('tracks', TRACK_LINES, TRACKS_AT_ONCE);
        await write(part.name, linesOf(part), part.batch);
      }
      const files = await writeFiles(client, dataFolder, target, categories, { ...(signal ? { signal } : {}) });
      parts.push({ name: 'keptFiles', lines: files.length, sha256: await writeList(target, files) });
      const music = wish.music ? await writeMusic(client, target, options) : null;
      if (music) parts.push(music.part);
      const made: BundleManifest = {
        ...{ format: BUNDLE_FORMAT, version: BUNDLE_VERSION, madeAt: new Date().toISOString(), computer: hostname() },
        lists: wish.lists ? await namesOf(client) : null,
        categories: [...categories],
        ...{ parts, files: files.length, folders: await foldersOf(client) },
        ...(music ? { music: { files: music.part.lines, left: music.left } } : {}),
        ...(wish.layouts ? { layouts: [...wish.layouts] } : {}),
      };
      await client.query('COMMIT');
      return made;
    });
    await target.file(MANIFEST, Readable.from([Buffer.from(`${JSON.stringify(manifest, null, 2)}\n`)]));
    await target.finish();
    return manifest;
  } catch (error) {
    await target.drop();
    signal?.throwIfAborted();
    throw sayingWhere(error, path, `${basename(path)} was not made`);
  }
}
const TRACKS_AT_ONCE = 500;

/** Puts what is chosen into tables of this transaction, which the parts ask. */
async function choose(client: Client, lists: readonly string[] | null): Promise<void> {
  const made = 'ON COMMIT DROP';
  await client.query(`CREATE TEMP TABLE bundled ${made} AS SELECT $1::boolean AS is_whole`, [lists === null]);
  await client.query(
    `CREATE TEMP TABLE bundled_lists ${made} AS
      WITH RECURSIVE up AS (
        SELECT id, parent_id, true AS own FROM lists WHERE $1::uuid[] IS NULL OR id = ANY($1) AND NOT removed
        UNION SELECT l.id, l.parent_id, false FROM lists l JOIN up ON l.id = up.parent_id)
      SELECT id, bool_or(own) AS own FROM up GROUP BY id`,
    [lists],
  );
  await client.query(
    `CREATE TEMP TABLE bundled_tracks ${made} AS
      SELECT t.id FROM tracks t WHERE $1::uuid[] IS NULL
      UNION SELECT track_id FROM list_tracks WHERE list_id = ANY($1)`,
    [lists],
  );
  await client.query('CREATE UNIQUE INDEX ON bundled_tracks (id)');
  await client.query('ANALYZE bundled_tracks');
}

/** The rows of a part as lines; of a list that is not whole, what it has of other tracks stays away. */
function linesOf({ table, columns, where, order, bytes = [], written = {} }: TablePart): string {
  const pairs = columns
    .filter((column) => !bytes.includes(column))
    .map((column) => `'${camel(column)}', ${written[column] ?? `x.${column}`}`);
  // Bytes stand beside the line: the database takes many times as long to put them into one.
  const beside = bytes.map((column) => `, x.${column} AS "${camel(column)}"`).join('');
  return `SELECT json_build_object(${pairs.join(', ')})::text AS line${beside} FROM ${table} x
    WHERE ${where} ORDER BY ${order}`;
}

/** Besides its line a row has nothing but bytes. */
interface Row {
  line: string;
  [bytes: string]: string | Buffer | null;
}

/** A row with its bytes put into its line. */
function whole({ line, ...bytes }: Row): string {
  const more = Object.entries(bytes).map(
    ([name, value]) => `,"${name}":${Buffer.isBuffer(value) ? `"${value.toString('base64')}"` : 'null'}`,
  );
  return more.length === 0 ? line : `${line.slice(0, -1)}${more.join('')}}`;
}

/** The lines of a query, some at a time. */
async function* rowsOf(client: Client, sql: string, batch: number): AsyncGenerator<string[]> {
  await client.query(`DECLARE bundled_rows NO SCROLL CURSOR FOR ${sql}`);
  for (;;) {
    const { rows } = await client.query<Row>(`FETCH ${batch} FROM bundled_rows`);
    if (rows.length > 0) yield rows.map(whole);
    if (rows.length < batch) break;
  }
  await client.query('CLOSE bundled_rows');
}

const countOf = async (client: Client): Promise<number> =>
  Number((await client.query<{ n: string }>('SELECT count(*) AS n FROM bundled_tracks')).rows[0]!.n);

const namesOf = async (client: Client): Promise<string[]> =>
  (
    await client.query<{ name: string }>(
      'SELECT l.name FROM lists l JOIN bundled_lists b ON b.id = l.id ORDER BY l.name, l.id',
    )
  ).rows.map(({ name }) => name);

const foldersOf = async (client: Client): Promise<BundledFolder[]> =>
  (
    await client.query<BundledFolder>(
      `SELECT r.id, r.label, r.path, r.purpose, (SELECT count(*)::int FROM tracks t JOIN bundled_tracks b ON b.id = t.id
          WHERE t.root_id = r.id) AS tracks
        FROM roots r WHERE (SELECT is_whole FROM bundled) OR EXISTS (SELECT 1 FROM track_files f
          JOIN bundled_tracks b ON b.id = f.track_id WHERE f.root_id = r.id) ORDER BY r.id`,
    )
  ).rows;

/** Covers that belong to what is in it, and what is kept of destinations. */
async function writeFiles(
  client: Client,
  dataFolder: string,
  target: Target,
  categories: ReadonlySet<Category>,
  { signal }: WriteOptions,
): Promise<BundledFile[]> {
  const { rows } = await client.query<{ hash: string }>(
    `SELECT hash FROM arts x WHERE (SELECT is_whole FROM bundled)
      OR x.hash IN (SELECT art_hash FROM tracks t JOIN bundled_tracks b ON b.id = t.id)`,
  );
  const covers = new Set(rows.map(({ hash }) => hash));
  const written: BundledFile[] = [];
  for (const { category, from } of KEPT_FILES) {
    if (!categories.has(category)) continue;
    for await (const path of filesBelow(dataFolder, from)) {
      signal?.throwIfAborted();
      if (category === 'covers' && !covers.has(basename(path))) continue;
      const info = await stat(join(dataFolder, path)).catch(() => null);
      // Gone meanwhile.
      if (!info) continue;
      const sha256 = await target.file(path, createReadStream(join(dataFolder, path)));
      written.push({ path, bytes: info.size, sha256 });
    }
  }
  return written;
}

const writeList = (target: Target, files: readonly BundledFile[]): Promise<string> =>
  target.file('keptFiles.jsonl', Readable.from(files.map((file) => Buffer.from(`${JSON.stringify(file)}\n`))));
