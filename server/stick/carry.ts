/** A kept plan brought to its stick: what has to be made is made by two threads, what is no longer wanted goes. */
import { statSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import type { StickReport as KeptReport } from '@early-set/core/api/stick';
import { compareStick } from '@early-set/core/stick/compare';
import type { MadeOf, PlannedFile } from '@early-set/core/stick/plan';
import { Problem } from '../base/problem.ts';
import type { WriteStickFiles } from '../changes/context.ts';
import type { Database } from '../db/database.ts';
import type { FilePool } from '../files/filePool.ts';
import { mainFileOf } from '../library/trackFiles.ts';
import type { ArtStore } from '../media/art.ts';
import { resolveInRoot } from '../media/roots.ts';
import type { MadeFile } from './makeFile.ts';
import type { Plans } from './plans.ts';
import { playerOf, stickOf } from './sticks.ts';
import type { StickPool } from './stickPool.ts';
import { openWritten } from './written.ts';
import { sizesOn, writeStick, type StickReport } from './writeStick.ts';

export interface StickTools {
  database: Database;
  files: FilePool;
  art: ArtStore;
  plans: Plans;
  stickPool: StickPool;
}

type Made = Pick<MadeFile, 'path' | 'size' | 'modifiedMs'>;

export function stickWriter(tools: StickTools): WriteStickFiles {
  const { database, files, plans } = tools;
  return async (stickId, planId, { signal, progress, step }) => {
    const stick = await stickOf(database, stickId);
    if (stick.trouble) throw new Problem(409, 'not-there', stick.trouble);
    const wanted = planId === null ? [] : await plans.read(stickId, planId);
    if (wanted === null) throw new Problem(409, 'not-kept', `What was on ${stick.name} is no longer kept`);
    const written = openWritten(plans.writtenFile(stickId));
    const sizes = sizesOn(stick.folder);
    const { files: all, removed } = compareStick(wanted, written.files(sizes), sizes);
    const begun = Date.now();
    const write = all.filter((f) => f.state !== 'same').map((f) => f.wanted);
    const report = await writeStick({
      home: stick.folder,
      scratch: plans.scratch(stickId),
      written,
      remove: removed,
      write: write.map(({ path, sound, tags, madeOf }) => ({
        ...{ path, sound, tags },
        make: (scratch, ended) => makeOf(tools, madeOf, scratch, ended),
      })),
      isWatched: playerOf(stick.player).playout !== null,
      place: (wish) => files.ask({ op: 'place', ...wish }),
      ...(signal ? { signal } : {}),
      progress: (_done, bytes) => progress?.(bytes),
      ...(step ? { step } : {}),
    });
    const kept: KeptReport = {
      ...report,
      at: new Date(begun).toISOString(),
      total: write.length,
      seconds: (Date.now() - begun) / 1000,
      failed: report.failed.slice(0, TOLD_FAILED),
    };
    const broken = sentenceOf(stick.name, report, write);
    // Where nothing at all was done, the stick is as it was.
    const isBegun = report.written + report.removed > 0;
    await database.run(
      'UPDATE sticks SET report = $2::jsonb, aimed = CASE WHEN $3 THEN $4::uuid ELSE aimed END WHERE id = $1',
      [...[stickId, JSON.stringify(kept), isBegun, planId]],
    );
    await database.notify({ kind: 'destinations' });
    if (broken) throw broken;
    return {
      given: [...new Set(all.flatMap(({ wanted: { madeOf } }) => ('trackId' in madeOf ? [madeOf.trackId] : [])))],
    };
  };
}

const TOLD_FAILED = 200;

/** What is said where it ended before its end, or nothing could be written. */
function sentenceOf(name: string, report: StickReport, write: readonly PlannedFile[]): Problem | null {
  const { stopped, written, failed } = report;
  const done = `${written.toLocaleString('en-GB')} of ${write.length.toLocaleString('en-GB')} files are written, whole`;
  if (stopped === 'cancelled') return new Problem(409, 'cancelled', `Cancelled: ${done}`);
  if (stopped === 'full') return new Problem(409, 'full', `${name} is full: ${done}. Writing again goes on there`);
  if (stopped === 'gone')
    return new Problem(409, 'gone', `${name} was taken away: ${done}. Plugged in again, writing goes on there`);
  const [first] = failed;
  if (first && written === 0) return new Problem(409, 'not-written', `${first.path}: ${first.reason}`);
  return null;
}

/** Makes a file of a stick, at the desk. */
export async function makeOf(
  tools: Omit<StickTools, 'plans'>,
  madeOf: MadeOf,
  scratch: string,
  signal: AbortSignal | undefined,
): Promise<Made> {
  if (madeOf.is === 'list') {
    const path = `${scratch}.m3u8`;
    await writeFile(path, madeOf.text);
    return madeAt(path);
  }
  if (madeOf.is === 'picture') {
    const path = await tools.art.thumbnail(madeOf.cover, madeOf.maxPixels);
    if (path === null) throw new RangeError('The cover cannot be read');
    return madeAt(path);
  }
  const { database, art, stickPool } = tools;
  const file = await mainFileOf(database, madeOf.trackId);
  if (!file) throw new RangeError('The track is no longer in the library');
  if (file.state !== 'here') throw new RangeError('Its file is not there');
  const source = await pathIn(file.rootPath, file.path);
  if (madeOf.is === 'item') {
    const { values, system } = madeOf;
    return stickPool.make({ what: 'item', wish: { source, scratch, values, system } }, signal);
  }
  const where = madeOf.cover === null ? null : await art.whereIs(madeOf.cover);
  return stickPool.make(
    {
      what: 'make',
      wish: {
        source,
        scratch,
        recipe: madeOf.recipe,
        fields: madeOf.unwritten,
        ceilingDbtp: madeOf.ceilingDbtp,
      },
      cover: where && { hash: madeOf.cover!, ...where },
    },
    signal,
  );
}

const pathIn = (root: string, path: string): Promise<string> =>
  resolveInRoot(root, path).catch(() => {
    throw new RangeError('Its file is not there');
  });

function madeAt(path: string): Made {
  const { size, mtimeMs } = statSync(path);
  return { path, size, modifiedMs: mtimeMs };
}
