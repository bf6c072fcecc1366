/** The run of a look-up: one group after the other is asked for, and what was found is stored. */
import type { Candidate, LookupReport, LookupWish } from '@early-set/core/api/catalogue';
import { fillerPolicies, proposals } from '@early-set/core/catalogue/proposals';
import type { Database } from '../db/database.ts';
import type { Run } from '../db/models.ts';
import { againTitle, defineRun, type RunEnd } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import { Problem } from '../base/problem.ts';
import { ServiceDown } from '../base/patiently.ts';
import { serviceAddress } from '../db/services.ts';
import { openCatalogue, type Catalogue } from './client.ts';
import { findByFields, findBySound } from './search.ts';
import { GROUP, groupTracks, lookedUp, storeFound, type GroupRow, type LookupRun, type OfLookup } from './lookups.ts';

/** Groups in a row that could not be asked; then the catalogue is left in peace. */
const GIVE_UP = 3;

/** Defines it. One look-up at a time, however many processes there are: the catalogue is asked by one. */
export function lookupRun(tools: { database: Database; queue: Queue }): LookupRun {
  const { database } = tools;
  const trouble = (lookupId: number, words: string | null): void => {
    void database
      .run('UPDATE lookups SET trouble = $2 WHERE id = $1', [lookupId, words])
      .then(() => database.notify({ kind: 'catalogue' }))
      .catch(() => undefined);
  };
  return defineRun<OfLookup>(tools, {
    kind: 'lookup',
    task: 'lookup',
    priority: -20,
    queueName: () => 'catalogue',
    async work({ run, payload: { lookupId }, signal, tell }) {
      const lookup = await wishOf(database, lookupId);
      const address = await serviceAddress(database, 'catalogue');
      if (address === null) throw new Problem(409, 'no-catalogue', 'No catalogue is set up on this desk');
      const catalogue = openCatalogue(database, address, { signal, trouble: (words) => trouble(lookupId, words) });
      let downs = 0;
      while (downs < GIVE_UP) {
        signal.throwIfAborted();
        const next = await nextGroup(database, lookupId);
        if (!next) break;
        await tell({ current: next.name });
        await database.notify({ kind: 'catalogue' });
        try {
          const state = await storeFound(database, next.id, await find(database, catalogue, lookup.how, next));
          downs = 0;
          await run.increment(state === 'none' ? 'failed' : 'done');
        } catch (error) {
          if (!(error instanceof ServiceDown)) throw error;
          await database.run("UPDATE lookup_groups SET state = 'failed', reason = $2 WHERE id = $1", [
            next.id,
            error.message,
          ]);
          await run.increment('failed');
          downs++;
        }
      }
      if (downs < GIVE_UP) return { report: await reportOf(database, lookupId, run) };
      await passOver(database, lookupId, 'Not asked: the catalogue is down');
      const reason = 'The catalogue is down; what was not asked can be tried again';
      return { report: await reportOf(database, lookupId, run), reason };
    },
    async callOff({ lookupId }, run, words): Promise<RunEnd> {
      await passOver(database, lookupId, words);
      return { report: await reportOf(database, lookupId, run) };
    },
    async again({ lookupId }, run, t) {
      const groups = await database.rows(
        `UPDATE lookup_groups SET state = 'waiting', reason = NULL WHERE lookup_id = $1
          AND state IN ('failed', 'none') RETURNING id`,
        [lookupId],
        t,
      );
      return groups.length ? { title: againTitle(run.title), total: groups.length } : null;
    },
    started: ({ lookupId }, runId, t) =>
      database.run('UPDATE lookups SET run_id = $2 WHERE id = $1', [lookupId, runId], t),
    async ended({ lookupId }) {
      trouble(lookupId, null);
      await database.notify({ kind: 'catalogue' });
    },
  });
}

const wishOf = async (database: Database, lookupId: number): Promise<Pick<LookupWish, 'how' | 'fill'>> => {
  const [lookup] = await database.rows<Pick<LookupWish, 'how' | 'fill'>>(
    'SELECT how, fill FROM lookups WHERE id = $1',
    [lookupId],
  );
  if (!lookup) throw new Problem(404, 'not-found', 'The look-up is not there any more');
  return lookup;
};

const nextGroup = async (database: Database, lookupId: number): Promise<GroupRow | undefined> =>
  (
    await database.rows<GroupRow>(`${GROUP} WHERE g.lookup_id = $1 AND g.state = 'waiting' ORDER BY g.id LIMIT 1`, [
      lookupId,
    ])
  )[0];

/** Groups that wait are not asked for any more; returns how many. */
const passOver = async (database: Database, lookupId: number, reason: string): Promise<number> =>
  (
    await database.rows(
      "UPDATE lookup_groups SET state = 'failed', reason = $2 WHERE lookup_id = $1 AND state = 'waiting' RETURNING id",
      [lookupId, reason],
    )
  ).length;

async function reportOf(database: Database, lookupId: number, run: Run): Promise<LookupReport> {
  const { fill } = await wishOf(database, lookupId);
  const rows = await database.rows<{ state: string; n: number }>(
    'SELECT state, count(*) AS n FROM lookup_groups WHERE lookup_id = $1 GROUP BY state',
    [lookupId],
  );
  const counts = new Map(rows.map((r) => [r.state, r.n]));
  return {
    found: counts.get('found') ?? 0,
    unsure: counts.get('unsure') ?? 0,
    none: counts.get('none') ?? 0,
    failed: counts.get('failed') ?? 0,
    seconds: (Date.now() - run.startedAt.getTime()) / 1000,
    ...(fill ? await fillCounts(database, lookupId, fill) : { filled: 0, notFilled: 0 }),
  };
}

async function find(
  database: Database,
  catalogue: Catalogue,
  how: LookupWish['how'],
  group: GroupRow,
): Promise<Candidate[]> {
  const tracks = (await groupTracks(database, group.trackIds)).map(lookedUp);
  if (how === 'fields') return findByFields(catalogue, group, tracks);
  const prints = new Map(
    (
      await database.rows<{ id: number; fingerprint: Buffer }>(
        'SELECT track_id AS id, fingerprint FROM analyses WHERE track_id = ANY($1::int[]) AND fingerprint IS NOT NULL',
        [group.trackIds],
      )
    ).map((r) => [r.id, r.fingerprint.toString('base64')]),
  );
  return findBySound(catalogue, group, tracks, (id) => prints.get(id) ?? null);
}

/** Tracks that a filler would fill, and those for which nothing sure was found. */
async function fillCounts(
  database: Database,
  lookupId: number,
  fill: NonNullable<LookupWish['fill']>,
): Promise<{ filled: number; notFilled: number }> {
  const policies = fillerPolicies(fill.fields, fill.clear);
  let filled = 0,
    all = 0;
  for (const group of await database.rows<GroupRow>(`${GROUP} WHERE g.lookup_id = $1`, [lookupId])) {
    all += group.trackIds.length;
    const candidate = group.state === 'found' ? group.candidates.find((c) => c.release.id === group.chosen) : undefined;
    if (!candidate) continue;
    for (const t of await groupTracks(database, group.trackIds)) {
      const line = candidate.match.lines[t.id];
      if (
        line !== undefined &&
        proposals(t.values, t.locked, candidate.release, candidate.release.tracks[line]!, policies).some((p) => p.taken)
      )
        filled++;
    }
  }
  return { filled, notFilled: all - filled };
}
