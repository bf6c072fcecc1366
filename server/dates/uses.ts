/** What was used: a date that has passed says of the tracks of its lists when and how often they were. */
import { usesOf } from '@early-set/core/changes/uses';
import { localDay } from '@early-set/core/clock/clock';
import { soonAndDaily, type SoonAndDaily } from '../base/soonAndDaily.ts';
import { applyDraft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import { heldNow } from '../library/trackStore.ts';

interface Passed {
  id: number;
  name: string;
  day: string;
  startsAt: string | null;
}

/**
 * Counts the uses of dates before a day, each date once, each as a change that can be undone.
 * @returns how many dates that were
 */
export const countUses = (context: ChangeContext, today: string): Promise<number> =>
  context.inTurn(async () => {
    const { database } = context;
    const passed = await database.rows<Passed>(
      `SELECT id, name, day::text, starts_at AS "startsAt" FROM dates WHERE day < $1::date AND NOT counted
        ORDER BY day, starts_at NULLS FIRST, id`,
      [today],
    );
    for (const date of passed) {
      const ids = await usedTracks(context, date.id);
      const held = await heldNow(database, ids, ['lastUsed', 'timesUsed']);
      const at = new Date(`${date.day}T${date.startsAt ?? '12:00'}:00`);
      const items = ids.flatMap((id) => usesOf(id, (field) => held(id, field), at, new Date().toISOString()));
      const counted = (t?: Parameters<typeof database.run>[2]): Promise<void> =>
        database.run('UPDATE dates SET counted = true WHERE id = $1', [date.id], t);
      if (items.length === 0) await counted();
      else await applyDraft(context, { title: `Used: ${date.name}, ${date.day}`, items, also: counted });
    }
    return passed.length;
  });

/** The tracks of its playlists, and of those in its crates; where there is no playlist, of its crates. */
async function usedTracks({ database }: ChangeContext, dateId: number): Promise<number[]> {
  const rows = await database.rows<{ id: number }>(
    `WITH RECURSIVE below AS (
        SELECT l.id, l.kind FROM dates d JOIN lists l ON l.id = ANY(d.list_ids) WHERE d.id = $1 AND NOT l.removed
        UNION SELECT l.id, l.kind FROM lists l JOIN below b ON l.parent_id = b.id WHERE NOT l.removed)
     SELECT DISTINCT lt.track_id AS id FROM list_tracks lt JOIN below b ON b.id = lt.list_id
      WHERE b.kind IN ('playlist', 'hour') OR NOT EXISTS (SELECT 1 FROM below WHERE kind IN ('playlist', 'hour')) ORDER BY 1`,
    [dateId],
  );
  return rows.map((r) => r.id);
}

const SOON_MS = 1000;

/** Counts uses after the start, after dates were changed, and when a day begins. */
export const keepUses = (context: ChangeContext): SoonAndDaily =>
  soonAndDaily(() => countUses(context, localDay(new Date())), SOON_MS, 'uses could not be counted');
