/** Hours that go to a playout system: what is played from files in each, and when. */
import type { StickList } from '@early-set/core/stick/layout';
import type { PlayoutHour } from '@early-set/core/stick/planPlayout';
import type { Database } from '../db/database.ts';
import { hourState } from '../hours/load.ts';

/** Those of some lists that are hours, in the order in which they are on air. */
export async function hoursFor(
  database: Database,
  listIds: readonly string[],
): Promise<{ hours: PlayoutHour[]; lists: StickList[] }> {
  const rows = await database.rows<{ id: string; name: string }>(
    `SELECT id, name FROM lists WHERE id = ANY($1::uuid[]) AND kind = 'hour' AND clock IS NOT NULL
       AND on_air_at IS NOT NULL AND NOT removed ORDER BY on_air_at, id`,
    [[...listIds]],
  );
  const hours: PlayoutHour[] = [];
  const lists: StickList[] = [];
  for (const { id, name } of rows) {
    const { hourAt, items } = await hourState(database, id);
    const played = items.flatMap(({ entry: { trackId }, item }) =>
      trackId === null ? [] : [{ at: item.at, trackId }],
    );
    hours.push({ id, at: hourAt, items: played });
    lists.push({ id, name, place: [], trackIds: played.map((p) => p.trackId) });
  }
  return { hours, lists };
}
