/** File names as a field that can be edited: what is typed for it becomes moves. */
import type { FieldEdit } from '@early-set/core/changes/fields';
import { renameFiles } from '@early-set/core/changes/files';
import type { MoveFile } from '@early-set/core/changes/items';
import { nameOf, safeFileName } from '@early-set/core/files/paths';
import type { FieldValue } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
import { Problem } from '../problem.ts';

/** The field whose values are names of files, without their endings. */
export const FILE_NAME = 'fileName';

/** Takes file names out of edits of fields; before may be undefined for whatever the name is now. @throws Problem for a name that no file can have */
export async function withoutNames(
  database: Database,
  edits: readonly (Omit<FieldEdit, 'fields'> & {
    fields: Record<string, { before: FieldValue | undefined; after: FieldValue }>;
  })[],
): Promise<{ fields: FieldEdit[]; moves: MoveFile[] }> {
  const naming = edits.filter((e) => FILE_NAME in e.fields);
  if (naming.length === 0) return { fields: edits as FieldEdit[], moves: [] };
  const rows = await database.rows<{ id: number; path: string }>(
    'SELECT id, path FROM tracks WHERE id = ANY($1::int[])',
    [naming.map((e) => e.trackId)],
  );
  const paths = new Map(rows.map((r) => [r.id, r.path]));
  const moves = renameFiles(
    naming.flatMap(({ trackId, fields }) => {
      const { before, after } = fields[FILE_NAME]!,
        path = paths.get(trackId);
      const name = safeFileName(String(after ?? ''), '');
      if (name === '') throw new Problem(400, 'bad-value', 'A file needs a name');
      return path === undefined
        ? []
        : [{ trackId, path, before: before === undefined ? nameOf(path) : String(before), after: name }];
    }),
  );
  return {
    moves,
    fields: (edits as FieldEdit[]).flatMap(({ trackId, fields }) => {
      const others = Object.entries(fields).filter(([id]) => id !== FILE_NAME);
      return others.length ? [{ trackId, fields: Object.fromEntries(others) }] : [];
    }),
  };
}
