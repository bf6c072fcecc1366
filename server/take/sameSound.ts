/** Is a file from outside a recording that is here already? By its bytes, its packets of sound, or how it sounds. */
import { stat } from 'node:fs/promises';
import { fingerprintWords } from '@early-set/core/analysis/fingerprint';
import type { FileFacts } from '@early-set/core/relink/facts';
import { judgeFile } from '@early-set/core/relink/findAgain';
import type { Database } from '../db/database.ts';
import { twinOf } from '../intake/twins.ts';
import { fingerprintOf, packetHash, probe } from '../media/decode.ts';

/** Recordings whose lengths differ by more are not compared. */
const SAME_SECONDS = 2;
/** So many are compared with a file, those of the likeliest length first. */
const MOST = 400;

/** The track that it is, and whether only its sound says so; null: none. What cannot be read is none. */
export async function sameSound(
  database: Database,
  path: string,
): Promise<{ trackId: number; bySound: boolean } | null> {
  const twin = await twinOf(database, path);
  if (twin !== null) return { trackId: twin.trackId, bySound: false };
  const hash = await packetHash(path).catch(() => null);
  if (hash !== null) {
    const [same] = await database.rows<{ trackId: number }>(
      `SELECT f.track_id AS "trackId" FROM track_files f JOIN tracks t ON t.id = f.track_id
        WHERE f.audio_hash = $1 AND f.role <> 'companion' AND t.file_state = 'here' ORDER BY f.track_id LIMIT 1`,
      [hash],
    );
    if (same) return { trackId: same.trackId, bySound: false };
  }
  const heard = await byEar(database, path, hash);
  return heard === null ? null : { trackId: heard, bySound: true };
}

async function byEar(database: Database, path: string, audioHash: string | null): Promise<number | null> {
  const seconds = (await probe(path).catch(() => null))?.durationSeconds ?? null;
  if (seconds === null) return null;
  const near = await database.rows<{ id: number; seconds: number; path: string; fingerprint: Buffer }>(
    `SELECT t.id, t.duration_seconds AS seconds, t.path, a.fingerprint FROM tracks t JOIN analyses a ON a.track_id = t.id
      WHERE t.duration_seconds BETWEEN $1::float8 - ${SAME_SECONDS} AND $1::float8 + ${SAME_SECONDS} AND a.fingerprint IS NOT NULL
        AND t.file_state = 'here' ORDER BY abs(t.duration_seconds - $1::float8), t.id LIMIT ${MOST}`,
    [seconds],
  );
  if (near.length === 0) return null;
  const own = await fingerprintOf(path).catch(() => null);
  if (own === null || own.length === 0) return null;
  const facts = (more: Partial<FileFacts>): FileFacts => ({
    ...{ path: '', size: null, audioHash: null, durationSeconds: null, artist: '', title: '', version: '' },
    fingerprint: null,
    ...more,
  });
  const file = facts({ path, size: (await stat(path)).size, audioHash, durationSeconds: seconds });
  const heard = { ...file, fingerprint: fingerprintWords(own) };
  for (const { id, seconds: length, path: other, fingerprint } of near) {
    const here = facts({ path: other, durationSeconds: length, fingerprint: fingerprintWords(fingerprint) });
    const verdict = judgeFile(here, heard);
    if (verdict && 'candidate' in verdict && verdict.candidate.by === 'sound') return id;
  }
  return null;
}
