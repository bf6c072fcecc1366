/** What files are known to say, kept beside the library so that drafts can be made without opening any file. */
import { writtenBy } from '@early-set/core/changes/kinds/writeTags';
import type { BaseItem } from '@early-set/core/changes/kinds/kind';
import type { FileFields } from '@early-set/core/tags/values';
import type { Transaction } from 'sequelize';
import type { Database } from '../db/database.ts';
import type { FileStamp } from '../files/fileTasks.ts';
import { mainFileIds, storeFiles } from '../library/trackFiles.ts';
import { lockTracks } from '../library/trackStore.ts';

/** What the files of tracks are known to hold; tracks whose file nobody has looked at are not in it. */
export async function knownFileFields(
  database: Database,
  trackIds: readonly number[],
  t?: Transaction,
): Promise<Map<number, NonNullable<FileFields>>> {
  const rows = await database.rows<{ id: number; fields: Record<string, string[]> }>(
    'SELECT track_id AS id, fields FROM file_tags WHERE track_id = ANY($1::int[])',
    [[...trackIds]],
    t,
  );
  return new Map(rows.map((r) => [r.id, r.fields]));
}

/** The same as it will be when all that waits to be written has been. */
export async function expectedFileFields(
  database: Database,
  trackIds: readonly number[],
): Promise<Map<number, NonNullable<FileFields>>> {
  // One question, so that a line that is settled meanwhile is seen either as waiting or in what the file says.
  const rows = await database.rows<{ id: number; fields: NonNullable<FileFields>; waiting: BaseItem[] | null }>(
    `SELECT f.track_id AS id, f.fields, (SELECT jsonb_agg(i.item ORDER BY i.change_set_id, i.seq) FROM change_items i
        WHERE i.track_id = f.track_id AND i.state = 'waiting') AS waiting
      FROM file_tags f WHERE f.track_id = ANY($1::int[])`,
    [[...trackIds]],
  );
  return new Map(
    rows.map(({ id, fields, waiting }) => [id, Object.assign({}, fields, ...(waiting ?? []).map(writtenBy))]),
  );
}

/** Keeps what was read from files. */
export async function storeFileTags(
  database: Database,
  looked: readonly { id: number; stamp: FileStamp }[],
  t: Transaction,
): Promise<void> {
  if (looked.length === 0) return;
  const ids = looked.map((l) => l.id);
  await lockTracks(database, ids, t);
  await database.run(
    `INSERT INTO file_tags (track_id, tag_hash, fields) SELECT v.id, v.hash, v.fields
      FROM jsonb_to_recordset($1::jsonb) AS v(id int, hash text, fields jsonb)
     ON CONFLICT (track_id) DO UPDATE SET tag_hash = excluded.tag_hash, fields = excluded.fields, looked_at = now()`,
    [JSON.stringify(looked.map(({ id, stamp }) => ({ id, hash: stamp.tagHash, fields: stamp.fields })))],
    t,
  );
  const files = await mainFileIds(database, ids, t);
  await storeFiles(
    database,
    looked.flatMap(({ id, stamp: { size, modifiedMs, changedMs } }) => {
      const fileId = files.get(id);
      return fileId === undefined ? [] : [{ id: fileId, size, modifiedMs, changedMs }];
    }),
    t,
  );
}
