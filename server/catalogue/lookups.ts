/** Look-ups: tracks put into groups, each group compared with what the catalogue has, one run of work. */
import type {
  Candidate,
  GroupDetails,
  GroupTrack,
  Lookup,
  LookupGroup,
  LookupWish,
} from '@early-set/core/api/catalogue';
import { clusterTracks } from '@early-set/core/catalogue/clusters';
import { judgeLines } from '@early-set/core/catalogue/match';
import type { LookedUp } from '@early-set/core/catalogue/releases';
import { CLEAN_FIELDS } from '@early-set/core/clean/stepFields';
import { fieldOf } from '@early-set/core/fields/table';
import type { TrackValues } from '@early-set/core/fields/values';
import type { Origins } from '@early-set/core/api/types';
import type { Database } from '../db/database.ts';
import type { DefinedRun } from '../jobs/defineRun.ts';
import { selectedIds } from '../library/sheet.ts';
import { lockedIn } from '../library/trackStore.ts';
import { notFound, Problem } from '../base/problem.ts';
import { ServiceDown } from '../base/patiently.ts';
import { serviceAddress } from '../db/services.ts';
import { openCatalogue } from './client.ts';
import { findByFields, isSure } from './search.ts';

/** What a run of a look-up works on. */
export interface OfLookup {
  lookupId: number;
}
export type LookupRun = DefinedRun<OfLookup>;

const MAX_TRACKS = 50_000;
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
    `SELECT t.id, t.root_id AS "rootId", t.path, t.duration_seconds AS seconds, t.art_hash AS "artHash", o.origins,
      ${SELECT} FROM tracks t LEFT JOIN track_origins o ON o.track_id = t.id WHERE t.id = ANY($1::int[])
      ORDER BY t.root_id, t.path LIMIT ${MAX_TRACKS}`,
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
  lookups: LookupRun,
  wish: LookupWish,
): Promise<{ id: number; runId: number }> {
  if ((await serviceAddress(database, 'catalogue')) === null)
    throw new Problem(409, 'no-catalogue', 'No catalogue is set up on this desk');
  const tracks = await groupTracks(database, await selectedIds(database, wish.selection));
  if (tracks.length === 0) throw new Problem(409, 'nothing-to-do', 'There are no tracks to look up');
  const clusters = clusterTracks(tracks.map(lookedUp), wish.tearApart);
  const title = `${wish.fill ? `Fill ${wish.fill.fields.map((f) => fieldOf(f).label.toLowerCase()).join(' and ')} of` : 'Look up'} ${tracks.length === 1 ? 'one track' : `${tracks.length.toLocaleString('en-GB')} tracks`}${wish.how === 'sound' ? ' by sound' : ''}`;
  const made = await database.transaction(async (t) => {
    const [row] = await database.rows<{ id: number }>(
      'INSERT INTO lookups (title, how, fill) VALUES ($1, $2, $3::jsonb) RETURNING id',
      [title, wish.how, JSON.stringify(wish.fill)],
      t,
    );
    const { id } = row!;
    await database.run(
      `INSERT INTO lookup_groups (lookup_id, kind, name, folder, track_ids, query) SELECT $1, v.kind, v.name,
        v.folder, ARRAY(SELECT jsonb_array_elements_text(v."trackIds")::int), v.query
       FROM jsonb_to_recordset($2::jsonb) AS v(kind text, name text, folder text, "trackIds" jsonb, query jsonb)`,
      [id, JSON.stringify(clusters)],
      t,
    );
    return { id, runId: await lookups.start({ lookupId: id }, { title, total: clusters.length }, t) };
  });
  await database.notify({ kind: 'catalogue' });
  return made;
}

export interface GroupRow {
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
export const GROUP = `SELECT g.id, g.kind, g.name, g.folder, g.track_ids AS "trackIds", g.query, g.reason,
  g.candidates, g.chosen, g.score,
  CASE WHEN g.state = 'applied' AND (g.change_set_id IS NULL OR c.undone_by IS NOT NULL) THEN 'found'
    ELSE g.state END AS state FROM lookup_groups g LEFT JOIN change_sets c ON c.id = g.change_set_id`;

export async function groupRow(database: Database, lookupId: number, groupId: number): Promise<GroupRow> {
  const [row] = await database.rows<GroupRow>(`${GROUP} WHERE g.lookup_id = $1 AND g.id = $2`, [lookupId, groupId]);
  if (!row) throw notFound('The group');
  return row;
}

/** A look-up with its groups; null when there is none. */
export async function lookupById(database: Database, id: number | null): Promise<Lookup | null> {
  const [row] = await database.rows<Omit<Lookup, 'groups'>>(
    `SELECT l.id, l.title, l.how, l.fill, l.run_id AS "runId", COALESCE(r.state = 'running',
      FALSE) AS running, l.trouble, l.made_at AS "madeAt" FROM lookups l LEFT JOIN runs r ON r.id = l.run_id
     WHERE $1::int IS NULL OR l.id = $1 ORDER BY l.id DESC LIMIT 1`,
    [id],
  );
  if (!row) return null;
  const groups = await database.rows<LookupGroup>(
    `SELECT id, kind, name, folder, state, reason, score, cardinality("trackIds") AS tracks FROM (${GROUP}
      WHERE g.lookup_id = $1) g ORDER BY id`,
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
    const address = await serviceAddress(database, 'catalogue');
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
      if (error instanceof ServiceDown)
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

export async function storeFound(
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
