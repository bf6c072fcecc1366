/** The tide along the top: per stage what is left, and the share that is done. */
import type { Overview } from '@early-set/core/api/types';
import { compileCondition } from '../library/conditionSql.ts';
import { anyGap, lacksOne } from '@early-set/core/conditions/needs';
import type { Database } from '../db/database.ts';
import { localDay } from '@early-set/core/clock/clock';
import { dateLines } from './dates.ts';
import { deskSettings } from '../db/settings.ts';

/** Counts everything the shell shows, in one query. */
export async function overview(database: Database): Promise<Overview> {
  const { gapRules } = await deskSettings();
  const values: unknown[] = [];
  const [gap, floor, playout] = [anyGap(gapRules), lacksOne(gapRules.floor), lacksOne(gapRules.playout)].map(
    (c) => compileCondition(c, values).text,
  );
  const [c] = await database.rows<Record<string, number>>(
    `SELECT count(*) AS tracks, COALESCE(sum(duration_seconds), 0) AS seconds,
       count(*) FILTER (WHERE analysis_state = 'done') AS measured,
         count(*) FILTER (WHERE file_state = 'missing') AS missing,
       count(*) FILTER (WHERE ${gap}) AS gaps, count(*) FILTER (WHERE ${floor}) AS floor,
         count(*) FILTER (WHERE ${playout}) AS playout,
         count(*) FILTER (WHERE cardinality(unwritten) > 0) AS unwritten,
       (SELECT count(*) FROM not_taken) AS refused, (SELECT count(*) FROM lists WHERE NOT removed) AS lists,
       (SELECT count(DISTINCT e.track_id) FROM list_tracks e JOIN lists l ON l.id = e.list_id
         WHERE NOT l.removed) AS listed,
       (SELECT count(*) FROM change_sets WHERE made_at > now() - interval '7 days') AS changes
     FROM tracks t`,
    values,
  );
  const {
    tracks,
    seconds,
    measured,
    missing,
    gaps,
    floor: noFloor,
    playout: noPlayout,
    refused,
    lists,
    listed,
    changes,
    unwritten,
  } = c as { [k: string]: number } & Record<
    | 'unwritten'
    | 'floor'
    | 'playout'
    | 'tracks'
    | 'seconds'
    | 'measured'
    | 'missing'
    | 'gaps'
    | 'refused'
    | 'lists'
    | 'listed'
    | 'changes',
    number
  >;
  const dates = await dateLines(database, localDay(new Date()));
  const wanted = dates.reduce((n, d) => n + d.tracks, 0),
    ready = dates.reduce((n, d) => n + d.ready, 0);
  const share = (part: number, whole: number): number | null => (whole > 0 ? part / whole : null);
  return {
    tracks,
    measured,
    totalSeconds: seconds,
    unwritten,
    notReady: { floor: noFloor, playout: noPlayout },
    stages: {
      today: { count: dates.length, level: share(ready, wanted) },
      intake: { count: refused, level: share(tracks, tracks + refused) },
      tracks: { count: tracks, level: share(measured, tracks) },
      clean: { count: gaps, level: share(tracks - gaps, tracks) },
      arrange: { count: lists, level: share(listed, tracks) },
      disk: { count: missing, level: share(tracks - missing, tracks) },
      changes: { count: changes, level: null },
    },
  };
}
