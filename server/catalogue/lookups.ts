/** Look-ups: tracks put into groups, each group compared with what the catalogue has, one run of work. */
import type {
  Candidate,
  GroupDetails,
  GroupTrack,
  Lookup,
  LookupGroup,
  LookupReport,
  LookupWish,
} from '@early-set/core/api/catalogue';
import { clusterTracks } from '@early-set/core/catalogue/clusters';
import { judgeLines } from '@early-set/core/catalogue/match';
import { fillerPolicies, proposals } from '@early-set/core/catalogue/proposals';
import type { LookedUp } from '@early-set/core/catalogue/releases';
import { CLEAN_FIELDS } from '@early-set/core/clean/steps';
import { fieldOf } from '@early-set/core/fields/table';
import type { TrackValues } from '@early-set/core/fields/values';
import type { Origins } from '@early-set/core/api/types';
import type { Task } from 'graphile-worker';
import type { Database } from '../db/database.ts';
import { Run } from '../db/models.ts';
import type { Queue } from '../jobs/queue.ts';
import { selectedIds } from '../library/sheet.ts';
import { lockedIn } from '../library/trackStore.ts';
import { notFound, Problem } from '../problem.ts';
import { catalogueAddress, CatalogueDown, openCatalogue, type Catalogue } from './client.ts';
import { findByFields, findBySound, isSure } from './finding.ts';

const MOST_TRACKS = 50_000;
const SELECT = CLEAN_FIELDS.map(fieldOf)
  .map((f) => `t.${f.column} AS "${f.id}"`)
  .join(', ');

/** Tracks as groups show them, in the order of their folders. */
export async function groupTracks(database: Database, ids: readonly number[]): Promise<GroupTrack[]> {
  const rows = await database.rows<
    {
      id: number;
      rootId: number;
      path: string;
      seconds: number | null;
      artHash: string | null;
      origins: Origins | null;
    } & TrackValues
  >(
    `SELECT t.id, t.root_id AS "rootId", t.path, t.duration_seconds AS seconds, t.art_hash AS "artHash", o.origins, ${SELECT} FROM tracks t LEFT JOIN track_origins o ON o.track_id = t.id WHERE t.id = ANY($1::int[]) ORDER BY t.root_id, t.path LIMIT ${MOST_TRACKS}`,
    [[...ids]],
  );
  return rows.map(({ id, rootId, path, seconds, artHash, origins, ...values }) => ({
    id,
    rootId,
    path,
    seconds,
    artHash,
    values: values as TrackValues,
    locked: lockedIn(origins),
  }));
}

const text = (value: unknown): string => (typeof value === 'string' ? value : '');
const number = (value: unknown): number | null => (typeof value === 'number' ? value : null);
export const lookedUp = ({ id, rootId, path, seconds, values: v }: GroupTrack): LookedUp => ({
  id,
  rootId,
  path,
  seconds,
  title: text(v.title),
  version: text(v.version),
  artists: Array.isArray(v.artist) ? v.artist : [],
  album: text(v.album),
  albumArtist: text(v.albumArtist),
  trackNumber: number(v.trackNumber),
  discNumber: number(v.discNumber),
  year: number(v.year),
});

/** Makes a look-up and queues its work. @throws Problem when there is nothing to look up, or no catalogue */
export async function makeLookup(
  database: Database,
  queue: Queue,
  wish: LookupWish,
): Promise<{ id: number; runId: number }> {
  if ((await catalogueAddress(database)) === null)
    throw new Problem(409, 'no-catalogue', 'No catalogue is set up on this desk');
  const tracks = await groupTracks(database, await selectedIds(database, wish.selection));
  if (tracks.length === 0) throw new Problem(409, 'nothing-to-do', 'There are no tracks to look up');
  const clusters = clusterTracks(tracks.map(lookedUp), wish.tearApart);
  const title = `${wish.fill ? `Fill ${wish.fill.fields.map((f) => fieldOf(f).label.toLowerCase()).join(' and ')} of` : 'Look up'} ${tracks.length === 1 ? 'one track' : `${tracks.length.toLocaleString('en-GB')} tracks`}${wish.how === 'sound' ? ' by sound' : ''}`;
  const run = await Run.create({ kind: 'lookup', title, total: clusters.length });
  const [made] = await database.rows<{ id: number }>(
    'INSERT INTO lookups (title, how, fill, run_id) VALUES ($1, $2, $3::jsonb, $4) RETURNING id',
    [title, wish.how, JSON.stringify(wish.fill), run.id],
  );
  await database.run(
    `INSERT INTO lookup_groups (lookup_id, kind, name, folder, track_ids, query) SELECT $1, v.kind, v.name, v.folder, ARRAY(SELECT jsonb_array_elements_text(v."trackIds")::int), v.query
     FROM jsonb_to_recordset($2::jsonb) AS v(kind text, name text, folder text, "trackIds" jsonb, query jsonb)`,
    [made!.id, JSON.stringify(clusters)],
  );
  await addJob(queue, made!.id);
  await database.notify({ kind: 'run', runId: run.id });
  await database.notify({ kind: 'catalogue' });
  return { id: made!.id, runId: run.id };
}

/** One look-up at a time, however many processes there are: the catalogue is asked by one. */
const addJob = (queue: Queue, lookupId: number): Promise<void> =>
  queue.add([
    { task: 'lookup', key: `lookup:${lookupId}`, payload: { lookupId }, priority: -20, queueName: 'catalogue' },
  ]);

interface GroupRow {
  id: number;
  kind: 'album' | 'single';
  name: string;
  folder: string;
  trackIds: number[];
  query: GroupDetails['query'];
  state: LookupGroup['state'];
  reason: string | null;
  candidates: Candidate[];
  chosen: string | null;
  score: number | null;
}
const GROUP = `SELECT g.id, g.kind, g.name, g.folder, g.track_ids AS "trackIds", g.query, g.reason, g.candidates, g.chosen, g.score,
  CASE WHEN g.state = 'applied' AND (g.change_set_id IS NULL OR c.undone_by IS NOT NULL) THEN 'found' ELSE g.state END AS state FROM lookup_groups g LEFT JOIN change_sets c ON c.id = g.change_set_id`;

export async function groupRow(database: Database, lookupId: number, groupId: number): Promise<GroupRow> {
  const [row] = await database.rows<GroupRow>(`${GROUP} WHERE g.lookup_id = $1 AND g.id = $2`, [lookupId, groupId]);
  if (!row) throw notFound('The group');
  return row;
}

/** A look-up with its groups; null when there is none. */
export async function lookupById(database: Database, id: number | null): Promise<Lookup | null> {
  const [row] = await database.rows<Omit<Lookup, 'groups'>>(
    `SELECT l.id, l.title, l.how, l.fill, l.run_id AS "runId", COALESCE(r.state = 'running', FALSE) AS running, l.trouble, l.made_at AS "madeAt" FROM lookups l LEFT JOIN runs r ON r.id = l.run_id
     WHERE $1::int IS NULL OR l.id = $1 ORDER BY l.id DESC LIMIT 1`,
    [id],
  );
  if (!row) return null;
  const groups = await database.rows<LookupGroup>(
    `SELECT id, kind, name, folder, state, reason, score, cardinality("trackIds") AS tracks FROM (${GROUP} WHERE g.lookup_id = $1) g ORDER BY id`,
    [row.id],
  );
  return { ...row, groups };
}

export async function groupDetails(database: Database, lookupId: number, groupId: number): Promise<GroupDetails> {
  const { trackIds, ...row } = await groupRow(database, lookupId, groupId);
  return { ...row, tracks: trackIds.length, trackList: await groupTracks(database, trackIds) };
}

/** Chooses another release, other lines, other words, or skips. */
export async function changeGroup(
  database: Database,
  lookupId: number,
  groupId: number,
  wish: { chosen?: string; lines?: Record<number, number>; skipped?: boolean; query?: GroupDetails['query'] },
): Promise<GroupDetails> {
  const row = await groupRow(database, lookupId, groupId);
  const tracks = (await groupTracks(database, row.trackIds)).map(lookedUp);
  if (wish.query) {
    const address = await catalogueAddress(database);
    if (address === null) throw new Problem(409, 'no-catalogue', 'No catalogue is set up on this desk');
    try {
      const found = await findByFields(
        openCatalogue(database, address, { tries: 3 }),
        { kind: row.kind, query: wish.query },
        tracks,
      );
      await database.run('UPDATE lookup_groups SET query = $2::jsonb WHERE id = $1', [
        groupId,
        JSON.stringify(wish.query),
      ]);
      await storeFound(database, groupId, found);
    } catch (error) {
      if (error instanceof CatalogueDown)
        throw new Problem(503, 'catalogue-down', `${error.message}. Try again in a moment`);
      throw error;
    }
  }
  if (wish.chosen !== undefined || wish.lines) {
    const id = wish.chosen ?? row.chosen,
      at = row.candidates.findIndex((c) => c.release.id === id),
      candidate = row.candidates[at];
    if (!candidate) throw notFound('The release');
    const lines = wish.lines ?? candidate.match.lines;
    if (
      Object.values(lines).some((l) => l < 0 || l >= candidate.release.tracks.length) ||
      new Set(Object.values(lines)).size !== Object.values(lines).length
    )
      throw new Problem(400, 'bad-lines', 'Two tracks cannot be on one line');
    const match = wish.lines ? judgeLines(tracks, candidate.release, lines, row.kind === 'album') : candidate.match;
    const candidates = row.candidates.map((c, i) => (i === at ? { ...c, match } : c));
    await database.run(
      'UPDATE lookup_groups SET candidates = $2::jsonb, chosen = $3, score = $4, state = $5 WHERE id = $1',
      [groupId, JSON.stringify(candidates), id, match.score, match.score > 0 ? 'found' : 'unsure'],
    );
  }
  if (wish.skipped !== undefined)
    await database.run('UPDATE lookup_groups SET state = $2 WHERE id = $1', [
      groupId,
      wish.skipped ? 'skipped' : row.candidates.length ? 'unsure' : 'none',
    ]);
  await database.notify({ kind: 'catalogue' });
  return groupDetails(database, lookupId, groupId);
}

async function storeFound(
  database: Database,
  groupId: number,
  candidates: readonly Candidate[],
): Promise<LookupGroup['state']> {
  const state = candidates.length === 0 ? 'none' : isSure(candidates) ? 'found' : 'unsure';
  await database.run(
    'UPDATE lookup_groups SET state = $2, candidates = $3::jsonb, chosen = $4, score = $5, reason = NULL WHERE id = $1',
    [groupId, state, JSON.stringify(candidates), candidates[0]?.release.id ?? null, candidates[0]?.match.score ?? null],
  );
  return state;
}

/** Groups in a row that could not be asked; then the catalogue is left in peace. */
const GIVE_UP = 3;

export function lookupTask(database: Database): { task: Task; cancel: (runId: number) => void; abortAll: () => void } {
  const inHand = new Map<number, AbortController>();
  let stopping = false;
  const task: Task = async (payload) => {
    const { lookupId } = payload as { lookupId: number };
    const [lookup] = await database.rows<{ runId: number | null; how: LookupWish['how']; fill: LookupWish['fill'] }>(
      'SELECT run_id AS "runId", how, fill FROM lookups WHERE id = $1',
      [lookupId],
    );
    const run = await Run.findByPk(lookup?.runId ?? 0),
      address = await catalogueAddress(database);
    if (!lookup || !run || run.state !== 'running') return;
    const controller = new AbortController();
    inHand.set(run.id, controller);
    const tell = async (current: string | null): Promise<void> => {
      await run.update({ current });
      await database.notify({ kind: 'run', runId: run.id });
      await database.notify({ kind: 'catalogue' });
    };
    const trouble = (words: string | null): void => {
      void database
        .run('UPDATE lookups SET trouble = $2 WHERE id = $1', [lookupId, words])
        .then(() => database.notify({ kind: 'catalogue' }))
        .catch(() => undefined);
    };
    try {
      if (address === null) {
        await run.update({ state: 'failed', reason: 'No catalogue is set up on this desk' });
        return;
      }
      const catalogue = openCatalogue(database, address, { signal: controller.signal, trouble });
      let downs = 0;
      for (;;) {
        const [next] = await database.rows<GroupRow>(
          `${GROUP} WHERE g.lookup_id = $1 AND g.state = 'waiting' ORDER BY g.id LIMIT 1`,
          [lookupId],
        );
        if (!next) break;
        await tell(next.name);
        try {
          const state = await storeFound(database, next.id, await find(database, catalogue, lookup.how, next));
          downs = 0;
          await run.increment(state === 'none' ? 'failed' : 'done');
        } catch (error) {
          if (!(error instanceof CatalogueDown)) throw error;
          await database.run("UPDATE lookup_groups SET state = 'failed', reason = $2 WHERE id = $1", [
            next.id,
            error.message,
          ]);
          await run.increment('failed');
          if (++downs >= GIVE_UP) {
            await database.run(
              "UPDATE lookup_groups SET state = 'failed', reason = 'Not asked: the catalogue is down' WHERE lookup_id = $1 AND state = 'waiting'",
              [lookupId],
            );
            await run.update({
              state: 'failed',
              reason: 'The catalogue is down; what was not asked can be tried again',
            });
            break;
          }
        }
      }
    } catch (error) {
      if (stopping) throw error; // the job is kept for the next start
      if (!controller.signal.aborted) throw error;
    } finally {
      inHand.delete(run.id);
      if (!stopping) await end(lookupId, run, lookup.fill);
      trouble(null);
    }
  };

  async function end(lookupId: number, run: Run, fill: LookupWish['fill']): Promise<void> {
    await run.reload();
    await database.run(
      "UPDATE lookup_groups SET state = 'failed', reason = 'Cancelled before its turn came' WHERE lookup_id = $1 AND state = 'waiting'",
      [lookupId],
    );
    const counts = Object.fromEntries(
      (
        await database.rows<{ state: string; n: number }>(
          'SELECT state, count(*) AS n FROM lookup_groups WHERE lookup_id = $1 GROUP BY state',
          [lookupId],
        )
      ).map((r) => [r.state, r.n]),
    );
    const finishedAt = new Date();
    const filler = fill ? await fillCounts(database, lookupId, fill) : { filled: 0, notFilled: 0 };
    const report: LookupReport = {
      found: counts.found ?? 0,
      unsure: counts.unsure ?? 0,
      none: counts.none ?? 0,
      failed: counts.failed ?? 0,
      seconds: (finishedAt.getTime() - run.startedAt.getTime()) / 1000,
      ...filler,
    };
    await run.update({ state: run.state === 'running' ? 'done' : run.state, current: null, finishedAt, report });
    await database.notify({ kind: 'run', runId: run.id });
    await database.notify({ kind: 'catalogue' });
  }

  return {
    task,
    cancel: (runId) => inHand.get(runId)?.abort(new Error('cancelled')),
    abortAll: () => {
      stopping = true;
      for (const c of inHand.values()) c.abort(new Error('stopping'));
    },
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

/** Starts again what is left of a look-up: what was not asked, or not found. */
export async function goOn(database: Database, queue: Queue, lookupId: number): Promise<void> {
  const lookup = await lookupById(database, lookupId);
  if (!lookup) throw notFound('The look-up');
  if (lookup.running) throw new Problem(409, 'running', 'It is still running');
  const waiting = await database.rows(
    "UPDATE lookup_groups SET state = 'waiting', reason = NULL WHERE lookup_id = $1 AND state IN ('failed', 'none') RETURNING id",
    [lookupId],
  );
  if (waiting.length === 0) throw new Problem(409, 'nothing-to-do', 'Nothing is left to ask');
  const run = await Run.create({ kind: 'lookup', title: `${lookup.title}, again`, total: waiting.length });
  await database.run('UPDATE lookups SET run_id = $2 WHERE id = $1', [lookupId, run.id]);
  await addJob(queue, lookupId);
  await database.notify({ kind: 'run', runId: run.id });
  await database.notify({ kind: 'catalogue' });
}

/** Stops a look-up; what was found stays. */
export async function cancelLookup(database: Database, queue: Queue, run: Run): Promise<void> {
  await run.update({ state: 'cancelled' });
  const [lookup] = await database.rows<{ id: number }>('SELECT id FROM lookups WHERE run_id = $1', [run.id]);
  if (lookup) {
    await queue.drop([`lookup:${lookup.id}`]);
    const [open] = await database.rows<{ n: number }>('SELECT count(*) AS n FROM graphile_worker.jobs WHERE key = $1', [
      `lookup:${lookup.id}`,
    ]);
    if (open?.n === 0) {
      await database.run(
        "UPDATE lookup_groups SET state = 'failed', reason = 'Cancelled before its turn came' WHERE lookup_id = $1 AND state = 'waiting'",
        [lookup.id],
      );
      await run.update({ finishedAt: new Date(), current: null });
    }
  }
  await database.notify({ kind: 'cancel', runId: run.id });
  await database.notify({ kind: 'run', runId: run.id });
  await database.notify({ kind: 'catalogue' });
}
