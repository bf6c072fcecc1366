/** The figures of the stages: per stage what is left, and the share that is done. */
import type { Overview } from '@early-set/core/api/types';
import { compileCondition } from '../library/conditionSql.ts';
import { anyGap, anyOnDisk, lacksOne, needsOf } from '@early-set/core/conditions/needs';
import type { Database } from '../db/database.ts';
import { localDay } from '@early-set/core/clock/clock';
import { dateLines } from './dates.ts';
import { deskSettings } from '../db/settings.ts';
import { keptCounts, type Counts } from '../library/facets/counts.ts';

interface OfTracks {
  tracks: number;
  seconds: number;
  measured: number;
  missing: number;
  place: number;
  duplicate: number;
  disk: number;
  gaps: number;
  floor: number;
  playout: number;
  unwritten: number;
}

async function countedOnce(database: Database): Promise<OfTracks> {
  const { gapRules } = await deskSettings();
  const values: unknown[] = [];
  const [gap, floor, playout, disk] = [
    anyGap(gapRules),
    lacksOne(gapRules.floor),
    lacksOne(gapRules.playout),
    anyOnDisk(needsOf(gapRules)),
  ].map((c) => compileCondition(c, values).text);
  const [c] = await database.rows<OfTracks>(
    `SELECT count(*) AS tracks, COALESCE(sum(duration_seconds), 0) AS seconds,
       count(*) FILTER (WHERE analysis_state = 'done') AS measured,
       count(*) FILTER (WHERE file_state = 'missing') AS missing, count(*) FILTER (WHERE out_of_place) AS place,
       count(*) FILTER (WHERE duplicate) AS duplicate, count(*) FILTER (WHERE ${disk}) AS disk,
       count(*) FILTER (WHERE ${gap}) AS gaps, count(*) FILTER (WHERE ${floor}) AS floor,
       count(*) FILTER (WHERE ${playout}) AS playout,
       count(*) FILTER (WHERE cardinality(unwritten) > 0) AS unwritten
     FROM tracks t`,
    values,
  );
  return c!;
}

async function countedAlready(database: Database): Promise<OfTracks | null> {
  const rows = await keptCounts(database, ['stage', 'needs']);
  if (!rows) return null;
  const of = (value: string): number => rows.find((r) => r.value === value)?.n ?? 0;
  return {
    tracks: of('tracks'),
    seconds: of('ms') / 1000,
    measured: of('measured'),
    missing: of('missing'),
    place: of('place'),
    duplicate: of('duplicate'),
    disk: of('disk'),
    gaps: of('gaps'),
    floor: of('floor'),
    playout: of('playout'),
    unwritten: of('unwritten'),
  };
}

/** Counts everything the shell shows; what is counted anyway is not counted again. */
export async function overview(database: Database, counts?: Counts): Promise<Overview> {
  const kept = (await counts?.ready()) ? await countedAlready(database) : null;
  const { tracks, seconds, measured, missing, place, duplicate, disk, gaps, floor, playout, unwritten } =
    kept ?? (await countedOnce(database));
  const [others] = await database.rows<{ refused: number; lists: number; listed: number; changes: number }>(
    `SELECT (SELECT count(*) FROM not_taken) AS refused, (SELECT count(*) FROM lists WHERE NOT removed) AS lists,
       (SELECT count(*) FROM (SELECT DISTINCT e.track_id FROM list_tracks e JOIN lists l ON l.id = e.list_id
         WHERE NOT l.removed AND e.track_id IS NOT NULL) d) AS listed,
       (SELECT count(*) FROM change_sets WHERE made_at > now() - interval '7 days') AS changes`,
  );
  const { refused, lists, listed, changes } = others!;
  const [behind] = await database.rows<{ all: number; behind: number }>(
    `SELECT count(*) AS all, count(*) FILTER (WHERE waits) AS behind FROM (
      SELECT looked IS NULL OR (looked->>'out')::int + (looked->>'in')::int + (looked->>'clash')::int > 0 AS waits
        FROM destinations
      UNION ALL SELECT COALESCE(waiting > 0, false) FROM sticks) d`,
  );
  const dates = await dateLines(database, localDay(new Date()));
  const wanted = dates.reduce((n, d) => n + d.tracks, 0),
    ready = dates.reduce((n, d) => n + d.ready, 0);
  const share = (part: number, whole: number): number | null => (whole > 0 ? part / whole : null);
  return {
    tracks,
    measured,
    totalSeconds: seconds,
    unwritten,
    notReady: { floor, playout },
    onDisk: { missing, place, duplicate },
    stages: {
      today: { count: dates.length, level: share(ready, wanted) },
      intake: { count: refused, level: share(tracks, tracks + refused) },
      tracks: { count: tracks, level: share(measured, tracks) },
      clean: { count: gaps, level: share(tracks - gaps, tracks) },
      arrange: { count: lists, level: share(listed, tracks) },
      disk: { count: disk, level: share(tracks - disk, tracks) },
      handover: { count: behind!.behind, level: share(behind!.all - behind!.behind, behind!.all) },
      changes: { count: changes, level: null },
    },
  };
}
