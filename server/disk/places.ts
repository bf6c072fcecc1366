/** Files that do not lie where their naming rule wants them, and the draft that puts them there. */
import type { OutOfPlace, OutOfPlaceLine } from '@early-set/core/api/disk';
import { EVERYTHING } from '@early-set/core/conditions/condition';
import { inOrder } from '@early-set/core/changes/files';
import { relocateFile, type RelocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { refKey, type FileRef } from '@early-set/core/files/fileRef';
import { placeKey } from '@early-set/core/files/plan';
import { askedOf, namesLists, type Naming } from '@early-set/core/naming/naming';
import type { Place, PlacedFile, PlaceWish } from '@early-set/core/naming/places';
import type { TrackValues } from '@early-set/core/fields/values';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { selectedIds } from '../library/sheet.ts';
import { loadTracks } from '../library/trackStore.ts';
import { several } from '../lists/lists.ts';
import type { PlacesPool } from './placesPool.ts';

/** More are not listed at a time. */
const MAX_LINES = 20_000,
  MAX_TROUBLES = 2000;
const BATCH = 2000;
/** What is told of each file, whatever the rules ask for. */
const ALWAYS = ['title', 'artist', 'album', 'version'];

/** A track's main file, with what it is named by. */
interface Known extends PlacedFile {
  trackId: number;
  fileId: string;
}
type Row = FileRef & { trackId: number; fileId: string; root: string };

/** Main files that are there, in folders of the library whose drives are there. */
async function knownFiles(
  database: Database,
  naming: Naming,
  chosen: readonly number[] | null = null,
): Promise<Known[]> {
  const rules = naming.rules.filter((rule) => rule.on);
  const ruleOf = new Map<number, string>();
  for (const rule of rules.toReversed())
    for (const id of await selectedIds(database, { where: rule.where ?? EVERYTHING, except: [] }))
      ruleOf.set(id, rule.id);
  const rows = await database.rows<Row>(
    `SELECT t.id AS "trackId", f.id AS "fileId", f.root_id AS "rootId", f.path, r.label AS root
      FROM tracks t JOIN track_files f ON f.track_id = t.id AND f.role = 'main' AND f.state = 'here'
      JOIN roots r ON r.id = f.root_id
      WHERE NOT r.removed AND r.away_since IS NULL AND r.purpose = 'library'
        AND ($1::int[] IS NULL OR t.id = ANY($1)) ORDER BY f.root_id, f.path`,
    [chosen],
  );
  const lists = rules.some(namesLists) ? await listNames(database) : new Map<number, string[]>();
  const fields = [...new Set(rules.flatMap((rule) => askedOf(rule.template)))];
  const out: Known[] = [];
  for (let from = 0; from < rows.length; from += BATCH) {
    const some = rows.slice(from, from + BATCH);
    const tracks = await loadTracks(
      database,
      some.map((r) => r.trackId),
      [...ALWAYS, ...fields],
    );
    for (const { trackId, fileId, rootId, path, root } of some) {
      const all: TrackValues = tracks.get(trackId)?.values ?? {};
      const values = Object.fromEntries([...ALWAYS, ...fields].map((id) => [id, all[id] ?? null]));
      out.push({
        trackId,
        fileId,
        ref: { rootId, path },
        path,
        root,
        lists: lists.get(trackId) ?? [],
        values,
        ruleId: ruleOf.get(trackId) ?? null,
      });
    }
  }
  return out;
}

async function listNames(database: Database): Promise<Map<number, string[]>> {
  const rows = await database.rows<{ id: number; names: string[] }>(
    `SELECT e.track_id AS id, array_agg(DISTINCT l.name ORDER BY l.name) AS names FROM list_entries e
      JOIN lists l ON l.id = e.list_id WHERE NOT l.removed AND e.track_id IS NOT NULL GROUP BY e.track_id`,
  );
  return new Map(rows.map((r) => [r.id, r.names]));
}

/** Places that files hold: also such as were not taken, as they are no music. */
const heldPlaces = (database: Database): Promise<FileRef[]> =>
  database.rows<FileRef>('SELECT root_id AS "rootId", path FROM track_files UNION SELECT root_id, path FROM not_taken');

/** All other files that are known: copies, companions, such in quarantine or not found, and what is no music. */
async function otherFiles(database: Database, files: readonly Known[]): Promise<FileRef[]> {
  const own = new Set(files.map((f) => refKey(f.ref)));
  const all = await heldPlaces(database);
  return all.filter((ref) => !own.has(refKey(ref)));
}

interface Planned {
  files: Known[];
  places: Place[];
  trouble: string | null;
}

/** The thread needs no more of a file than what it is named by. */
const bareWish = (naming: Naming, files: readonly PlacedFile[], others: readonly FileRef[]): PlaceWish => ({
  naming: { ...naming, rules: naming.rules.map((rule) => ({ ...rule, where: null })) },
  files: files.map(({ ref, path, values, root, lists, ruleId }) => ({ ref, path, values, root, lists, ruleId })),
  others,
});

/**
 * The names that rules give some tracks' files, each another, wherever they are to lie; of tracks that no rule names,
 * none. @throws Problem when no rule is on, or one cannot be used
 */
export async function namesByRule(
  database: Database,
  pool: PlacesPool,
  naming: Naming,
  trackIds: readonly number[],
): Promise<Map<number, { path: string; rule: string }>> {
  if (!inForce(naming)) throw new Problem(409, 'no-rule', 'No naming rule is on; make one under Disk, Out of place');
  const files = await knownFiles(database, naming, trackIds);
  // As if they came from nowhere, so that none of them holds a place.
  const nowhere = files.map((file, at) => ({ ...file, ref: { rootId: 0, path: `${at}/${file.path}` } }));
  const answer = await pool.plan(bareWish(naming, nowhere, []));
  if ('trouble' in answer) throw new Problem(400, 'bad-rule', answer.trouble);
  return new Map(
    files.flatMap(({ trackId }, at) => {
      const place = answer.places[at]!;
      return place.kind === 'elsewhere' ? [[trackId, { path: place.to.path, rule: place.rule }] as const] : [];
    }),
  );
}

async function planned(
  database: Database,
  pool: PlacesPool,
  naming: Naming,
  chosen: ReadonlySet<number> | null,
  gone?: AbortSignal,
): Promise<Planned> {
  const all = await knownFiles(database, naming);
  const files = chosen ? all.filter((f) => chosen.has(f.trackId)) : all;
  const others = await otherFiles(database, files);
  const answer = await pool.plan(bareWish(naming, files, others), gone);
  return 'trouble' in answer
    ? { files: [], places: [], trouble: answer.trouble }
    : { files, places: answer.places, trouble: null };
}

const text = (value: unknown): string => (Array.isArray(value) ? value.join('; ') : String(value ?? ''));

const inForce = (naming: Naming): boolean => naming.rules.some((rule) => rule.on);

/** The tracks whose files are out of place by some rules. */
export async function outOfPlace(
  database: Database,
  pool: PlacesPool,
  naming: Naming,
  gone?: AbortSignal,
): Promise<number[]> {
  if (!inForce(naming)) return [];
  const { files, places: found } = await planned(database, pool, naming, null, gone);
  return files.filter((_, i) => found[i]!.kind === 'elsewhere').map((file) => file.trackId);
}

/** What is out of place by some rules. */
export async function places(
  database: Database,
  pool: PlacesPool,
  naming: Naming,
  gone?: AbortSignal,
): Promise<OutOfPlace> {
  // Without a rule nothing has to be read: every page of the stage asks for this.
  if (!inForce(naming)) return { lines: [], elsewhere: 0, troubles: [], unnamed: 0, right: 0, trouble: null };
  const { files, places: found, trouble } = await planned(database, pool, naming, null, gone);
  const lines: OutOfPlaceLine[] = [],
    troubles: OutOfPlace['troubles'] = [];
  let elsewhere = 0,
    unnamed = 0;
  files.forEach(({ trackId, ref, root, values }, i) => {
    const place = found[i]!;
    const named = {
      trackId,
      rootId: ref.rootId,
      root,
      path: ref.path,
      title: text(values.title),
      artist: text(values.artist),
    };
    if (place.kind === 'trouble' && unnamed++ < MAX_TROUBLES) troubles.push({ ...named, why: place.why });
    if (place.kind === 'elsewhere' && elsewhere++ < MAX_LINES)
      lines.push({
        ...named,
        album: text(values.album),
        wanted: place.to.path,
        rule: place.rule,
        numbered: place.numbered,
      });
  });
  return { lines, elsewhere, troubles, unnamed, right: files.length - elsewhere - unnamed, trouble };
}

function movesOf({ files, places: found, trouble }: Planned, chosen: ReadonlySet<number> | null): RelocateFile[] {
  if (trouble !== null) throw new Problem(400, 'bad-rule', trouble);
  return files.flatMap(({ trackId, fileId, ref }, i) => {
    const place = found[i]!;
    return place.kind === 'elsewhere' && (chosen === null || chosen.has(trackId))
      ? [{ ...relocateFile('move', { trackId, fileId }, ref, place.to), why: place.rule }]
      : [];
  });
}

/** Does a file that is not moved lie where one of these is to go? */
async function inTheWay(database: Database, moves: readonly RelocateFile[]): Promise<boolean> {
  const leaving = new Set(moves.map((m) => refKey(m.before!)));
  const wanted = new Set(moves.map((m) => placeKey(m.after)));
  const all = await heldPlaces(database);
  return all.some((ref) => wanted.has(placeKey(ref)) && !leaving.has(refKey(ref)));
}

/**
 * The draft that moves files to where their rules want them: all that are out of place, or some.
 * @throws Problem when a rule cannot be used, or nothing is out of place
 */
export async function placingDraft(
  database: Database,
  pool: PlacesPool,
  naming: Naming,
  trackIds: readonly number[] | null,
): Promise<Draft> {
  const chosen = trackIds && new Set(trackIds);
  let moves = movesOf(await planned(database, pool, naming, null), chosen);
  // What was shown is done, unless a file that is left where it is stands in the way.
  if (chosen && (await inTheWay(database, moves)))
    moves = movesOf(await planned(database, pool, naming, chosen), chosen);
  if (moves.length === 0) throw new Problem(409, 'nothing-to-do', 'These files lie where their rules want them');
  return { title: `Move ${several(moves.length, 'file')} to where the rules want them`, items: inOrder(moves) };
}
