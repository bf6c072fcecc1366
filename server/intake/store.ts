/** Storing what was read: new tracks with their files, changed files merged into what is known, refusals. */
import type { Origins } from '@early-set/core/api/types';
import { setField, type SetField } from '@early-set/core/changes/kinds/setField';
import { merge } from '@early-set/core/fields/merge';
import { sameValue, type Held, type TrackValues } from '@early-set/core/fields/values';
import { TAG_FIELDS } from '@early-set/core/tags/edit';
import { inTags, unwrittenAfter } from '@early-set/core/tags/values';
import type { Transaction } from 'sequelize';
import { storeFileTags } from '../changes/fileTags.ts';
import { journalMade } from '../changes/journal.ts';
import { assignmentsFor } from '../library/columns.ts';
import { addFile, storeFiles } from '../library/trackFiles.ts';
import { heldOf } from '../library/held.ts';
import { loadTracks, lockTracks, storeTracks } from '../library/trackStore.ts';
import type { KnownFile, Refusal, ScanContext, ScanReport } from './context.ts';
import type { Reading, Taken } from './read.ts';
import { noteScanned } from './scanTracks.ts';

/**
 * Stores what was read in one transaction; returns the tracks that want measuring.
 * @param also done with the tracks that came in, in the same transaction
 */
export async function storeBatch(
  context: ScanContext,
  readings: readonly Reading[],
  known: ReadonlyMap<string, KnownFile>,
  report: ScanReport,
  also?: (taken: readonly number[], t: Transaction) => Promise<void>,
): Promise<number[]> {
  const at = new Date().toISOString();
  const ids: number[] = [],
    taken: number[] = [],
    changed: number[] = [];
  const followed: SetField[] = [];
  await context.database.transaction(async (t) => {
    const there = readings.flatMap((r) => ('refused' in r ? [] : [known.get(r.file.path)?.trackId ?? []])).flat();
    await lockTracks(context.database, there, t);
    for (const reading of readings) {
      if ('refused' in reading) continue;
      const before = known.get(reading.file.path);
      if (before) {
        const soundToo = !sameFile(before, reading.file);
        if (before.role === 'main') {
          const { items, differing } = await mergeChanged(context, before, reading, soundToo, at, t);
          followed.push(...items);
          if (items.length) report.followed++;
          if (differing !== null) {
            report.differs++;
            if (report.differing.length < MAX_DIFFERING) report.differing.push(differing);
          }
        }
        if (before.role !== 'main') await storeStamp(context, before.id, reading, t);
        if (soundToo && before.role === 'main') ids.push(before.trackId);
        report.changed++;
        if (before.role === 'main') changed.push(before.trackId);
        continue;
      }
      const id = await storeNew(context, reading, at, t);
      if (id === null) continue; // another process took it in the meantime
      ids.push(id);
      taken.push(id);
      report.taken++;
    }
    await noteScanned(context.database, context.runId, 'taken', taken, t);
    await also?.(taken, t);
    await noteScanned(context.database, context.runId, 'changed', changed, t);
    if (followed.length) {
      const title = `Read again from the files of ${context.root.label}`;
      report.changeSetId = await journalMade(context.database, report.changeSetId, title, followed, t);
    }
  });
  return ids;
}

export const sameFile = (
  a: { size: number; modifiedMs: number } | undefined,
  b: { size: number; modifiedMs: number },
): boolean => a !== undefined && a.size === b.size && Math.abs(a.modifiedMs - b.modifiedMs) < 1;

const storeStamp = ({ database }: ScanContext, fileId: string, { file, technical }: Taken, t: Transaction) =>
  storeFiles(
    database,
    [
      {
        id: fileId,
        state: 'here',
        size: file.size,
        modifiedMs: file.modifiedMs,
        changedMs: file.changedMs,
        technical,
      },
    ],
    t,
  );

/** What is known of a track when it comes in, besides what its tags say. */
const first = ({ video }: Taken): TrackValues => ({ kind: video ? 'video' : 'track' });

async function storeNew(
  { database, root }: ScanContext,
  taken: Taken,
  at: string,
  t: Transaction,
): Promise<number | null> {
  const { file, tags, technical, artHash, stamp } = taken;
  const values: TrackValues = { ...technical, ...first(taken), ...tags };
  const where = { path: file.path, root: root.label };
  const assignments = assignmentsFor({ ...values, ...where }, { ...values, ...where });
  const parameters: unknown[] = [root.id, file.size, file.modifiedMs, file.changedMs, artHash];
  const columns = assignments.map(({ column }) => column);
  const places = assignments.map(({ cast, value }) => `$${parameters.push(value)}::${cast}`);
  const [row] = await database.rows<{ id: number }>(
    `INSERT INTO tracks (root_id, file_size, file_modified_ms, file_changed_ms,
      art_hash${columns.map((c) => `, ${c}`).join('')})
     VALUES ($1, $2, $3, $4, $5${places.map((p) => `, ${p}`).join('')}) RETURNING id`,
    parameters,
    t,
  );
  const { id } = row!;
  const ref = { rootId: root.id, path: file.path };
  if (!(await addFile(database, { trackId: id, ref, role: 'main', ...file, technical }, t))) {
    await database.run('DELETE FROM tracks WHERE id = $1', [id], t);
    return null;
  }
  const origins: Origins = {
    kind: { origin: 'file', at },
    ...Object.fromEntries(Object.keys(tags).map((field) => [field, { origin: 'file tag' as const, at }])),
  };
  await database.run(
    'INSERT INTO track_origins (track_id, origins) VALUES ($1, $2::jsonb)',
    [id, JSON.stringify(origins)],
    t,
  );
  if (stamp)
    await database.run(
      'INSERT INTO file_tags (track_id, tag_hash, fields) VALUES ($1, $2, $3::jsonb)',
      [id, stamp.tagHash, JSON.stringify(stamp.fields)],
      t,
    );
  return id;
}

/** So many that differ are told by name. */
const MAX_DIFFERING = 500;
const BY_PEOPLE = new Set(['typed', 'catalogue', 'destination']);

/**
 * A file that changed: what came from its tags follows them; the rest by the policy. It is measured again when more
 * than its tags may have changed. Returns what was taken over, and which playout ID says otherwise than what was typed.
 */
async function mergeChanged(
  context: ScanContext,
  { id: fileId, trackId }: KnownFile,
  taken: Taken,
  soundToo: boolean,
  at: string,
  t: Transaction,
): Promise<{ items: SetField[]; differing: number | null }> {
  const { database, policy, settings } = context,
    { tags, technical, artHash, stamp } = taken;
  const track = (await loadTracks(database, [trackId], [...TAG_FIELDS.map((f) => f.id), 'playoutId'], t)).get(trackId);
  if (!track) return { items: [], differing: null };
  const held: Record<string, Held | null> = {};
  const items: SetField[] = [];
  const byPeople: string[] = [];
  for (const { id: field } of TAG_FIELDS) {
    if (!inTags(field, settings)) continue;
    const now = heldOf(track.values[field], track.origins, field) ?? undefined;
    if (!(field in tags) && now?.origin !== 'file tag') {
      if (now && BY_PEOPLE.has(now.origin)) byPeople.push(field);
      continue;
    }
    const next = merge(
      now,
      { value: tags[field] ?? null, origin: 'file tag', at },
      now?.origin === 'file tag' || (policy === 'replace' && now?.origin !== 'analysis') ? 'replace' : 'fill gaps',
    );
    if (next && BY_PEOPLE.has(next.origin)) byPeople.push(field);
    if (next && next !== now) {
      held[field] = next;
      if (!sameValue(now?.value, next.value)) items.push(setField(trackId, field, now ?? null, next));
    }
  }
  const after: TrackValues = {
    ...track.values,
    ...Object.fromEntries(Object.entries(held).map(([field, h]) => [field, h?.value ?? null])),
  };
  const unwritten = unwrittenAfter(
    [],
    byPeople,
    (field) => after[field] ?? null,
    stamp?.fields ?? null,
    () => false,
    settings,
  );
  await storeTracks(database, [{ id: trackId, held, plain: { ...technical, unwritten }, values: track.values }], t);
  await database.run(
    `UPDATE tracks SET art_hash = COALESCE($2, art_hash), analysis_state = CASE WHEN $3 THEN 'none'
      ELSE analysis_state END WHERE id = $1`,
    [trackId, artHash, soundToo],
    t,
  );
  await storeStamp(context, fileId, taken, t);
  if (stamp) await storeFileTags(database, [{ id: trackId, stamp }], t);
  const playoutId = unwritten.length > 0 ? track.values.playoutId : null;
  return { items, differing: typeof playoutId === 'number' ? playoutId : null };
}

/** What was not taken this time, in place of what was not the last time; and the folders in which nothing lies. */
export async function storeRefusals(
  { database, root }: ScanContext,
  refusals: readonly Refusal[],
  empty: readonly string[],
): Promise<void> {
  await database.transaction(async (t) => {
    await database.run('DELETE FROM empty_folders WHERE root_id = $1', [root.id], t);
    await database.run(
      'INSERT INTO empty_folders (root_id, path) SELECT $1, unnest($2::text[]) ON CONFLICT DO NOTHING',
      [root.id, [...empty]],
      t,
    );
    await database.run('DELETE FROM not_taken WHERE root_id = $1', [root.id], t);
    await database.run(
      `INSERT INTO not_taken (root_id, path, code, reason, file_size, file_modified_ms)
       SELECT $1, v.path, v.code, v.reason, v.size, v."modifiedMs"
         FROM jsonb_to_recordset($2::jsonb) AS v(path text, code text, reason text, size bigint, "modifiedMs" float8)
         ON CONFLICT DO NOTHING`,
      [root.id, JSON.stringify(refusals)],
      t,
    );
  });
}
