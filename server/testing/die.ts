/** A process of its own that carries out a change set and is killed at a step, as by kill -9. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundle } from '../../scripts/lib/build.mjs';
import type { WorkStep } from '../changes/context.ts';
import type { Harness } from './harness.ts';

const OUT = join(process.cwd(), 'dist/test');

/** Builds it; before the first `die`. */
export const buildKiller = (): Promise<void> =>
  bundle({ writeAndDie: 'server/testing/writeAndDie.ts', backUpAndDie: 'server/testing/backUpAndDie.ts' }, OUT);

/** Works on a change set and dies at a step of a track. @throws Error when it ended in any other way */
export function die(h: Harness, changeSetId: number, step: WorkStep, trackId: number): void {
  const thread = pathToFileURL(join(process.cwd(), 'dist/server/fileThread.mjs')).href;
  const args = [h.databaseUrl, join(h.folder, 'data/art'), thread, String(changeSetId), step, String(trackId)];
  const died = spawnSync(process.execPath, [join(OUT, 'writeAndDie.mjs'), ...args], { encoding: 'utf8' });
  if (died.signal !== 'SIGKILL' || died.stderr !== '')
    throw new Error(`It was not killed at the step ${step}: ${died.signal ?? died.status} ${died.stderr}`);
}

/** Makes or restores a backup in a process that dies when it says a step. @throws Error when it ended otherwise */
export const dieInBackup = (h: Harness, folder: string, step: string, restored = ''): void =>
  dieWith([h.databaseUrl, join(h.folder, 'data'), folder, step, restored], step);

/** Writes or reads a bundle in a process that dies when it says a step. @throws Error when it ended otherwise */
export const dieInBundle = (
  desk: { databaseUrl: string; dataFolder: string },
  what: 'read' | 'write',
  path: string,
  step: string,
): void => dieWith([desk.databaseUrl, desk.dataFolder, '', step, path, what], step);

function dieWith(args: string[], step: string): void {
  const died = spawnSync(process.execPath, [join(OUT, 'backUpAndDie.mjs'), ...args], { encoding: 'utf8' });
  if (died.signal !== 'SIGKILL' || died.stderr !== '')
    throw new Error(`It was not killed at the step ${step}: ${died.signal ?? died.status} ${died.stderr}`);
}
