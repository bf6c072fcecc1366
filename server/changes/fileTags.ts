/** What files are known to say, kept beside the library so that drafts can be made without opening any file. */
import type { FileFields } from '@early-set/core/tags/values';
import type { Transaction } from 'sequelize';
import type { Database } from '../db/database.ts';
import type { FileStamp } from '../files/fileWork.ts';

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

/** Keeps what was read from files. */
export async function storeFileTags(
  database: Database,
  looked: readonly { id: number; stamp: FileStamp }[],
  t: Transaction,
): Promise<void> {
  if (looked.length === 0) return;
  await database.run(
    `INSERT INTO file_tags (track_id, tag_hash, fields) SELECT v.id, v.hash, v.fields FROM jsonb_to_recordset($1::jsonb) AS v(id int, hash text, fields jsonb)
     ON CONFLICT (track_id) DO UPDATE SET tag_hash = excluded.tag_hash, fields = excluded.fields, looked_at = now()`,
    [JSON.stringify(looked.map(({ id, stamp }) => ({ id, hash: stamp.tagHash, fields: stamp.fields })))],
    t,
  );
  await database.run(
    `UPDATE tracks t SET file_size = v.size, file_modified_ms = v.modified, file_changed_ms = v.changed FROM jsonb_to_recordset($1::jsonb) AS v(id int, size bigint, modified float8, changed float8) WHERE t.id = v.id`,
    [
      JSON.stringify(
        looked.map(({ id, stamp }) => ({ id, size: stamp.size, modified: stamp.modifiedMs, changed: stamp.changedMs })),
      ),
    ],
    t,
  );
}
