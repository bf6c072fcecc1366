/** Format clocks: kept as lists that hold no tracks. */
import { randomUUID } from 'node:crypto';
import type { Applied } from '@early-set/core/api/types';
import { createList, describeList } from '@early-set/core/changes/lists';
import { cleanText } from '@early-set/core/fields/text';
import { keptClock, writeClock, type ClockUse, type KeptClock } from '@early-set/core/hours/kept';
import { readClock } from '@early-set/core/hours/readClock';
import { Problem } from '../base/problem.ts';
import { applyDraft, type Applying } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { allLists, infoOf, quoted, stateOf } from '../lists/lists.ts';

/** All format clocks, by the names of their lists. */
export async function allClocks(database: Database): Promise<{ id: string; clock: KeptClock }[]> {
  return (await allLists(database))
    .filter((l) => l.kind === 'clock' && !l.removed && l.clock !== null)
    .map(({ id, name, clock }) => ({ id, clock: { ...keptClock(clock!), name } }));
}

/** @throws Problem with what is wrong about a clock */
function checked(clock: unknown, times: readonly ClockUse[]): KeptClock {
  const read = readClock(clock);
  if (typeof read === 'string') throw new Problem(400, 'bad-clock', `The format clock is not right: ${read}`);
  return { ...read, times };
}

/** Makes a format clock. @param wish as docs/formats/clock.md has it */
export async function makeClock(
  context: Applying,
  wish: { clock: { name: string }; times: readonly ClockUse[] },
): Promise<Applied & { listId: string }> {
  const name = cleanText(wish.clock.name);
  if (!name) throw new Problem(400, 'no-name', 'A format clock needs a name');
  const clock = checked({ ...wish.clock, name }, wish.times);
  const listId = randomUUID();
  const info = { ...infoOf(await allLists(context.database), 'clock', name, null), clock: writeClock(clock) };
  const items = createList(listId, info, [], randomUUID);
  const { applied } = await applyDraft(context, { title: `New format clock ${quoted(name)}`, items });
  return { ...applied, listId };
}

/** Another content for a format clock; hours that were made by it stay as they are. */
export async function changeClock(
  context: Applying,
  id: string,
  wish: { clock: object; times: readonly ClockUse[] },
): Promise<Applied> {
  const state = await stateOf(context.database, id);
  if (state.info.kind !== 'clock') throw new Problem(409, 'no-clock', 'This list is not a format clock');
  const clock = checked({ ...wish.clock, name: state.info.name }, wish.times);
  const items = describeList(id, state, { clock: writeClock(clock) });
  return (await applyDraft(context, { title: `Change format clock ${quoted(state.info.name)}`, items })).applied;
}
