/**
 * The files that tracks own. What the sheet shows of a file are columns of the track, so that 100,000 rows stay quick;
 * they come from the main file, and from here only.
 */
import type { Transaction } from 'sequelize';
import type { FileRole, FileState, TrackFile } from '@early-set/core/changes/snapshot';
import type { FileRef } from '@early-set/core/files/fileRef';
import type { FieldValue } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
import { storeValues } from './columns.ts';
import { loadTracks, lockTracks } from './trackStore.ts';

/** What is known of how a file is made. */
export interface Technical {
  format?: FieldValue;
  codec?: FieldValue;
  bitrate?: FieldValue;
  sampleRate?: FieldValue;
  channels?: FieldValue;
  durationSeconds?: FieldValue;
}

export interface ChangedFile {
  id: string;
  ref?: FileRef;
  state?: FileState;
  role?: FileRole;
  trackId?: number;
  size?: number;
  modifiedMs?: number;
  changedMs?: number;
  audioHash?: string;
  technical?: Technical;
}

/** SELECT list of a file as drafts see it, from track_files aliased "f". */
export const FILE_SELECT = `f.id, f.track_id AS "trackId", jsonb_build_object('rootId', f.root_id, 'path', f.path) AS ref, f.role, f.state, f.size, f.modified_ms AS "modifiedMs"`;

/** All files of tracks. */
export const filesOf = (database: Database, trackIds: readonly number[], t?: Transaction): Promise<TrackFile[]> =>
  database.rows<TrackFile>(
    `SELECT ${FILE_SELECT} FROM track_files f WHERE f.track_id = ANY($1::int[]) ORDER BY f.track_id`,
    [[...trackIds]],
    t,
  );

/** The main file of each track that has one. */
export async function mainFiles(database: Database, trackIds: readonly number[]): Promise<Map<number, TrackFile>> {
  const files = (await filesOf(database, trackIds)).filter((f) => f.role === 'main');
  return new Map(files.map((f) => [f.trackId, f]));
}

/** Ids of main files by track. */
export async function mainFileIds(
  database: Database,
  trackIds: readonly number[],
  t?: Transaction,
): Promise<Map<number, string>> {
  const rows = await database.rows<{ id: string; trackId: number }>(
    `SELECT id, track_id AS "trackId" FROM track_files WHERE role = 'main' AND track_id = ANY($1::int[])`,
    [[...trackIds]],
    t,
  );
  return new Map(rows.map((r) => [r.trackId, r.id]));
}

/** Stores changes of files; those of main files reach the sheet. */
export async function storeFiles(database: Database, changes: readonly ChangedFile[], t: Transaction): Promise<void> {
  await lockOwners(database, changes, t);
  for (let from = 0; from < changes.length; from += 1000) {
    const batch = changes.slice(from, from + 1000);
    const records = batch.map(({ id, ref, technical, ...rest }) => ({
      id,
      ...rest,
      rootId: ref?.rootId,
      path: ref?.path,
      ...technical,
      technical: technical !== undefined,
    }));
    const rows = await database.rows<{ trackId: number; moved: boolean }>(
      `UPDATE track_files f SET root_id = COALESCE(v."rootId", f.root_id), path = COALESCE(v.path, f.path),
        role = COALESCE(v.role, f.role), track_id = COALESCE(v."trackId", f.track_id),
         state_since = CASE WHEN v.state IS NOT NULL AND v.state <> f.state THEN now()
           ELSE f.state_since END, state = COALESCE(v.state, f.state),
         size = COALESCE(v.size, f.size), modified_ms = COALESCE(v."modifiedMs", f.modified_ms), changed_ms = COALESCE(v."changedMs", f.changed_ms), audio_hash = COALESCE(v."audioHash", f.audio_hash),
         container = CASE WHEN v.technical THEN v.format ELSE f.container END, codec = CASE
           WHEN v.technical THEN v.codec ELSE f.codec END,
         bitrate = CASE WHEN v.technical THEN v.bitrate ELSE f.bitrate END, sample_rate = CASE
           WHEN v.technical THEN v."sampleRate" ELSE f.sample_rate END,
         channels = CASE WHEN v.technical THEN v.channels ELSE f.channels END, duration_seconds = CASE
           WHEN v.technical THEN v."durationSeconds" ELSE f.duration_seconds END
       FROM jsonb_to_recordset($1::jsonb) AS v(id uuid, "rootId" int, path text, role text, "trackId" int, state text,
         size bigint, "modifiedMs" float8, "changedMs" float8, "audioHash" text,
         technical boolean, format text, codec text, bitrate bigint, "sampleRate" bigint, channels bigint, "durationSeconds" float8)
       WHERE f.id = v.id RETURNING f.track_id AS "trackId", (v.path IS NOT NULL OR v."rootId" IS NOT NULL
         OR v.role IS NOT NULL) AS moved`,
      [JSON.stringify(records)],
      t,
    );
    await mirror(
      database,
      rows.map((r) => r.trackId),
      t,
    );
    await namePlaces(
      database,
      rows.filter((r) => r.moved).map((r) => r.trackId),
      t,
    );
  }
}

/** Stores what a file sounds like. Its track is locked already. */
export const storeSoundHash = (database: Database, id: string, audioHash: string, t: Transaction): Promise<void> =>
  database.run('UPDATE track_files SET audio_hash = $2 WHERE id = $1', [id, audioHash], t);

export interface MainFileWish {
  trackId: number;
  was: string;
  fileId: string;
}

/**
 * Makes other files the main ones of their tracks, with what the sheet shows of them. A file that belongs to another
 * track by now stays what it is there.
 */
export async function setMainFiles(database: Database, wishes: readonly MainFileWish[], t: Transaction): Promise<void> {
  if (wishes.length === 0) return;
  const owners = await database.rows<{ id: string; trackId: number }>(
    'SELECT id, track_id AS "trackId" FROM track_files WHERE id = ANY($1::uuid[])',
    [wishes.flatMap((w) => [w.was, w.fileId])],
    t,
  );
  const ownerOf = new Map(owners.map((o) => [o.id, o.trackId]));
  const own = (id: string, trackId: number): boolean => ownerOf.get(id) === trackId;
  // A track has one main file at any moment.
  const former = wishes.filter((w) => own(w.was, w.trackId)).map((w): ChangedFile => ({ id: w.was, role: 'copy' }));
  const next = wishes.filter((w) => own(w.fileId, w.trackId)).map((w): ChangedFile => ({ id: w.fileId, role: 'main' }));
  await storeFiles(database, former, t);
  await storeFiles(database, next, t);
  await noteOtherSound(database, wishes, t);
  await showTechnical(
    database,
    wishes.map((w) => w.trackId),
    t,
  );
}

/** Those that were measured by a file of another sound are to be measured again. */
const noteOtherSound = (database: Database, wishes: readonly MainFileWish[], t: Transaction): Promise<void> =>
  database.run(
    `INSERT INTO measure_again (track_id) SELECT a.track_id
      FROM jsonb_to_recordset($1::jsonb) AS v("trackId" int, was uuid, "fileId" uuid)
      JOIN analyses a ON a.track_id = v."trackId" JOIN track_files f ON f.id = v."fileId" AND f.track_id = a.track_id
      LEFT JOIN track_files w ON w.id = v.was
     WHERE f.audio_hash IS NULL OR w.audio_hash IS DISTINCT FROM f.audio_hash ON CONFLICT DO NOTHING`,
    [JSON.stringify(wishes)],
    t,
  );

/** What the sheet says of how main files are made. */
const showTechnical = (database: Database, trackIds: readonly number[], t: Transaction): Promise<void> =>
  database.run(
    `UPDATE tracks t SET format = COALESCE(f.container, t.format), codec = COALESCE(f.codec, t.codec),
      bitrate = COALESCE(f.bitrate, t.bitrate), sample_rate = COALESCE(f.sample_rate, t.sample_rate),
      channels = COALESCE(f.channels, t.channels), duration_seconds = COALESCE(f.duration_seconds, t.duration_seconds)
     FROM track_files f WHERE f.track_id = t.id AND f.role = 'main' AND t.id = ANY($1::int[])`,
    [[...trackIds]],
    t,
  );

/** Locks the tracks that own files, or will. */
async function lockOwners(database: Database, changes: readonly ChangedFile[], t: Transaction): Promise<void> {
  const owners = await database.rows<{ id: number }>(
    'SELECT DISTINCT track_id AS id FROM track_files WHERE id = ANY($1::uuid[])',
    [changes.map((c) => c.id)],
    t,
  );
  const next = changes.flatMap((c) => (c.trackId === undefined ? [] : [c.trackId]));
  await lockTracks(database, [...owners.map((o) => o.id), ...next], t);
}

/** What the sheet shows of main files. */
export const mirror = (database: Database, trackIds: readonly number[], t: Transaction): Promise<void> =>
  database.run(
    `UPDATE tracks t SET root_id = f.root_id, file_state = f.state, file_size = f.size,
      file_modified_ms = f.modified_ms, file_changed_ms = f.changed_ms
     FROM track_files f WHERE f.track_id = t.id AND f.role = 'main' AND t.id = ANY($1::int[])`,
    [[...trackIds]],
    t,
  );

/** Where main files lie, with what is searched. */
export async function namePlaces(database: Database, trackIds: readonly number[], t: Transaction): Promise<void> {
  if (trackIds.length === 0) return;
  const places = await database.rows<{ id: number; path: string; root: string }>(
    `SELECT f.track_id AS id, f.path, r.label AS root FROM track_files f JOIN roots r ON r.id = f.root_id
      WHERE f.role = 'main' AND f.track_id = ANY($1::int[])`,
    [[...trackIds]],
    t,
  );
  const tracks = await loadTracks(database, trackIds, [], t);
  await storeValues(
    database,
    places.map(({ id, ...place }) => ({ id, changed: place, all: { ...tracks.get(id)?.values, ...place } })),
    t,
  );
}

export interface NewFile {
  id?: string;
  trackId: number;
  ref: FileRef;
  role: FileRole;
  /** What a companion is. */
  companion?: string | null;
  size: number;
  modifiedMs: number;
  changedMs?: number | null;
  technical?: Technical;
}

/**
 * Adds a file to a track; false when that place is taken by another. The sheet's columns of a main file are the
 * caller's.
 */
export async function addFile(database: Database, file: NewFile, t: Transaction): Promise<boolean> {
  const { technical = {} } = file;
  const rows = await database.rows(
    `INSERT INTO track_files (id, track_id, root_id, path, role, size, modified_ms, changed_ms, container, codec,
      bitrate, sample_rate, channels, duration_seconds, companion)
     VALUES (COALESCE($1::uuid, gen_random_uuid()), $2, $3, $4, $5, $6, $7, $8, $9, $10, $11::bigint, $12::bigint,
       $13::bigint, $14::float8, $15) ON CONFLICT (root_id, path) DO NOTHING RETURNING id`,
    [
      file.id ?? null,
      file.trackId,
      file.ref.rootId,
      file.ref.path,
      file.role,
      file.size,
      file.modifiedMs,
      file.changedMs ?? null,
      technical.format ?? null,
      technical.codec ?? null,
      technical.bitrate ?? null,
      technical.sampleRate ?? null,
      technical.channels ?? null,
      technical.durationSeconds ?? null,
      file.companion ?? null,
    ],
    t,
  );
  return rows.length > 0;
}

/** Where a track's main file is, with what a player has to know of it; undefined when there is no such track. */
export interface LyingMainFile {
  rootPath: string;
  rootId: number;
  path: string;
  fileId: string;
  state: FileState;
}

export async function mainFileOf(database: Database, trackId: number): Promise<LyingMainFile | undefined> {
  const [row] = await database.rows<LyingMainFile>(
    `SELECT r.path AS "rootPath", r.id AS "rootId", f.path, f.id AS "fileId", f.state FROM track_files f
      JOIN roots r ON r.id = f.root_id WHERE f.track_id = $1 AND f.role = 'main'`,
    [trackId],
  );
  return row;
}

/** Writes down which file was given where, so that later it can be said what somebody has. */
export const noteGiven = (
  database: Database,
  trackIds: readonly number[],
  givenTo: string,
  listId: string | null,
  t?: Transaction,
): Promise<void> =>
  database.run(
    `INSERT INTO file_ledger (track_id, file_id, root_id, path, audio_hash, given_to, list_id)
     SELECT f.track_id, f.id, f.root_id, f.path, f.audio_hash, $2, $3::uuid FROM track_files f WHERE f.role = 'main'
       AND f.track_id = ANY($1::int[])`,
    [[...trackIds], givenTo, listId],
    t,
  );
