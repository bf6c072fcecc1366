/** What tracks are to each other, stored: pairs, and which tracks were compared. */
import type { ComparedPair } from '@early-set/core/duplicates/whom';
import { fingerprintWords } from '@early-set/core/analysis/fingerprint';
import { WAVEFORM_FORM } from '@early-set/core/analysis/waveform';
import type { Sound } from '@early-set/core/duplicates/compare';
import type { Database } from '../db/database.ts';

/** Measured tracks that were not compared since; what an earlier engine measured is not told finely enough. */
const WAITING = `FROM analyses a JOIN tracks t ON t.id = a.track_id
  WHERE a.waveform_form = ${WAVEFORM_FORM} AND NOT EXISTS (SELECT 1 FROM compared_tracks c WHERE c.track_id = a.track_id AND c.analysed_at = a.analysed_at)`;

export const waitingTracks = async (database: Database): Promise<number[]> =>
  (await database.rows<{ id: number }>(`SELECT a.track_id AS id ${WAITING} ORDER BY a.track_id`)).map((r) => r.id);

/** How many of them; with a moment, only such as were measured after it. */
export const waitingCount = async (database: Database, after: Date | null = null): Promise<number> =>
  (
    await database.rows<{ n: number }>(
      `SELECT count(*) AS n ${WAITING} AND ($1::timestamptz IS NULL OR a.analysed_at > $1)`,
      [after],
    )
  )[0]!.n;

/** Tracks that have to be measured again before they can be compared. */
export const measuredEarlier = async (database: Database): Promise<number> =>
  (
    await database.rows<{ n: number }>(
      `SELECT count(*) AS n FROM analyses a JOIN tracks t ON t.id = a.track_id WHERE a.waveform_form <> ${WAVEFORM_FORM}`,
    )
  )[0]!.n;

const PAGE = 500;

/** All fingerprints, some at a time, the smallest number of a track first. */
export async function* allPrints(database: Database): AsyncGenerator<{ id: number; words: Uint32Array }> {
  for (let after = 0; ;) {
    const rows = await database.rows<{ id: number; fingerprint: Buffer }>(
      `SELECT track_id AS id, fingerprint FROM analyses WHERE track_id > $1 AND fingerprint IS NOT NULL
        ORDER BY track_id LIMIT ${PAGE}`,
      [after],
    );
    for (const { id, fingerprint } of rows) yield { id, words: fingerprintWords(fingerprint) };
    if (rows.length < PAGE) return;
    after = rows.at(-1)!.id;
  }
}

/** The fingerprints of some tracks. */
export async function printsOf(database: Database, trackIds: readonly number[]): Promise<Map<number, Uint32Array>> {
  const rows = await database.rows<{ id: number; fingerprint: Buffer }>(
    'SELECT track_id AS id, fingerprint FROM analyses WHERE track_id = ANY($1::int[]) AND fingerprint IS NOT NULL',
    [[...trackIds]],
  );
  return new Map(rows.map((r) => [r.id, fingerprintWords(r.fingerprint)]));
}

/** What two tracks sound like; null where one is not measured, or by an earlier engine. */
export async function soundsOf(database: Database, ids: readonly [number, number]): Promise<[Sound, Sound] | null> {
  const rows = await database.rows<{ id: number; waveform: Buffer; fingerprint: Buffer | null }>(
    `SELECT track_id AS id, waveform, fingerprint FROM analyses
      WHERE track_id = ANY($1::int[]) AND waveform_form = ${WAVEFORM_FORM}`,
    [[...ids]],
  );
  const sounds = ids.flatMap((id): Sound[] => {
    const row = rows.find((r) => r.id === id);
    if (!row) return [];
    return [
      {
        waveform: new Uint8Array(row.waveform),
        fingerprint: row.fingerprint && fingerprintWords(row.fingerprint),
      },
    ];
  });
  return sounds.length === 2 ? (sounds as [Sound, Sound]) : null;
}

/** Tracks with the very sound of some, byte for byte, and such with their names; each with the one it is like. */
export const likeThem = (
  database: Database,
  trackIds: readonly number[],
): Promise<{ id: number; other: number; bytes: boolean }[]> =>
  database.rows(
    `SELECT f.track_id AS id, o.track_id AS other, true AS bytes FROM track_files f
        JOIN track_files o ON o.audio_hash = f.audio_hash AND o.track_id <> f.track_id AND o.role = 'main'
        WHERE f.track_id = ANY($1::int[]) AND f.role = 'main'
      UNION ALL SELECT t.id, o.id, false FROM tracks t JOIN tracks o ON o.title_sort = t.title_sort
        AND o.artist_sort = t.artist_sort AND o.id <> t.id WHERE t.id = ANY($1::int[])
        AND t.title_sort <> '' AND t.artist_sort <> ''`,
    [[...trackIds]],
  );

/** Stores what a track is to others in place of what was known, and that it was compared. */
export const storeCompared = (
  database: Database,
  trackId: number,
  pairs: readonly ComparedPair[],
  compared: ReadonlySet<number>,
): Promise<void> =>
  database.transaction(async (t) => {
    await database.run(
      `DELETE FROM duplicate_pairs WHERE (first = $1 AND second <> ALL($2::int[]))
        OR (second = $1 AND first <> ALL($2::int[]))`,
      [trackId, [...compared]],
      t,
    );
    await database.run(
      `INSERT INTO duplicate_pairs (first, second, relation, offset_seconds, parts_at)
        SELECT first, second, relation, "offsetSeconds", "partsAt" FROM jsonb_to_recordset($1::jsonb)
          AS x (first int, second int, relation text, "offsetSeconds" double precision, "partsAt" double precision)
       ON CONFLICT (first, second) DO UPDATE SET relation = excluded.relation,
         offset_seconds = excluded.offset_seconds, parts_at = excluded.parts_at`,
      [JSON.stringify(pairs)],
      t,
    );
    await database.run(
      `INSERT INTO compared_tracks (track_id, analysed_at) SELECT track_id, analysed_at FROM analyses WHERE track_id = $1
        ON CONFLICT (track_id) DO UPDATE SET analysed_at = excluded.analysed_at`,
      [trackId],
      t,
    );
  });

/** Pairs whose tracks are both there, with a file. */
export const pairsThere = (database: Database): Promise<ComparedPair[]> =>
  database.rows<ComparedPair>(
    `SELECT p.first, p.second, p.relation, p.offset_seconds AS "offsetSeconds", p.parts_at AS "partsAt"
      FROM duplicate_pairs p JOIN tracks a ON a.id = p.first AND a.file_state = 'here'
        JOIN tracks b ON b.id = p.second AND b.file_state = 'here' ORDER BY p.first, p.second`,
  );

/** Pairs that somebody has said are no duplicates. */
export const partedPairs = (database: Database): Promise<{ first: number; second: number }[]> =>
  database.rows('SELECT first, second FROM no_duplicates');

/** Says that tracks are no duplicates of each other, or no longer. */
export const partTracks = (database: Database, trackIds: readonly number[], parted: boolean): Promise<void> =>
  database.run(
    parted
      ? `INSERT INTO no_duplicates (first, second) SELECT a, b FROM unnest($1::int[]) a, unnest($1::int[]) b
          WHERE a < b ON CONFLICT DO NOTHING`
      : 'DELETE FROM no_duplicates WHERE first = ANY($1::int[]) AND second = ANY($1::int[])',
    [[...trackIds]],
  );
