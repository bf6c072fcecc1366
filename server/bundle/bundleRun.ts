/** The runs that write a bundle, and read one into an empty library. */
import { basename } from 'node:path';
import type { BundleReadWish } from '@early-set/core/api/bundles';
import type { Database } from '../db/database.ts';
import { Root, Setting } from '../db/models.ts';
import { queueScan, type ScanRun } from '../intake/scans.ts';
import { againTitle, defineRun, type DefinedRun } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import { refreshSearch } from '../library/columns.ts';
import { readBefore, readBundle, type BundleRead, type ReadOptions, type ReadWish } from './read.ts';
import { openSource } from './source.ts';
import { writeBundle, type BundleWish } from './write.ts';

export type BundleJob = { write: BundleWish & { path: string } } | { read: BundleReadWish };
export type BundleRun = DefinedRun<BundleJob>;

/** The setting that says which bundle was read here, and when. */
export const READ_HERE = 'bundle';
export interface ReadHere {
  at: string;
  computer: string;
  name: string;
  /** By which run. */
  runId: number;
}

export function bundleRun(tools: { database: Database; queue: Queue }, dataFolder: string, scans: ScanRun): BundleRun {
  const { database } = tools;
  const places = { databaseUrl: database.url, dataFolder };
  const readNow = async (path: string, wish: ReadWish, runId: number, options: ReadOptions): Promise<BundleRead> => {
    const source = await openSource(path);
    try {
      const { computer } = source.manifest;
      const value: ReadHere = { at: new Date().toISOString(), computer, name: basename(path), runId };
      return await readBundle(places, source, { ...wish, mark: { name: READ_HERE, value } }, options);
    } finally {
      await source.close();
    }
  };
  return defineRun<BundleJob>(tools, {
    kind: 'bundle',
    task: 'bundle',
    priority: 0,
    queueName: () => 'bundle',
    again: (_, run) => Promise.resolve({ title: againTitle(run.title), total: 0 }),
    async work({ run, payload, signal, tell }) {
      const options = {
        signal,
        tell: (current: string, done: number, total: number) => tell({ current, done, total }),
      };
      if ('write' in payload) {
        const { path, ...wish } = payload.write;
        const { parts } = await writeBundle(places, path, wish, options);
        const tracks = parts.find(({ name }) => name === 'tracks')?.lines ?? 0;
        return { report: { path, tracks }, total: tracks, done: tracks };
      }
      const { path, ...wish } = payload.read;
      const before = (await Setting.findByPk(READ_HERE))?.value as ReadHere | undefined;
      const read =
        before?.runId === run.id ? await readBefore(database.url) : await readNow(path, wish, run.id, options);
      await settle(database, scans, read);
      return { report: read, total: read.tracks, done: read.tracks };
    },
  });
}

/** What follows from a library that is there at once: everybody hears of it, and its folders are compared with it. */
async function settle(database: Database, scans: ScanRun, read: BundleRead): Promise<void> {
  await refreshSearch(database);
  for (const kind of ['tracks', 'roots', 'changes', 'dates', 'settings', 'presets', 'destinations'] as const)
    await database.notify({ kind });
  await database.notify({ kind: 'lists', listIds: [] });
  for (const id of read.here) {
    const root = await Root.findByPk(id);
    if (root?.purpose === 'library') await queueScan(scans, root);
  }
}
