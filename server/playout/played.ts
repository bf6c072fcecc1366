/** What a playout system has played: its days are read as logs, once for as long as they do not grow. */
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { PlayedRead } from '@early-set/core/api/stick';
import type { PlayoutSystem } from '@early-set/core/playout/system';
import { Problem } from '../base/problem.ts';
import type { ChangeContext } from '../changes/context.ts';
import { reasonOf } from '../files/reasons.ts';
import { readLog } from '../hours/airplay.ts';

/** Days that were read, each with the bytes that it had. */
export type PlayedDays = Readonly<Record<string, number>>;

/** A day that was on air lasts no longer than this, in bytes. */
const MAX_DAY = 20_000_000;
/** So many names of what is no track here are told. */
const TOLD = 200;

/** Days that it has written down, with their bytes. */
function daysIn(folder: string, { played }: PlayoutSystem): [name: string, size: number][] {
  const there = join(folder, played);
  if (!existsSync(there)) return [];
  return readdirSync(there)
    .filter((name) => !name.startsWith('.') && /\.csv$/i.test(name))
    .sort()
    .map((name) => [name, statSync(join(there, name)).size]);
}

/** How many days there are, and how many of them have grown since they were read. */
export function playedThere(folder: string, system: PlayoutSystem, read: PlayedDays): { days: number; fresh: number } {
  const days = daysIn(folder, system);
  return { days: days.length, fresh: days.filter(([name, size]) => read[name] !== size).length };
}

/**
 * Reads what it has written down, each day as a change of its own.
 * @param all days that were read already too: what is known of them is passed over
 * @param goesOn asked before each day: false, and it ends there; what was read until then stays read
 * @returns what came of it, and what is to be kept as read
 */
export async function readPlayed(
  changing: ChangeContext,
  folder: string,
  system: PlayoutSystem,
  read: PlayedDays,
  all: boolean,
  goesOn: (done: number, total: number) => boolean = () => true,
): Promise<{ said: PlayedRead; read: PlayedDays }> {
  const said: PlayedRead = { days: [], unmatched: [], failed: [] };
  const now: Record<string, number> = { ...read };
  const wanted = daysIn(folder, system).filter(([name, size]) => all || read[name] !== size);
  for (const [at, [name, size]] of wanted.entries()) {
    if (!goesOn(at, wanted.length)) break;
    try {
      if (size > MAX_DAY) throw new RangeError('It is too large for a log of a day');
      const told = await readLog(changing, name, readFileSync(join(folder, system.played, name), 'utf8'));
      said.days.push({ day: name, read: told.read, known: told.known, matched: told.matched });
      said.unmatched.push(...told.unmatched);
      now[name] = size;
    } catch (error) {
      const reason = error instanceof Problem ? error.message : reasonOf(error);
      said.failed.push({ day: name, reason });
    }
  }
  said.unmatched = [...new Set(said.unmatched)].slice(0, TOLD);
  return { said, read: now };
}
