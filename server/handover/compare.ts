/** A destination compared with the library, and what somebody has chosen made so on both sides. */
import { join } from 'node:path';
import type { ComparisonAnswer, SyncStep, SyncWish } from '@early-set/core/api/handover';
import type { Applied } from '@early-set/core/api/types';
import { writeDestination } from '@early-set/core/changes/kinds/writeDestination';
import type { ChangeItem } from '@early-set/core/changes/items';
import type { Choices } from '@early-set/core/sync/compareTracks';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import { editInTurn } from '../changes/edits.ts';
import type { Database } from '../db/database.ts';
import type { ArtStore } from '../media/art.ts';
import type { Answers, Found, Kept } from './asking.ts';
import { layCovers } from './covers.ts';
import { destinationOf, isDestination, rememberLooked, type KeptDestination } from './destinations.ts';
import { draftHere } from './draftHere.ts';
import { listsHere, originsFor, printsOf, tracksAhead, valuesFor, withSounds } from './library.ts';
import type { LookPool } from './lookPool.ts';
import { programFor } from './programs.ts';
import type { States } from './states.ts';
import { tiesOf } from './ties.ts';

export interface Handover {
  database: Database;
  changing: ChangeContext;
  states: States;
  art: ArtStore;
  lookPool: LookPool;
  /** Where states are kept. */
  dataFolder: string;
  /** How far each is, by id, while somebody waits. */
  steps: Map<number, SyncStep>;
}

interface Looked extends Found {
  destination: KeptDestination;
  /** What is to be done here. */
  items: ChangeItem[];
  /** Lists as they were compared. */
  listsHere: string;
}

async function look(
  { database, states, art, lookPool, dataFolder, steps }: Handover,
  id: number,
  { choices, apply, gone }: { choices: Choices; apply: { token: string; at: string } | null; gone?: AbortSignal },
): Promise<Looked> {
  const destination = await destinationOf(database, id);
  const { format, home } = programFor(destination.kind);
  let items: ChangeItem[] = [];
  let lists = '';
  let tracks = tracksAhead(database);
  const answers: Answers = {
    async tracks({ first }) {
      if (first) tracks = tracksAhead(database);
      const { value } = await tracks.next();
      return value ?? null;
    },
    async lists() {
      const told = await listsHere(database, destination.settings.lists);
      lists = JSON.stringify(told);
      return told;
    },
    ties: () => tiesOf(database, `destination:${id}`),
    values: ({ ids, which }) => valuesFor(database, ids, which),
    sounds: ({ sounds }) => withSounds(database, sounds),
    origins: ({ ids }) => originsFor(database, ids),
    async draft({ here }) {
      const drafted = await draftHere(database, here, format.describe, apply?.at ?? new Date().toISOString());
      // Asked again where the first thread was too small.
      items = drafted.items;
      return [...drafted.lists];
    },
    covers: ({ hashes }) =>
      layCovers(
        art,
        { hashes, folder: join(destination.folder, home.covers!), maxPixels: format.describe.covers!.maxPixels },
        (done) => steps.set(id, { what: 'writing covers', done, total: hashes.length }),
        gone,
      ),
    step(step) {
      steps.set(id, step);
      return Promise.resolve(null);
    },
  };
  try {
    const found = await lookPool.look({ destination, dataFolder, choices, apply }, answers, gone);
    return { ...found, destination, items, listsHere: lists };
  } finally {
    steps.delete(id);
    // Taken out meanwhile: what was noted of it goes as well.
    if (!(await isDestination(database, id))) await states.forget(id);
  }
}

/** Compares. @param choices what somebody has chosen for lines */
export async function compareWith(
  handover: Handover,
  id: number,
  choices: Choices,
  gone?: AbortSignal,
): Promise<ComparisonAnswer> {
  const { comparison, lists } = await look(handover, id, { choices, apply: null, ...(gone ? { gone } : {}) });
  const { out, in: back, clash } = comparison.groups;
  if (Object.keys(choices).length === 0)
    await rememberLooked(handover.database, id, { out, in: back, clash, at: new Date().toISOString(), lists });
  return { destinationId: id, ...comparison };
}

/** Has somebody changed here meanwhile what is about to be changed? */
async function changedHere({ database }: Handover, { destination, items, listsHere: was }: Looked, { touched }: Kept) {
  const now = await printsOf(
    database,
    touched.map((t) => t.trackId),
  );
  if (touched.some(({ trackId, print }) => now.get(trackId) !== print)) return true;
  if (!items.some((item) => 'listId' in item)) return false;
  return JSON.stringify(await listsHere(database, destination.settings.lists)) !== was;
}

/**
 * Makes both sides what the comparison says, as one change. Others may edit until it is about to be made.
 * @param gone nobody waits for it any more: nothing is changed where it was not made yet
 * @throws Problem where either side has changed since, or the program is open
 */
export async function syncWith(
  handover: Handover,
  id: number,
  { token, choices }: SyncWish,
  gone?: AbortSignal,
): Promise<Applied> {
  const apply = { token, at: new Date().toISOString() };
  const looked = await look(handover, id, { choices, apply, ...(gone ? { gone } : {}) });
  const { destination, items } = looked;
  const { written } = looked.kept!;
  return editInTurn(handover.changing, async (): Promise<Draft> => {
    const why = gone?.aborted
      ? new Problem(400, 'cancelled', 'It was cancelled')
      : (await changedHere(handover, looked, looked.kept!))
        ? new Problem(409, 'changed-since', 'Something was changed here meanwhile: look at it again')
        : null;
    if (why) {
      if (written) for (const state of [written.before, written.after]) await handover.states.drop(id, state.id);
      throw why;
    }
    if (!written) return { title: `Taken over from ${destination.name}`, items };
    const { before, after, words } = written;
    return {
      title: `Sync with ${destination.name}`,
      items: [
        ...items,
        writeDestination({
          ...{ destinationId: id, name: destination.name, text: words },
          before: { data: before.id, hash: before.hash, past: destination.synced },
          after: { data: after.id, hash: after.hash, past: after.id },
        }),
      ],
    };
  });
}
