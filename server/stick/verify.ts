/** What was written to a stick read again, and compared with what was written. */
import { join } from 'node:path';
import { statSync } from 'node:fs';
import type { StickVerified } from '@early-set/core/api/stick';
import type { WrittenFile } from '@early-set/core/stick/compare';
import { Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { reasonOf } from '../files/reasons.ts';
import type { Sticks } from './plan.ts';
import { mustBeIdle, stickOf } from './sticks.ts';
import { openWritten, readWritten } from './written.ts';
import { sizesOn } from './writeStick.ts';

/** So many that are wrong are told. */
const TOLD = 200;

/** Reads all files that were written from here. @throws Problem where the stick is not there, or nobody waits */
export async function verifyStick(
  { database, changing, plans, steps }: Sticks,
  id: number,
  gone?: AbortSignal,
): Promise<StickVerified> {
  const { folder, trouble } = await stickOf(database, id);
  await mustBeIdle(database, id);
  if (trouble) throw new Problem(409, 'not-there', trouble);
  const written = readWritten(plans.writtenFile(id), sizesOn(folder));
  const said: StickVerified = { checked: 0, wrong: [], readBack: 'medium' };
  const other: WrittenFile[] = [];
  const wrong = (path: string, reason: string): void => {
    if (said.wrong.length < TOLD) said.wrong.push({ path, reason });
  };
  try {
    for (const { hash, ...file } of written) {
      const { path, size } = file;
      if (gone?.aborted) throw new Problem(400, 'cancelled', 'It was cancelled');
      steps.set(id, { done: said.checked, total: written.length });
      try {
        const there = statSync(join(folder, path), { throwIfNoEntry: false });
        if (!there) wrong(path, 'It is not there any more');
        else if (there.size !== size) wrong(path, 'It has been changed there');
        else {
          const now = await changing.files.ask({ op: 'hash', path: join(folder, path) });
          if (!now.fromMedium) said.readBack = 'memory';
          if (hash !== undefined && now.hash !== hash) {
            wrong(path, 'It does not hold what was written');
            other.push(file);
          }
        }
      } catch (error) {
        wrong(path, reasonOf(error));
      }
      said.checked++;
    }
    if (other.length > 0) await toBeWrittenAgain(database, id, plans.writtenFile(id), other);
  } finally {
    steps.delete(id);
  }
  return said;
}

/** No size that a file has: it is found to be another one when it is compared. */
const NO_SIZE = -1;

async function toBeWrittenAgain(
  database: Database,
  id: number,
  writtenFile: string,
  files: readonly WrittenFile[],
): Promise<void> {
  await mustBeIdle(database, id);
  const kept = openWritten(writtenFile);
  for (const file of files) {
    kept.will({ ...file, size: NO_SIZE });
    kept.is(file.path);
  }
  await database.notify({ kind: 'destinations' });
}
