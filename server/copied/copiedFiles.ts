/** What is known of the files on the copy. */
import type { Transaction } from 'sequelize';
import type { CopyExtra } from '@early-set/core/api/musicCopy';
import type { Copied, Lying } from '@early-set/core/musicCopy/plan';
import type { Database } from '../db/database.ts';

export interface CopiedFile extends Copied {
  id: string;
  /** On the copy; there, and gone here; set aside there. */
  state: 'there' | 'gone' | 'aside';
}

const SELECT =
  'SELECT id, path, size, modified_ms AS "modifiedMs", changed_ms AS "changedMs", sha256, state FROM copied_files';

export const copiedFiles = (database: Database, rootId: number): Promise<CopiedFile[]> =>
  database.rows(`${SELECT} WHERE root_id = $1 ORDER BY path`, [rootId]);

export async function copiedFile(database: Database, id: string): Promise<CopiedFile | undefined> {
  return (await database.rows<CopiedFile>(`${SELECT} WHERE id = $1`, [id]))[0];
}

/** Notes that a file was copied; what was known of its path before gives way. */
export const noteCopied = (
  database: Database,
  rootId: number,
  { path, size, modifiedMs, changedMs, sha256 }: Copied,
): Promise<void> =>
  database.run(
    `INSERT INTO copied_files (root_id, path, size, modified_ms, changed_ms, sha256) VALUES ($1, $2, $3, $4, $5, $6)
      ON CONFLICT (root_id, path) WHERE state <> 'aside' DO UPDATE SET size = excluded.size, state = 'there',
        modified_ms = excluded.modified_ms, changed_ms = excluded.changed_ms, sha256 = excluded.sha256, since = now()`,
    [rootId, path, size, modifiedMs, changedMs, sha256],
  );

/** Of many at once, as a list on the drive tells them: how they lay here nobody knows, so that their sums are asked. */
export const noteListed = (
  database: Database,
  rootId: number,
  files: readonly Pick<Copied, 'path' | 'size' | 'sha256'>[],
): Promise<void> =>
  database.run(
    `INSERT INTO copied_files (root_id, path, size, modified_ms, changed_ms, sha256)
      SELECT $1, path, size, -1, -1, sha256
        FROM jsonb_to_recordset($2::jsonb) AS v(path text, size bigint, sha256 text) ON CONFLICT DO NOTHING`,
    [rootId, JSON.stringify(files)],
  );

/** What lies in quarantine on a drive of which nothing is known. */
export const noteAside = (
  database: Database,
  rootId: number,
  files: readonly { id: string; path: string; size: number; modifiedMs: number }[],
): Promise<void> =>
  database.run(
    `INSERT INTO copied_files (id, root_id, path, size, modified_ms, changed_ms, sha256, state)
      SELECT id, $1, path, size, "modifiedMs", -1, '', 'aside'
        FROM jsonb_to_recordset($2::jsonb) AS v(id uuid, path text, size bigint, "modifiedMs" float8)
      ON CONFLICT DO NOTHING`,
    [rootId, JSON.stringify(files)],
  );

export const noteRenamed = (database: Database, id: string, { path, modifiedMs, changedMs }: Lying): Promise<void> =>
  database.run(
    `UPDATE copied_files SET path = $2, modified_ms = $3, changed_ms = $4, state = 'there', since = now()
      WHERE id = $1`,
    [id, path, modifiedMs, changedMs],
  );

export const noteState = (
  database: Database,
  ids: readonly string[],
  state: CopiedFile['state'],
  t?: Transaction,
): Promise<void> =>
  database.run(
    'UPDATE copied_files SET state = $2, since = now() WHERE id = ANY($1::uuid[]) AND state <> $2',
    [[...ids], state],
    t,
  );

/** So that it is copied anew. */
export const noteBad = (database: Database, id: string): Promise<void> =>
  database.run("UPDATE copied_files SET modified_ms = -1, sha256 = '' WHERE id = $1", [id]);

export const forget = (database: Database, ids: readonly string[]): Promise<void> =>
  database.run('DELETE FROM copied_files WHERE id = ANY($1::uuid[])', [[...ids]]);

/** So many are listed. */
const LISTED = 5000;

/** Those that the folders here do not have, the latest first. */
export async function extrasOf(database: Database): Promise<{ extras: CopyExtra[]; more: boolean }> {
  const rows = await database.rows<CopyExtra>(
    `SELECT c.id, c.root_id AS "rootId", r.label AS root, c.path, c.size, c.state, c.since FROM copied_files c
      JOIN roots r ON r.id = c.root_id WHERE c.state <> 'there' ORDER BY c.since DESC, r.label, c.path LIMIT $1`,
    [LISTED + 1],
  );
  return { extras: rows.slice(0, LISTED), more: rows.length > LISTED };
}

/** Of each library folder, what lies on the copy of it. */
export const sizesOf = (database: Database): Promise<{ rootId: number; files: number; bytes: number }[]> =>
  database.rows(
    `SELECT root_id AS "rootId", count(*) AS files, sum(size)::bigint AS bytes FROM copied_files
      WHERE state = 'there' GROUP BY root_id`,
  );
