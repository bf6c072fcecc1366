/** What goes to a stick: its lists, and their tracks with all that their files are made of. */
import type { StickSettings } from '@early-set/core/api/stick';
import { askedOf } from '@early-set/core/naming/naming';
import type { StickList } from '@early-set/core/stick/layout';
import type { PlannedTrack } from '@early-set/core/stick/plan';
import { endingOf } from '@early-set/core/files/paths';
import { fieldOf } from '@early-set/core/fields/table';
import type { TrackValues } from '@early-set/core/fields/values';
import { TAG_FIELDS } from '@early-set/core/tags/edit';
import { textsFor } from '@early-set/core/tags/values';
import type { Database } from '../db/database.ts';
import { listsHere } from '../handover/library.ts';
import { wholeOf } from '../library/columns.ts';

type What = Pick<StickSettings, 'lists' | 'dates' | 'tracks' | 'folders'>;

/** Ids of chosen lists, and of those of chosen dates. */
export async function wantedLists(
  database: Database,
  { lists, dates }: Pick<What, 'lists' | 'dates'>,
): Promise<string[]> {
  const ofDates = dates.length
    ? await database.rows<{ id: string }>('SELECT unnest(list_ids)::text AS id FROM dates WHERE id = ANY($1)', [dates])
    : [];
  return [...new Set([...lists, ...ofDates.map((d) => d.id)])];
}

/** The lists that go there: chosen ones with what lies in them, those of dates, and folders of music as lists. */
export async function listsFor(database: Database, what: What): Promise<StickList[]> {
  const { tracks, folders } = what;
  const wanted = await wantedLists(database, what);
  const out: StickList[] = wanted.length ? (await listsHere(database, wanted)).lists : [];
  if (tracks.length > 0) out.push({ id: 'tracks', name: 'Chosen tracks', place: [], trackIds: tracks });
  for (const folder of folders) out.push(...(await inFolder(database, folder)));
  return out;
}

/** Each folder below a chosen one, with its tracks by name. */
async function inFolder(database: Database, { rootId, path }: StickSettings['folders'][number]): Promise<StickList[]> {
  const rows = await database.rows<{ folder: string; root: string; trackIds: number[] }>(
    `SELECT regexp_replace(t.path, '/?[^/]*$', '') AS folder, r.label AS root,
      array_agg(t.id ORDER BY t.path COLLATE "C") AS "trackIds"
     FROM tracks t JOIN roots r ON r.id = t.root_id WHERE t.root_id = $1 AND t.file_state <> 'retired'
       AND ($2 = '' OR left(t.path, length($2) + 1) = $2 || '/') GROUP BY 1, 2 ORDER BY 1`,
    [rootId, path],
  );
  return rows.map(({ folder, root, trackIds }) => {
    const above = path.split('/').slice(0, -1).length;
    const parts = folder === '' ? [] : folder.split('/').slice(path === '' ? 0 : above);
    return {
      id: `folder ${rootId} ${folder}`,
      name: parts.at(-1) ?? root,
      place: parts.slice(0, -1),
      trackIds,
    };
  });
}

type Row = Omit<PlannedTrack, 'ending' | 'codec' | 'lufs' | 'seconds' | 'unwritten' | 'values'> & {
  path: string;
  unwritten: string[] | null;
} & Record<string, unknown>;

const NEEDED = ['title', 'artist', 'album', 'version', 'codec', 'lufs', 'durationSeconds'];
/** So many tracks are asked for at once. */
const AT_ONCE = 2000;

/** Tracks whose files are there, as a plan needs them, each as JSON as the database wrote it. */
export async function tracksFor(
  database: Database,
  ids: readonly number[],
  { names, line }: Pick<StickSettings, 'names' | 'line'>,
  more: readonly string[] = [],
): Promise<string[]> {
  const fields = [
    ...new Set([...NEEDED, ...more, ...TAG_FIELDS.map((f) => f.id), ...askedOf(names), ...askedOf(line)]),
  ];
  const texts: string[] = [];
  for (let from = 0; from < ids.length; from += AT_ONCE) {
    const [some] = await database.rows<{ json: string }>(
      `SELECT COALESCE(json_agg(x), '[]')::text AS json FROM (
        SELECT t.id, t.path, f.size, f.audio_hash AS "audioHash", t.art_hash AS cover, t.unwritten,
          t.analysis_state = 'failed' AS broken,
          (SELECT to_json(v) FROM (SELECT ${wholeOf(fields)}) v) AS values
         FROM tracks t JOIN track_files f ON f.track_id = t.id AND f.role = 'main'
         WHERE t.id = ANY($1::int[]) AND f.state = 'here') x`,
      [ids.slice(from, from + AT_ONCE)],
    );
    texts.push(some!.json);
  }
  return texts;
}

const numberOr = (value: unknown): number | null => (typeof value === 'number' ? value : null);

/** Reads them. */
export function readTracks(texts: readonly string[]): Map<number, PlannedTrack> {
  const tracks = new Map<number, PlannedTrack>();
  for (const text of texts)
    for (const { id, path, size, audioHash, cover, unwritten, broken, values } of JSON.parse(text) as (Row & {
      values: TrackValues;
    })[])
      tracks.set(id, {
        ...{ id, size, audioHash, cover, broken, values },
        ending: endingOf(path),
        codec: typeof values.codec === 'string' ? values.codec : null,
        lufs: numberOr(values.lufs),
        seconds: numberOr(values.durationSeconds),
        unwritten: Object.fromEntries(
          (unwritten ?? []).map((field) => [field, textsFor(fieldOf(field), values[field] ?? null)]),
        ),
      });
  return tracks;
}

/** What tracks are called, for those that cannot go. */
export async function namesOf(
  database: Database,
  ids: readonly number[],
): Promise<Map<number, { name: string; playoutId: number | null }>> {
  const rows = await database.rows<{ id: number; name: string; playoutId: number | null }>(
    `SELECT id, COALESCE(title, file_name, path) AS name, playout_id AS "playoutId" FROM tracks
      WHERE id = ANY($1::int[])`,
    [[...ids]],
  );
  return new Map(rows.map(({ id, ...named }) => [id, named]));
}
