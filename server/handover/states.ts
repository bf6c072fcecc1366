/**
 * States of a destination's data that are kept: what was there before each writing, what was written, and what both
 * sides said then. Undo writes the former state back; the last one is what the next comparison starts from.
 */
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import { NO_PAST, type Past } from '@early-set/core/sync/compare';
import type { TrackPast } from '@early-set/core/sync/compareTracks';
import { copyFolder, hashOf, layInto } from './data.ts';
import type { Home } from './home.ts';

const [packed, unpacked] = [promisify(gzip), promisify(gunzip)];
const PAST = 'past.jsonl.gz';
const DATA = 'data';

/** A track's past whose values are read when they are asked for: of most it is enough that it is there. */
class KeptPast implements TrackPast {
  readonly trackId: number;
  readonly otherId: string;
  readonly text: string;
  #values: TrackPast['values'] | null = null;

  constructor(text: string) {
    const tab = text.indexOf('\t');
    [this.trackId, this.otherId] = JSON.parse(text.slice(0, tab)) as [number, string];
    this.text = text;
  }

  get values(): TrackPast['values'] {
    return (this.#values ??= JSON.parse(this.text.slice(this.text.indexOf('\t') + 1)) as TrackPast['values']);
  }
}

/** The lists in the first line, then a line for each track: its ids, a tab, its values. */
const pastText = ({ tracks, lists }: Past): string =>
  [
    JSON.stringify(lists),
    ...tracks.map((t) =>
      t instanceof KeptPast ? t.text : `${JSON.stringify([t.trackId, t.otherId])}\t${JSON.stringify(t.values)}`,
    ),
  ].join('\n');

function pastOf(text: string): Past {
  const [lists = '[]', ...tracks] = text.split('\n');
  return { lists: JSON.parse(lists) as Past['lists'], tracks: tracks.map((line) => new KeptPast(line)) };
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
    await rm(growing, { recursive: true, force: true });
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
  const prune = async (destinationId: number): Promise<void> => {
    const names = await readdir(of(destinationId));
    const aged = await Promise.all(
      names.map(async (name) => ({ name, at: (await stat(of(destinationId, name))).mtimeMs })),
    );
    const old = aged.sort((a, b) => b.at - a.at).slice(KEPT);
    for (const { name } of old) await rm(of(destinationId, name), { recursive: true, force: true });
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
          await writeFile(join(folder, PAST), await packed(pastText(past)));
        },
        home,
      );
      await prune(destinationId);
      return kept;
    },
    async pastOf(destinationId, id) {
      const file = id === null ? null : join(of(destinationId, id), PAST);
      if (file === null || !existsSync(file)) return NO_PAST;
      return pastOf((await unpacked(await readFile(file))).toString('utf8'));
    },
    forget: (destinationId) => rm(of(destinationId), { recursive: true, force: true }),
  };
}
