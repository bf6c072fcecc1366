/**
 * By how much the sound of a found file begins later than it did, to a hundredth of a second: fingerprints, by which it
 * was found, tell an eighth. Asked where something was marked that has to move along.
 */
import type { Database } from '../db/database.ts';
import type { ComparePool } from './comparePool.ts';
import { soundsOf } from './duplicateStore.ts';
import type { RelinkPair } from './relink.ts';

/** What envelopes say is believed when it is so near to what was found before, in seconds. */
const NEAR = 0.5;
/** Less is the grain of envelopes; and of fingerprints. */
const GRAIN = 0.015,
  FINGERPRINT_GRAIN = 0.25;
/** So many are compared at a time; the others keep what fingerprints say. */
const MAX_COMPARED = 200;
const orNone = (pair: RelinkPair, grain: number): RelinkPair =>
  Math.abs(pair.offsetSeconds) < grain ? { ...pair, offsetSeconds: 0 } : pair;

/** The pairs, with offsets as the whole recordings say; those that cannot be compared keep theirs. */
export async function withOffsets(
  database: Database,
  pool: ComparePool,
  pairs: readonly RelinkPair[],
): Promise<RelinkPair[]> {
  const marked = await database.rows<{ id: number }>(
    `SELECT t.id FROM jsonb_to_recordset($1::jsonb) AS v("trackId" int, "otherId" int) JOIN tracks t ON t.id = v."trackId"
      JOIN track_files a ON a.track_id = v."trackId" AND a.role = 'main'
      JOIN track_files b ON b.track_id = v."otherId" AND b.role = 'main'
      WHERE (t.cues IS NOT NULL OR t.grid_anchors IS NOT NULL OR t.sections_by_hand IS NOT NULL)
        AND a.audio_hash IS DISTINCT FROM b.audio_hash`,
    [JSON.stringify(pairs.map(({ trackId, otherId }) => ({ trackId, otherId })))],
  );
  const ids = new Set(marked.slice(0, MAX_COMPARED).map((m) => m.id));
  const out: RelinkPair[] = [];
  // One after the other: waveforms of thousands would not fit into memory.
  for (const pair of pairs) {
    const exact = ids.has(pair.trackId) ? await exactOffset(database, pool, pair) : null;
    out.push(exact === null ? orNone(pair, FINGERPRINT_GRAIN) : orNone({ ...pair, offsetSeconds: exact }, GRAIN));
  }
  return out;
}

async function exactOffset(database: Database, pool: ComparePool, pair: RelinkPair): Promise<number | null> {
  const sounds = await soundsOf(database, [pair.otherId, pair.trackId]);
  // A comparison that fails must not keep a file from being found.
  const compared = sounds && (await pool.compare(...sounds).catch(() => null));
  if (!compared || !['same recording', 'cut short'].includes(compared.relation)) return null;
  return Math.abs(compared.offsetSeconds - pair.offsetSeconds) > NEAR ? null : compared.offsetSeconds;
}
