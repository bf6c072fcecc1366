/** Both sides made alike, as far as nothing changes by it: what is to be written is kept, and read back. */
import type { DataFiles } from '@early-set/core/exchange/collection';
import type { Comparison } from '@early-set/core/sync/compare';
import { coversIn, withoutCovers } from '@early-set/core/sync/covers';
import { readBack } from '@early-set/core/sync/readBack';
import { Problem } from '../base/problem.ts';
import type { Asker, Kept } from './asking.ts';
import { openedBy } from './data.ts';
import type { Home } from './home.ts';
import { rememberSame, sameKey, wordsFor, type Looked } from './looked.ts';
import { programFor } from './programs.ts';
import type { States } from './states.ts';

/** @throws Problem where something would be lost by writing */
function written<T>(name: string, write: () => T): T {
  try {
    return write();
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new Problem(409, 'unreadable', `${name} cannot be written: ${error.message}. Nothing was changed`);
  }
}

/** Pictures that are named there are laid there first. @returns those that could not be */
async function layCovers(comparison: Comparison, { covers }: Home, asker: Asker): Promise<ReadonlySet<string>> {
  if (covers === null) return new Set();
  return new Set(await asker.ask('covers', { hashes: coversIn(comparison) }));
}

/**
 * @param texts the data there as they were compared
 * @throws Problem where the program is open, or has changed since
 */
export async function keepBoth(
  { destination, comparison: found, here, hash, folder }: Looked,
  { texts, at, states, asker }: { texts: DataFiles; at: string; states: States; asker: Asker },
): Promise<Kept> {
  const { id, name, settings } = destination;
  const { home, format } = programFor(destination.kind);
  const keys = settings.keys ?? undefined;
  const by = await openedBy(destination.folder, home);
  if (by !== null) throw new Problem(409, 'open', `${name} is open (${by}): close it, then try again`);
  const missing = await layCovers(found, home, asker);
  const comparison = withoutCovers(found, missing);
  const lists = new Map(await asker.ask('draft', { here: comparison.here }));
  const past = {
    ...comparison.past,
    lists: comparison.past.lists.map((l) => (l.listId === '' ? { ...l, listId: lists.get(l.otherId)! } : l)),
  };
  void asker.ask('step', { what: 'writing', done: 0, total: null });
  const changes = written(name, () => format.write(texts, comparison.there, folder, at, keys));
  const before = await states.keep(id, folder, home);
  if (before.hash !== hash) {
    await states.drop(id, before.id);
    throw new Problem(409, 'changed-since', `${name} has changed since: look at it again`);
  }
  const after = await states.keepChanged(id, folder, changes, past, home);
  void asker.ask('step', { what: 'reading back', done: 0, total: null });
  const now = new Map(texts);
  for (const [file, text] of changes) {
    if (text === null) now.delete(file);
    else now.set(file, text);
  }
  const same = readBack(comparison, format.read(now, folder, keys), format.describe);
  await rememberSame(states, id, sameKey({ ...destination, synced: after.id }, folder), same);
  return {
    written: { before, after, words: wordsFor(comparison, missing.size) },
    touched: touchedBy(comparison, here),
  };
}

/** What is only read: it is this side alone that changes. */
export async function keepHere({ comparison, here }: Looked, asker: Asker): Promise<Kept> {
  await asker.ask('draft', { here: comparison.here });
  return { written: null, touched: touchedBy(comparison, here) };
}

function touchedBy({ here: { fields } }: Comparison, here: Looked['here']): Kept['touched'] {
  const touched = new Set(fields.map((f) => f.trackId));
  return here.tracks.flatMap((t) => (touched.has(t.id) ? [{ trackId: t.id, print: t.print! }] : []));
}
