/**
 * What a program itself says of data that are to be put in its place, where it can be asked: stand-ins come with such a
 * checker, an outside program with a folder for it.
 */
import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Problem } from '../base/problem.ts';

/** Where the checkers of programs are, as KIND.mjs; null: nobody can be asked. */
let checkers: string | null = process.env.EARLY_SET_CHECKERS ?? null;
export const setCheckers = (folder: string | null): void => void (checkers = folder);

export interface CheckerAnswer {
  tracks: number;
  lists: number;
  /** What it would refuse, or show otherwise than meant. */
  refused: string[];
}

const MOST_OUTPUT = 64 * 1024 * 1024;

/** Asks a program's checker. @param data where the data lie; @param as where they will lie; null without a checker */
export async function askChecker(kind: string, data: string, as: string): Promise<CheckerAnswer | null> {
  const program = checkers === null ? null : join(checkers, `${kind}.mjs`);
  if (program === null || !existsSync(program)) return null;
  const text = await new Promise<string>((resolve, reject) => {
    execFile(
      process.execPath,
      [program, 'check', '--data', data, '--as', as],
      { maxBuffer: MOST_OUTPUT, timeout: 120_000 },
      (error, stdout) => (stdout ? resolve(stdout) : reject(error ?? new Error('it said nothing'))),
    );
  });
  return JSON.parse(text) as CheckerAnswer;
}

/** @throws Problem with what the checker refuses that it has not refused before */
export async function checkedBy(kind: string, name: string, staged: string, data: string): Promise<void> {
  const answer = await askChecker(kind, staged, data);
  if (!answer || answer.refused.length === 0) return;
  const before = new Set((await askChecker(kind, data, data))?.refused ?? []);
  const more = answer.refused.filter((r) => !before.has(r));
  if (more.length > 0)
    throw new Problem(
      409,
      'refused',
      `${name} would refuse it: ${more[0]!}${more.length > 1 ? ` (and ${more.length - 1} more)` : ''}`,
    );
}
