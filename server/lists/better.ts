/** Entries whose recording the library also has as a better file. */
import { randomUUID } from 'node:crypto';
import type { BetterFile } from '@early-set/core/api/lists';
import type { Applied } from '@early-set/core/api/types';
import { bestOf } from '@early-set/core/arrange/better';
import { applyEdit } from '@early-set/core/changes/kinds/editList';
import { swapEntry } from '@early-set/core/changes/lists';
import type { TrackValues } from '@early-set/core/fields/values';
import { Problem } from '../base/problem.ts';
import { applyDraft, type Applying } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { quoted, several, stateOf } from './lists.ts';

/** Lengths of one recording differ by so much at most, in seconds. */
const SAME_LENGTH = 2;

/** What is compared, as one value. */
const valuesSql = (t: string): string =>
  `jsonb_build_object('format', ${t}.format, 'codec', ${t}.codec, 'bitrate', ${t}.bitrate,
    'bandwidthHz', ${t}.bandwidth_hz, 'fileState', ${t}.file_state)`;

interface Near {
  entryId: string;
  of: TrackValues;
  others: { id: number; values: TrackValues }[];
}

/**
 * Looks for them among some entries: the same sound, or the same names and length. A crate holds a track once, so what
 * is in it already is none for it.
 */
export async function betterFiles(
  database: Database,
  listId: string,
  entryIds: readonly string[],
): Promise<BetterFile[]> {
  const rows = await database.rows<Near>(
    `WITH held AS (SELECT e.id, e.track_id, l.kind FROM list_entries e JOIN lists l ON l.id = e.list_id
        WHERE e.list_id = $1::uuid AND e.id = ANY($2::uuid[]) AND e.track_id IS NOT NULL),
      near AS (
        SELECT h.id, t.id AS of, o.id AS other FROM held h JOIN tracks t ON t.id = h.track_id
          JOIN tracks o ON o.title_sort = t.title_sort AND o.id <> t.id AND o.artist_sort = t.artist_sort
            AND o.version IS NOT DISTINCT FROM t.version
            AND abs(o.duration_seconds - t.duration_seconds) <= ${SAME_LENGTH}
        UNION SELECT h.id, a.track_id, b.track_id FROM held h
          JOIN track_files a ON a.track_id = h.track_id AND a.role = 'main'
          JOIN track_files b ON b.audio_hash = a.audio_hash AND b.track_id <> a.track_id AND b.role = 'main')
     SELECT n.id AS "entryId", ${valuesSql('t')} AS of,
        jsonb_agg(jsonb_build_object('id', o.id, 'values', ${valuesSql('o')}) ORDER BY o.id) AS others
      FROM near n JOIN held h ON h.id = n.id JOIN tracks t ON t.id = n.of JOIN tracks o ON o.id = n.other
      WHERE h.kind <> 'crate'
        OR NOT EXISTS (SELECT 1 FROM list_entries x WHERE x.list_id = $1::uuid AND x.track_id = o.id)
      GROUP BY n.id, t.id`,
    [listId, [...entryIds]],
  );
  return rows.flatMap(({ entryId, of, others }) => {
    const best = bestOf(of, others);
    if (!best) return [];
    return [{ entryId, trackId: best.track.id, words: `${String(best.track.values.format)}, ${best.why}` }];
  });
}

/** Puts the better file in place of entries, as one change. @throws Problem when there is none */
export async function takeBetter(context: Applying, listId: string, entryIds: readonly string[]): Promise<Applied> {
  const found = await betterFiles(context.database, listId, entryIds);
  if (found.length === 0) throw new Problem(409, 'nothing-to-do', 'The library has no better file of these');
  const before = await stateOf(context.database, listId);
  let state = before;
  const items = found.flatMap(({ entryId, trackId }) => {
    const edits = swapEntry(listId, state, entryId, trackId, randomUUID);
    for (const { edit } of edits) state = applyEdit(state, edit) ?? state;
    return edits;
  });
  const count = several(found.length, 'better file');
  return (await applyDraft(context, { title: `Take ${count} in ${quoted(before.info.name)}`, items })).applied;
}
