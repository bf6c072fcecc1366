/** The run that compares tracks: each that was not compared since it was measured, with those that sound like it. */
import type { CompareReport } from '@early-set/core/api/disk';
import { proposals, type Proposals } from '@early-set/core/duplicates/propose';
import { MAX_NEAR, pairOf, whomToCompare, type ComparedPair, type Why } from '@early-set/core/duplicates/whom';
import { oneAfterAnother, type InTurn } from '../changes/editOrder.ts';
import type { Database } from '../db/database.ts';
import { defineRun, type DefinedRun, type RunHand } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import type { ComparePool } from './comparePool.ts';
import { allPrints, likeThem, printsOf, soundsOf, storeCompared, waitingTracks } from './duplicateStore.ts';
import { hereAlready } from './duplicates.ts';

/** After so many fingerprints others get their turn. */
const YIELD_AFTER = 40;
const BATCH = 200;

export type CompareRun = DefinedRun<Record<string, never>>;

const breathe = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

export function compareRun(tools: { database: Database; queue: Queue }, pool: ComparePool): CompareRun {
  const { database } = tools;
  const inTurn = oneAfterAnother();
  return defineRun<Record<string, never>>(tools, {
    kind: 'duplicates',
    task: 'compare',
    priority: 10,
    queueName: () => 'compare',
    async work(hand) {
      const waiting = await waitingTracks(database);
      await hand.tell({ total: waiting.length });
      const index = waiting.length > 0 ? await indexed(database, hand.signal) : null;
      let done = 0,
        pairs = 0;
      for (let from = 0; from < waiting.length; from += BATCH) {
        const ids = waiting.slice(from, from + BATCH);
        const like = await likeThem(database, ids);
        const prints = await printsOf(database, ids);
        await inParallel(ids, pool.threads, async (id) => {
          pairs += await compareOne(database, pool, hand, id, nearOf(id, like, prints, index!), inTurn);
          await hand.tell({ done: ++done });
        });
      }
      await database.notify({ kind: 'tracks' });
      const already = pairs > 0 ? await hereAlready(database, new Set(waiting)) : { here: 0, better: 0 };
      const report: CompareReport = { compared: done, pairs, ...already };
      return { report, total: waiting.length, done };
    },
    async ended() {
      await database.notify({ kind: 'tracks' });
    },
  });
}

interface Indexed {
  sounds: Proposals;
  /** The track of each number of the index. */
  ids: number[];
}

async function indexed(database: Database, signal: AbortSignal): Promise<Indexed> {
  const sounds = proposals(),
    ids: number[] = [];
  for await (const { id, words } of allPrints(database)) {
    ids[sounds.add(words)] = id;
    if (ids.length % YIELD_AFTER === 0) await breathe();
    signal.throwIfAborted();
  }
  return { sounds, ids };
}

function nearOf(
  id: number,
  like: Awaited<ReturnType<typeof likeThem>>,
  prints: ReadonlyMap<number, Uint32Array>,
  { sounds, ids }: Indexed,
): Map<number, Why> {
  const own = like.filter((one) => one.id === id);
  const words = prints.get(id);
  return whomToCompare(id, {
    bytes: own.filter((one) => one.bytes).map((one) => one.other),
    name: own.filter((one) => !one.bytes).map((one) => one.other),
    sound: words ? sounds.near(words, MAX_NEAR).map((at) => ids[at]!) : [],
  });
}

/** Compares a track with each; returns how many it is something to. */
async function compareOne(
  database: Database,
  pool: ComparePool,
  { signal }: RunHand<object>,
  id: number,
  near: ReadonlyMap<number, Why>,
  inTurn: InTurn,
): Promise<number> {
  const pairs: ComparedPair[] = [];
  for (const [other, why] of near) {
    signal.throwIfAborted();
    const both = [Math.min(id, other), Math.max(id, other)] as const;
    const sounds = why === 'bytes' ? null : await soundsOf(database, both);
    if (why !== 'bytes' && sounds === null) continue;
    const pair = pairOf(both, why, sounds && (await pool.compare(...sounds, signal)));
    if (pair) pairs.push(pair);
  }
  // Two at once could wait for each other's pairs.
  await inTurn(() =>
    storeCompared(database, id, pairs, new Set(pairs.map((p) => (p.first === id ? p.second : p.first)))),
  );
  return pairs.length;
}

/** Works through some, so many at a time. */
async function inParallel<T>(items: readonly T[], most: number, work: (item: T) => Promise<void>): Promise<void> {
  const left = [...items];
  const next = async (): Promise<void> => {
    for (let item = left.shift(); item !== undefined; item = left.shift()) await work(item);
  };
  await Promise.all(Array.from({ length: most }, next));
}
