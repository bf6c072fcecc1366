/** One track: its values with their origins, its analysis, the lists it is in, its past. */
import type { Origins, TrackDetails } from '@early-set/core/api/types';
import { fromShares, WAVEFORM_FORM, WAVEFORM_RATE } from '@early-set/core/analysis/waveform';
import { albumLoudness } from '@early-set/core/analysis/loudness/playout';
import { fieldOf } from '@early-set/core/fields/table';
import type { FieldValue } from '@early-set/core/fields/values';
import { valueIn, type FileFields } from '@early-set/core/tags/values';
import type { ChangeItem } from '@early-set/core/changes/items';
import type { Database } from '../db/database.ts';
import { notFound, Problem } from '../base/problem.ts';
import { WHOLE_ROW_SELECT, toSheetRow } from './sheet.ts';
import { mainFileOf } from './trackFiles.ts';

/** Everything known of a track. @throws Problem when it is not there. */
export async function trackDetails(database: Database, id: number): Promise<TrackDetails> {
  const [[raw], [analysis], lists, past, albumTracks] = await Promise.all([
    database.rows<Parameters<typeof toSheetRow>[0] & { origins: Origins | null; rootPath: string; inFile: FileFields }>(
      `SELECT NULL::int AS fit, o.origins, r.path AS "rootPath", g.fields AS "inFile", ${WHOLE_ROW_SELECT} FROM tracks t
        JOIN roots r ON r.id = t.root_id LEFT JOIN track_origins o ON o.track_id = t.id
        LEFT JOIN file_tags g ON g.track_id = t.id WHERE t.id = $1`,
      [id],
    ),
    database.rows<NonNullable<TrackDetails['analysis']>>(
      'SELECT engine, analysed_at AS "analysedAt", result FROM analyses WHERE track_id = $1',
      [id],
    ),
    database.rows<TrackDetails['lists'][number]>(
      `SELECT l.id, l.name, l.kind, count(*) AS times FROM list_tracks e JOIN lists l ON l.id = e.list_id
        WHERE e.track_id = $1 AND NOT l.removed GROUP BY l.id ORDER BY l.name`,
      [id],
    ),
    database.rows<{ changeSetId: number; title: string; madeAt: string; item: ChangeItem }>(
      `SELECT s.id AS "changeSetId", s.title, s.made_at AS "madeAt", i.item FROM change_items i
        JOIN change_sets s ON s.id = i.change_set_id
       WHERE i.state = 'done' AND i.track_id = $1 AND i.area = 'fields' ORDER BY s.id DESC, i.seq LIMIT 100`,
      [id],
    ),
    database.rows<{ lufs: number; seconds: number; truePeakDbtp: number | null }>(
      `SELECT a.lufs, a.duration_seconds AS seconds, a.true_peak_dbtp AS "truePeakDbtp" FROM tracks t
        JOIN tracks a ON a.album_sort = t.album_sort AND a.album = t.album
        AND coalesce(a.album_artist, '') = coalesce(t.album_artist, '') AND a.root_id = t.root_id
       WHERE t.id = $1 AND a.lufs IS NOT NULL AND a.duration_seconds IS NOT NULL AND a.file_state = 'here' LIMIT 500`,
      [id],
    ),
  ]);
  if (!raw) throw notFound('The track');
  const { origins, rootPath, inFile, ...row } = raw;
  const album = albumLoudness(albumTracks);
  const sets = new Map<number, TrackDetails['past'][number]>();
  for (const { item, ...set } of past) {
    const known = sets.get(set.changeSetId) ?? { ...set, items: [] };
    known.items.push(item);
    sets.set(set.changeSetId, known);
  }
  return {
    ...toSheetRow(row as unknown as Parameters<typeof toSheetRow>[0]),
    origins: origins ?? {},
    rootPath,
    inFile: saidOtherwise(row.unwritten ?? null, inFile ?? null),
    album: album && { tracks: albumTracks.length, ...album },
    analysis: analysis ?? null,
    lists,
    past: [...sets.values()],
  };
}

/** What a file says in the fields that are not written to it yet. */
function saidOtherwise(unwritten: FieldValue, inFile: FileFields): Record<string, FieldValue> {
  if (!inFile || !Array.isArray(unwritten)) return {};
  return Object.fromEntries(unwritten.map((field) => [field, valueIn(fieldOf(field), inFile[field] ?? [])]));
}

/** The waveform of a track (`core/analysis/waveform`), WAVEFORM_RATE columns a second; null before measuring. */
export async function waveformOf(database: Database, id: number): Promise<{ data: Buffer; rate: number } | null> {
  const [row] = await database.rows<{ waveform: Buffer; form: number }>(
    'SELECT waveform, waveform_form AS form FROM analyses WHERE track_id = $1',
    [id],
  );
  if (!row) return null;
  return {
    data: row.form === WAVEFORM_FORM ? row.waveform : Buffer.from(fromShares(row.waveform)),
    rate: WAVEFORM_RATE,
  };
}

/**
 * Where a track's file is, with what a player has to know. @throws Problem when there is no such track, or its drive
 * is away
 */
export async function fileOf(
  database: Database,
  id: number,
): Promise<{
  rootPath: string;
  path: string;
  format: string | null;
  codec: string | null;
  durationSeconds: number | null;
}> {
  const file = await mainFileOf(database, id);
  if (!file) throw notFound('The track');
  if (file.state === 'away') throw new Problem(404, 'drive-away', `The drive of ${file.path} is not there`);
  const [track] = await database.rows<{ format: string | null; codec: string | null; durationSeconds: number | null }>(
    'SELECT format, codec, duration_seconds AS "durationSeconds" FROM tracks WHERE id = $1',
    [id],
  );
  return { rootPath: file.rootPath, path: file.path, ...track! };
}
