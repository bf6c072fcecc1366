/** How files from outside are called in the folder they go to. */
import { nameInFolder, type PutNames } from '@early-set/core/files/put';
import type { TrackValues } from '@early-set/core/fields/values';
import { namer, RuleError, type NamedFile, type Wanted } from '@early-set/core/naming/naming';
import { Problem } from '../base/problem.ts';
import type { Root } from '../db/models.ts';
import { deskSettings } from '../db/settings.ts';
import type { FilePool } from '../files/filePool.ts';
import { valuesOf } from './lookFirst.ts';

/**
 * The name of a file below its folder; one that no rule names keeps its own.
 * @param whole where it lies; @param path below the folder that it comes from; @param known what is known of it besides
 *   its tags
 */
export type FileNamer = (
  whole: string,
  path: string,
  known?: TrackValues,
) => Promise<{ name: string; unnamed: boolean }>;

/** @throws Problem for rules that cannot be used */
export async function fileNamer(
  files: { files: FilePool },
  names: PutNames,
  root: Root,
  signal: AbortSignal,
): Promise<FileNamer> {
  if (names !== 'by rules')
    return (_, path) => Promise.resolve({ name: nameInFolder({ rootId: 0, path }, names), unnamed: false });
  const settings = await deskSettings();
  let wanted: (file: NamedFile) => Wanted;
  try {
    wanted = namer(settings.naming);
  } catch (error) {
    if (error instanceof RuleError) throw new Problem(400, 'bad-rule', error.message);
    throw error;
  }
  return async (whole, path, known = {}) => {
    const values: TrackValues = { ...(await valuesOf({ ...files, settings }, whole, signal)), ...known };
    const said = wanted({ path, values, root: root.label, lists: [] });
    return 'path' in said
      ? { name: said.path, unnamed: false }
      : { name: nameInFolder({ rootId: 0, path }, 'own'), unnamed: true };
  };
}
