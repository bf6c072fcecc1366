/** Collections of others that can be looked through: programs, list files, the pool. */
import { readFile, stat } from 'node:fs/promises';
import { basename, dirname, extname } from 'node:path';
import type { SourceKey, SourceLine } from '@early-set/core/api/take';
import type { Collection, OtherTrack } from '@early-set/core/exchange/collection';
import { isWebAddress, wholePath } from '@early-set/core/exchange/locations';
import { artistNames } from '@early-set/core/exchange/matchEntries';
import { readList } from '@early-set/core/exchange/readList';
import { nameOf } from '@early-set/core/files/paths';
import type { PathMap } from '@early-set/core/relink/pathMap';
import type { Tie } from '@early-set/core/sync/match';
import { notFound, Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { serviceAddress } from '../db/services.ts';
import { dataFolderOf, stampOf, textsIn } from '../handover/data.ts';
import { allDestinations, destinationOf } from '../handover/destinations.ts';
import { programFor } from '../handover/programs.ts';
import type { States } from '../handover/states.ts';
import { allowedFile } from '../intake/places.ts';
import { openPool } from './pool.ts';

export interface SourceTools {
  database: Database;
  states: States;
  demoRoot: string | null;
}

export interface Source {
  key: SourceKey;
  name: string;
  what: string;
  collection: Collection;
  maps: readonly PathMap[];
  listKind: 'crate' | 'playlist';
  onThisMachine: boolean;
  /** Tracks that were tied when both sides were last made alike. */
  ties: readonly Tie[];
}

/** Where something can be taken from. */
export async function allSources({ database }: SourceTools): Promise<SourceLine[]> {
  const programs = (await allDestinations(database)).map(({ id, name, what, trouble }): SourceLine => ({
    key: `destination:${id}`,
    name,
    what,
    trouble,
  }));
  const pool = (await serviceAddress(database, 'pool')) !== null;
  return [...programs, ...(pool ? [POOL] : [])];
}
const POOL: SourceLine = { key: 'pool', name: 'Knot Pool', what: 'New and promotional music', trouble: null };

const MAX_LIST_BYTES = 20_000_000;
/** Says whether a source is still what it was when it was read; the pool is asked again after a while. */
export async function sourceStamp(tools: SourceTools, key: SourceKey): Promise<string> {
  const { kind, rest } = partsOf(key);
  if (kind === 'pool') return String(Math.floor(Date.now() / POOL_FRESH_MS));
  if (kind === 'list') {
    const { size, mtimeMs } = await stat(await allowedFile(rest, 'The list', tools.demoRoot));
    return `${size} ${mtimeMs}`;
  }
  const { kind: program, name, folder, settings, synced } = await destinationOf(tools.database, Number(rest));
  const { home } = programFor(program);
  return `${synced} ${JSON.stringify([settings.maps, settings.keys])} ${await stampOf(dataFolderOf(folder, home, name), home)}`;
}
const POOL_FRESH_MS = 30_000;

function partsOf(key: SourceKey): { kind: 'destination' | 'list' | 'pool'; rest: string } {
  const [, kind, rest = ''] = /^(destination|list|pool)(?::(.+))?$/s.exec(key) ?? [];
  if (kind === 'pool') return { kind, rest };
  if (kind === 'list' && rest) return { kind, rest };
  if (kind === 'destination' && /^\d{1,9}$/.test(rest)) return { kind, rest };
  throw notFound('The collection');
}

/** Reads one. @throws Problem when it cannot be */
export async function openSource(tools: SourceTools, key: SourceKey, signal?: AbortSignal): Promise<Source> {
  const { kind, rest } = partsOf(key);
  if (kind === 'pool') {
    const address = await serviceAddress(tools.database, 'pool');
    if (address === null) throw notFound('The pool');
    const collection = await openPool(address, { tries: 3, ...(signal ? { signal } : {}) }).collection();
    const { name, what } = POOL;
    return { key, name, what, collection, maps: [], listKind: 'crate', onThisMachine: false, ties: [] };
  }
  return kind === 'list' ? openList(tools, key, rest) : openProgram(tools, key, Number(rest));
}

async function openProgram({ database, states }: SourceTools, key: SourceKey, id: number): Promise<Source> {
  const { kind, name, what, folder, settings, synced } = await destinationOf(database, id);
  const { home, format } = programFor(kind);
  const data = dataFolderOf(folder, home, name);
  const { lists } = format.describe;
  const read = format.read(await textsIn(data, home), data, settings.keys ?? undefined);
  return {
    ...{ key, name, what, maps: settings.maps, listKind: lists.kind, onThisMachine: true },
    // What a track says is looked at again and again here.
    collection: { ...read, tracks: read.tracks.map(({ id, path, values, times }) => ({ id, path, values, times })) },
    ties: (await states.pastOf(id, synced)).tracks,
  };
}

async function openList(tools: SourceTools, key: SourceKey, path: string): Promise<Source> {
  const file = await allowedFile(path, 'The list', tools.demoRoot);
  const info = await stat(file);
  if (!info.isFile() || info.size > MAX_LIST_BYTES)
    throw new Problem(400, 'no-list', `${basename(file)} is no list of tracks`);
  const { name, entries, problems } = readList(await readFile(file), extname(file).slice(1));
  if (entries.length === 0)
    throw new Problem(400, 'no-entries', `There is nothing in ${basename(file)} that could be a track`);
  const tracks = new Map<string, OtherTrack>();
  const trackIds = entries.map(({ location, title, artist, album, seconds }): string => {
    const whole = location === null || isWebAddress(location) ? '' : location;
    const where = whole === '' ? '' : wholePath(dirname(file), whole);
    const id = where || [artist, title, album].join('\n');
    const artists = artist ? artistNames(artist) : [];
    const values = { title: title ?? null, artist: artists.length ? artists : null, album, durationSeconds: seconds };
    tracks.set(id, { id, path: where, times: {}, values });
    return id;
  });
  const called = name ?? nameOf(file).replace(/\.[^.]+$/, '');
  return {
    ...{ key, name: called, what: basename(file), maps: [], listKind: 'playlist', onThisMachine: true, ties: [] },
    collection: {
      tracks: [...tracks.values()],
      lists: [{ id: 'list', name: called, place: [], trackIds }],
      problems: problems.map(({ line, reason }) => ({
        where: line === null ? basename(file) : `line ${line}`,
        reason,
      })),
    },
  };
}
