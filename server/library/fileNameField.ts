/** File names as a field that can be edited: what is typed for it becomes moves. */
import type { FieldEdit } from '@early-set/core/changes/fields';
import { renameFiles } from '@early-set/core/changes/files';
import type { RelocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { nameOf, safeFileName } from '@early-set/core/files/paths';
import type { FieldValue } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
import { Problem } from '../base/problem.ts';
import { mainFiles } from './trackFiles.ts';

/** The field whose values are names of files, without their endings. */
export const FILE_NAME = 'fileName';

/**
 * Takes file names out of edits of fields; before may be undefined for whatever the name is now. @throws Problem for a
 * name that no file can have
 */
export async function withoutNames(
  database: Database,
  edits: readonly (Omit<FieldEdit, 'fields'> & {
    fields: Record<string, { before: FieldValue | undefined; after: FieldValue }>;
  })[],
): Promise<{ fields: FieldEdit[]; moves: RelocateFile[] }> {
  const naming = edits.filter((e) => FILE_NAME in e.fields);
  if (naming.length === 0) return { fields: edits as FieldEdit[], moves: [] };
  const files = await mainFiles(
    database,
    naming.map((e) => e.trackId),
  );
  const moves = renameFiles(
    naming.flatMap(({ trackId, fields }) => {
      const { before, after } = fields[FILE_NAME]!,
        file = files.get(trackId);
      const name = safeFileName(String(after ?? ''), '');
      if (name === '') throw new Problem(400, 'bad-value', 'A file needs a name');
      if (!file) return [];
      const { id: fileId, ref } = file;
      return [{ trackId, fileId, ref, before: before === undefined ? nameOf(ref.path) : String(before), after: name }];
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
