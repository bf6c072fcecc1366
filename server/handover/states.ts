/**
 * States of a destination's data that are kept: what was there before each writing, what was written, and what both
 * sides said then. Undo writes the former state back; the last one is what the next comparison starts from.
 */
import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { NO_PAST, type Past, type Same } from '@early-set/core/sync/compare';
import { KeptPast } from '@early-set/core/sync/kept';
import type { Loss } from '@early-set/core/sync/store';
import { copyFolder, hashOf, layInto } from './data.ts';
import { linesOf } from '../base/lines.ts';
import type { Home } from './home.ts';

const PAST = 'past.jsonl.gz';
const DATA = 'data';
const SAME = 'same-';
/** Under so many conditions it is remembered: before a sync and after it, while one is on its way. */
const SAMES = 2;

/** The lists in the first line, then a line for each track. */
function* pastLines({ tracks, lists }: Past): Generator<string> {
  yield `${JSON.stringify(lists)}\n`;
  for (const track of tracks) yield `${(track instanceof KeptPast ? track : KeptPast.of(track)).line}\n`;
}

/** Some lines at a time: of a large library the whole would be a hundred megabytes of text. */
function* inPieces(lines: Iterable<string>): Generator<Buffer> {
  let piece = '';
  for (const line of lines) {
    piece += line;
    if (piece.length < PIECE) continue;
    yield Buffer.from(piece);
    piece = '';
  }
  yield Buffer.from(piece);
}
const PIECE = 1 << 18;

async function readPast(file: string): Promise<Past> {
  const past: Past = { lists: [], tracks: [] };
  let first = true;
  const packed = createReadStream(file),
    lines = packed.pipe(createGunzip());
  packed.once('error', (error) => lines.destroy(error));
  for await (const line of linesOf(lines)) {
    if (first) past.lists = JSON.parse(line) as Past['lists'];
    else if (line !== '') past.tracks.push(KeptPast.read(line));
    first = false;
  }
  return past;
}

const sameName = (key: string): string => `${SAME}${createHash('sha256').update(key).digest('hex').slice(0, 16)}.jsonl`;

/** What it was found under, then what is lost of tracks, each once, then a line for each track. */
function* sameLines(key: string, same: ReadonlyMap<string, Same>): Generator<string> {
  const losses = [...new Set([...same.values()].map((s) => s.losses))];
  const at = new Map(losses.map((l, i) => [l, i]));
  yield `${JSON.stringify(key)}\n${JSON.stringify(losses)}\n`;
  for (const [otherId, { trackId, here, there, losses: lost }] of same)
    yield `${JSON.stringify([otherId, trackId, here, there, at.get(lost)])}\n`;
}

async function readSame(file: string, key: string): Promise<Map<string, Same>> {
  const same = new Map<string, Same>();
  let losses: Loss[][] | null = null,
    first = true;
  const lines = createReadStream(file);
  for await (const line of linesOf(lines)) {
    if (first && line !== JSON.stringify(key)) break;
    if (!first && losses === null) losses = JSON.parse(line) as Loss[][];
    else if (!first && line !== '') {
      const [otherId, trackId, here, there, at] = JSON.parse(line) as [string, number, string, string, number];
      same.set(otherId, { trackId, here, there, losses: losses![at]! });
    }
    first = false;
  }
  lines.destroy();
  return same;
}

/** So many states of a destination are kept; older ones can no longer be written back. */
const KEPT = 40;

export interface States {
  /** The folder with the data of a state; null where it is no longer kept. */
  dataOf(destinationId: number, id: string): string | null;
  /** Keeps data as they are now. */
  keep(destinationId: number, data: string, home: Home): Promise<{ id: string; hash: string }>;
  /** Keeps data with changes laid into them, and what both sides say then. */
  keepChanged(
    destinationId: number,
    data: string,
    changes: ReadonlyMap<string, string | null>,
    past: Past,
    home: Home,
  ): Promise<{ id: string; hash: string }>;
  /** What both sides said in a state. */
  pastOf(destinationId: number, id: string | null): Promise<Past>;
  /** What was found to be the same when it was last compared, where that was under the same conditions. */
  sameOf(destinationId: number, key: string): Promise<Map<string, Same>>;
  keepSame(destinationId: number, key: string, same: ReadonlyMap<string, Same>): Promise<void>;
  /** A state that came to nothing goes. */
  drop(destinationId: number, id: string): Promise<void>;
  /** Everything that is kept of a destination goes. */
  forget(destinationId: number): Promise<void>;
}

export function openStates(dataFolder: string): States {
  const of = (destinationId: number, id = ''): string => join(dataFolder, 'handover', String(destinationId), id);
  /** Made under another name first: what is there under its own is whole. */
  const made = async (
    destinationId: number,
    fill: (folder: string) => Promise<void>,
    home: Home,
  ): Promise<{ id: string; hash: string }> => {
    const id = randomUUID(),
      growing = of(destinationId, `.${id}`);
    await mkdir(growing, { recursive: true });
    try {
      await fill(growing);
      const hash = await hashOf(join(growing, DATA), home);
      await rename(growing, of(destinationId, id));
      return { id, hash };
    } catch (error) {
      await rm(growing, { recursive: true, force: true });
      throw error;
    }
  };
  const onlyNewest = async (destinationId: number, which: (name: string) => boolean, most: number): Promise<void> => {
    const names = (await readdir(of(destinationId))).filter(which);
    const aged = await Promise.all(
      names.map(async (name) => ({ name, at: (await stat(of(destinationId, name))).mtimeMs })),
    );
    for (const { name } of aged.sort((a, b) => b.at - a.at).slice(most))
      await rm(of(destinationId, name), { recursive: true, force: true });
  };
  const prune = async (destinationId: number): Promise<void> => {
    // What a kill has left.
    await onlyNewest(destinationId, (name) => name.startsWith('.'), 0);
    await onlyNewest(destinationId, (name) => !name.startsWith(SAME), KEPT);
  };
  return {
    dataOf(destinationId, id) {
      const folder = join(of(destinationId, id), DATA);
      return existsSync(folder) ? folder : null;
    },
    keep: (destinationId, data, home) => made(destinationId, (folder) => copyFolder(data, join(folder, DATA)), home),
    async keepChanged(destinationId, data, changes, past, home) {
      const kept = await made(
        destinationId,
        async (folder) => {
          await copyFolder(data, join(folder, DATA));
          await layInto(join(folder, DATA), changes);
          await pipeline(Readable.from(inPieces(pastLines(past))), createGzip(), createWriteStream(join(folder, PAST)));
        },
        home,
      );
      await prune(destinationId);
      return kept;
    },
    async pastOf(destinationId, id) {
      const file = id === null ? null : join(of(destinationId, id), PAST);
      if (file === null || !existsSync(file)) return NO_PAST;
      return readPast(file);
    },
    async sameOf(destinationId, key) {
      const file = of(destinationId, sameName(key));
      // What cannot be read (any more) is compared in full.
      return existsSync(file) ? readSame(file, key).catch(() => new Map<string, Same>()) : new Map<string, Same>();
    },
    async keepSame(destinationId, key, same) {
      const file = of(destinationId, sameName(key)),
        growing = of(destinationId, `.${randomUUID()}`);
      await mkdir(of(destinationId), { recursive: true });
      await pipeline(Readable.from(inPieces(sameLines(key, same))), createWriteStream(growing));
      await rename(growing, file);
      await onlyNewest(destinationId, (name) => name.startsWith(SAME), SAMES);
    },
    drop: (destinationId, id) => rm(of(destinationId, id), { recursive: true, force: true }),
    async forget(destinationId) {
      // Out of the way of whoever is just writing there: a folder that gets new files cannot be removed.
      const going = of(destinationId, `../.${randomUUID()}`);
      if (existsSync(of(destinationId))) await rename(of(destinationId), going);
      await rm(going, { recursive: true, force: true });
    },
  };
}
