/** Files that cannot be found, looked for among those that are there. */
import type { FoundFile, FoundLine, MapTried } from '@early-set/core/api/disk';
import { fingerprintWords } from '@early-set/core/analysis/fingerprint';
import type { Candidate, FileFacts, FoundAgain } from '@early-set/core/relink/facts';
import { judgeFile } from '@early-set/core/relink/findAgain';
import { mapPath, tryMap, type PathMap } from '@early-set/core/relink/pathMap';
import type { Database } from '../db/database.ts';
import type { RelinkPool } from './relinkPool.ts';

/** A track's main file, with what is known of it. */
interface KnownFile {
  trackId: number;
  rootId: number;
  root: string;
  /** Below the root, and as a whole. */
  path: string;
  whole: string;
  facts: FileFacts;
}
type Row = Omit<KnownFile, 'facts'> & Omit<FileFacts, 'path' | 'fingerprint'> & { fingerprint: Buffer | null };

const SELECT = `SELECT t.id AS "trackId", f.root_id AS "rootId", r.label AS root, f.path, r.path || '/' || f.path AS whole,
    f.size, f.audio_hash AS "audioHash", COALESCE(f.duration_seconds, t.duration_seconds) AS "durationSeconds",
    COALESCE(array_to_string(t.artist, '; '), '') AS artist, COALESCE(t.title, '') AS title, COALESCE(t.version, '') AS version,
    a.fingerprint
  FROM tracks t JOIN track_files f ON f.track_id = t.id AND f.role = 'main' JOIN roots r ON r.id = f.root_id
  LEFT JOIN analyses a ON a.track_id = t.id`;

const known = ({ trackId, rootId, root, path, whole, fingerprint, ...facts }: Row): KnownFile => ({
  trackId,
  rootId,
  root,
  path,
  whole,
  facts: { ...facts, path: whole, fingerprint: fingerprint ? fingerprintWords(fingerprint) : null },
});

/** Tracks that are not found; all of them, or some. */
async function lostFiles(database: Database, trackIds: readonly number[] | null): Promise<KnownFile[]> {
  const rows = await database.rows<Row>(
    `${SELECT} WHERE t.file_state = 'missing' AND NOT r.removed AND ($1::int[] IS NULL OR t.id = ANY($1)) ORDER BY t.id`,
    [trackIds && [...trackIds]],
  );
  return rows.map(known);
}

/**
 * What could be them: files that came when they were gone, or shortly before, and whatever has the very sound of one of
 * them. A track that was there all the time beside another is none of its files.
 */
async function filesThere(database: Database, lost: readonly KnownFile[]): Promise<KnownFile[]> {
  const hashes = lost.flatMap(({ facts }) => facts.audioHash ?? []);
  const rows = await database.rows<Row>(
    `${SELECT} WHERE t.file_state = 'here' AND NOT r.removed AND (f.audio_hash = ANY($2::text[])
        OR t.added_at >= (SELECT min(state_since) - interval '1 day' FROM track_files
          WHERE role = 'main' AND track_id = ANY($1::int[]))) ORDER BY t.id`,
    [lost.map((l) => l.trackId), hashes],
  );
  return rows.map(known);
}

const asFound = (
  file: KnownFile,
  { by, sure, offsetSeconds }: Omit<FoundFile, 'trackId' | 'rootId' | 'root' | 'path'>,
) => ({
  trackId: file.trackId,
  rootId: file.rootId,
  root: file.root,
  path: file.path,
  by,
  sure,
  offsetSeconds,
});

function lineOf(
  { trackId }: KnownFile,
  { found, candidates, others }: FoundAgain,
  files: readonly KnownFile[],
): FoundLine {
  const of = (candidate: Candidate): FoundFile => asFound(files[candidate.at]!, candidate);
  return {
    trackId,
    found: found && of(found),
    candidates: candidates.filter((c) => c.at !== found?.at).map(of),
    others: others.map(({ at, why }) => ({ trackId: files[at]!.trackId, path: files[at]!.path, why })),
  };
}

/** Looks for tracks that are not found. @param trackIds null: for all of them */
export async function findTracks(
  database: Database,
  pool: RelinkPool,
  trackIds: readonly number[] | null,
  gone?: AbortSignal,
): Promise<FoundLine[]> {
  const lost = await lostFiles(database, trackIds);
  if (lost.length === 0) return [];
  const files = await filesThere(database, lost);
  const found = await pool.find({ lost: lost.map((l) => l.facts), files: files.map((f) => f.facts) }, gone);
  return lost.map((one, i) => lineOf(one, found[i]!, files));
}

/** Tries a path map out: what lies where it leads, unless it is another recording. */
export async function tryPathMap(database: Database, map: PathMap): Promise<MapTried> {
  const lost = (await lostFiles(database, null)).filter((l) => mapPath(l.whole, map) !== null);
  const files = (await database.rows<Row>(`${SELECT} WHERE t.file_state = 'here' AND NOT r.removed`)).map(known);
  const places = tryMap(
    lost.map((l) => l.whole),
    map,
    files.map((f) => f.whole),
  );
  const lines = lost.map((one, i): FoundLine => {
    const at = places[i] ?? null,
      file = at === null ? null : files[at]!;
    if (!file) return { trackId: one.trackId, found: null, candidates: [], others: [] };
    const verdict = judgeFile(one.facts, file.facts);
    if (verdict && 'other' in verdict)
      return {
        trackId: one.trackId,
        found: null,
        candidates: [],
        others: [{ trackId: file.trackId, path: file.path, why: verdict.other }],
      };
    const found = verdict
      ? asFound(file, verdict.candidate)
      : asFound(file, { by: 'path map', sure: 0.8, offsetSeconds: 0 });
    return { trackId: one.trackId, found, candidates: [], others: [] };
  });
  return { below: lost.length, lines };
}
