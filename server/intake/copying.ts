/**
 * Files from outside copied into a library folder: under their names or by the naming rules, each compared with its
 * source before it counts as done, none over another. Begun again after a kill, what lies there already is passed over.
 */
import { realpath, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { CopyReport } from '@early-set/core/api/intake';
import type { PutNames } from '@early-set/core/files/put';
import { endingOf, folderOf } from '@early-set/core/files/paths';
import { RuleError } from '@early-set/core/naming/naming';
import { Problem, notFound } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import { freeBytes } from '../drives/drives.ts';
import type { FilePool } from '../files/filePool.ts';
import { mustBeThere } from '../library/absolutePath.ts';
import { isThere } from '../files/there.ts';
import { againTitle, defineRun, type DefinedRun } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import { isInside } from '../media/roots.ts';
import { copyNew } from './copyNew.ts';
import { safeSegments } from './upload.ts';
import { fileNamer, type FileNamer } from './fileNamer.ts';
import { whyUnread } from './lookFirst.ts';
import { queueScan, type ScanRun } from './scans.ts';

export interface CopyWish {
  /** The folder outside, resolved. */
  from: string;
  /** Files below it. */
  paths: string[];
  rootId: number;
  /** Folder below the root; '' is the root itself. */
  into: string;
  names: PutNames;
}
export type CopyRun = DefinedRun<CopyWish>;

/** So many of what was not copied a report names. */
const MAX_TOLD = 200;
/** Beside a file, under its name, these go with it. */
const BESIDE = ['.cdg', '.cue'];

interface CopyTools {
  database: Database;
  queue: Queue;
  files: FilePool;
}

export function copyRun(tools: CopyTools, scans: ScanRun): CopyRun {
  return defineRun<CopyWish>(tools, {
    kind: 'copying',
    task: 'copy',
    priority: -20,
    queueName: ({ rootId }) => `copy:${rootId}`,
    async work({ payload, signal, tell }) {
      const root = await Root.findByPk(payload.rootId);
      if (!root) throw notFound('The folder');
      const nameOf = await fileNamer(tools, payload.names, root, signal);
      await roomFor(root, payload);
      const report: CopyReport = { copied: 0, here: 0, unnamed: 0, failed: 0, told: [] };
      const goOn = async (): Promise<void> => {
        // What was copied before it was cancelled is taken in all the same.
        if (signal.aborted && report.copied > 0) await queueScan(scans, root);
        signal.throwIfAborted();
      };
      for (const [i, path] of payload.paths.entries()) {
        await goOn();
        await tell({ done: i - report.failed, failed: report.failed, total: payload.paths.length, current: path });
        try {
          await copyOne(tools, root, payload, path, nameOf, report, signal);
        } catch (error) {
          await goOn();
          if (error instanceof RuleError) throw new Problem(400, 'bad-rule', error.message);
          report.failed++;
          const reason = error instanceof Problem ? error.message : whyUnread(error);
          if (report.told.length < MAX_TOLD) report.told.push({ path, reason });
        }
      }
      await queueScan(scans, root);
      const { failed } = report;
      return { report, total: payload.paths.length, done: payload.paths.length - failed, failed };
    },
    again: async (_, run) =>
      run.failed > 0 || run.state !== 'done' ? { title: againTitle(run.title), total: 0 } : null,
  });
}

async function roomFor(root: Root, { from, paths }: CopyWish): Promise<void> {
  const free = await freeBytes(root.path);
  let bytes = 0;
  for (const path of paths) bytes += (await stat(join(from, path)).catch(() => null))?.size ?? 0;
  if (free !== null && free < bytes)
    throw new Problem(409, 'no-room', `There is not enough space on the drive of ${root.label}`);
}

async function copyOne(
  tools: CopyTools,
  root: Root,
  { from, into }: CopyWish,
  path: string,
  nameOf: FileNamer,
  report: CopyReport,
  signal: AbortSignal,
): Promise<void> {
  const source = await realpath(join(from, path)).catch(() => null);
  if (source === null) throw new Problem(404, 'file-not-found', 'It is not there any more');
  if (!isInside(from, source)) throw new Problem(403, 'outside', 'A link that leads out of the folder');
  await mustBeThere(root);
  const { name, unnamed } = await nameOf(join(from, path), path);
  const segments = safeSegments(into === '' ? name : `${into}/${name}`);
  const placed = await copyNew(tools.files, source, root.path, segments, signal);
  if (placed.here) report.here++;
  else report.copied++;
  if (unnamed) report.unnamed++;
  const stem = source.slice(0, source.length - endingOf(source).length);
  for (const ending of BESIDE)
    for (const spelled of [ending, ending.toUpperCase()]) {
      if (!(await isThere(stem + spelled))) continue;
      const own = placed.path.slice(folderOf(placed.path).length);
      const beside = own.slice(0, own.length - endingOf(own).length) + spelled;
      await copyNew(tools.files, stem + spelled, root.path, [...dirname(placed.path).split('/'), beside], signal);
    }
}
