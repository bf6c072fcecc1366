/** Music that goes along with a bundle: written beside the parts, and laid into the folders where they are here. */
import { createReadStream, existsSync } from 'node:fs';
import { mkdir, stat, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Readable } from 'node:stream';
import type { Client } from 'pg';
import type { BundlePart, FolderPlace } from '@early-set/core/bundle/manifest';
import { musicFolder } from '@early-set/core/exchange/bundle/format';
import { writeSummed } from '../base/hashed.ts';
import { linesOf } from '../base/lines.ts';
import { Problem } from '../base/problem.ts';
import { mustHaveRoom } from '../base/room.ts';
import { sayingWhere } from '../base/sayingWhere.ts';
import type { Source } from './source.ts';
import type { Target, WriteOptions } from './target.ts';

export const MUSIC_PART = 'music';

/** A line of the part: the main file of a track. */
export interface BundledMusic {
  trackId: number;
  folder: number;
  /** Below its folder. */
  path: string;
  bytes: number;
  modifiedMs: number;
  sha256: string;
}

interface Row {
  trackId: number;
  folder: number;
  root: string;
  path: string;
}

/** In the bundle. */
const nameIn = ({ folder, path }: { folder: number; path: string }): string =>
  `${musicFolder('.', folder)}/${path}`.slice(2);

/** Writes the main files of what was chosen. @returns the part, and how many files were not there */
export async function writeMusic(
  client: Client,
  target: Target,
  { signal, tell }: WriteOptions,
): Promise<{ part: BundlePart; left: number }> {
  const { rows } = await client.query<Row>(
    `SELECT t.id AS "trackId", t.root_id AS folder, r.path AS root, t.path FROM tracks t
      JOIN bundled_tracks b ON b.id = t.id JOIN roots r ON r.id = t.root_id WHERE t.file_state = 'here' ORDER BY t.id`,
  );
  const lines: BundledMusic[] = [];
  let left = 0;
  for (const [at, { root, ...row }] of rows.entries()) {
    signal?.throwIfAborted();
    await tell?.('Writing music', at, rows.length);
    const from = join(root, row.path);
    const info = await stat(from).catch(() => null);
    if (!info?.isFile()) left++;
    else {
      const sha256 = await target.file(nameIn(row), createReadStream(from));
      lines.push({ ...row, bytes: info.size, modifiedMs: info.mtimeMs, sha256 });
    }
  }
  const sha256 = await target.file(
    `${MUSIC_PART}.jsonl`,
    Readable.from(lines.map((line) => Buffer.from(`${JSON.stringify(line)}\n`))),
  );
  return { part: { name: MUSIC_PART, lines: lines.length, sha256 }, left };
}

export interface MusicLaid {
  copied: number;
  /** A file of that name is there already; it stays as it is. */
  there: number;
  /** Their folder is not here. */
  left: number;
}
export const NO_MUSIC: MusicLaid = { copied: 0, there: 0, left: 0 };

/**
 * Copies music into the folders where they are here; what lies there stays as it is. Broken off, what was copied is
 * found there the next time.
 * @param places of each folder
 * @throws Problem where there is not enough room, or a file is not what was written
 */
export async function layMusic(
  source: Source,
  part: BundlePart | undefined,
  places: readonly FolderPlace[],
  step: (words: string, done: number, total: number) => Promise<void>,
): Promise<MusicLaid> {
  if (!part) return NO_MUSIC;
  const laid = { ...NO_MUSIC };
  const folders = new Map<number, string>();
  for (const { id, path } of places) if (existsSync(path)) folders.set(id, path);
  const all: BundledMusic[] = [];
  const wanted = new Map<string, number>();
  for await (const line of linesOf(await source.open(`${MUSIC_PART}.jsonl`))) {
    if (line === '') continue;
    const music = JSON.parse(line) as BundledMusic;
    const folder = folders.get(music.folder);
    if (leadsOut(music.path))
      throw new Problem(409, 'broken', `The bundle holds a file where none belongs: ${music.path}`);
    if (folder === undefined) laid.left++;
    else if (existsSync(join(folder, music.path))) laid.there++;
    else {
      all.push(music);
      wanted.set(folder, (wanted.get(folder) ?? 0) + music.bytes);
    }
  }
  for (const [folder, bytes] of wanted) await mustHaveRoom(folder, bytes, 'the music');
  for (const [at, music] of all.entries()) {
    await step('Copying music', at, all.length);
    await layOne(source, music, join(folders.get(music.folder)!, music.path)).catch((error: unknown) => {
      throw sayingWhere(error, folders.get(music.folder)!, 'the bundle was not read');
    });
    laid.copied++;
  }
  return laid;
}
async function layOne(source: Source, music: BundledMusic, to: string): Promise<void> {
  await mkdir(dirname(to), { recursive: true });
  await writeSummed(
    await source.open(nameIn(music)),
    dirname(to),
    (sum) => {
      if (sum !== music.sha256)
        throw new Problem(409, 'broken', `${music.path} is not what was written into the bundle`);
      return to;
    },
    OF_THE_USER,
  );
  // As it was when it was read into the other library, so that nothing has to be read again.
  await utimes(to, new Date(), new Date(music.modifiedMs));
}
const OF_THE_USER = { folder: 0o777, file: 0o666 };

const leadsOut = (path: string): boolean => path.split('/').some((name) => name === '..' || name === '');
