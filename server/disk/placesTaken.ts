/** Places that files hold whether or not anybody has taken them in. */
import { join } from 'node:path';
import { isThere } from '../files/there.ts';
import type { FileRef } from '@early-set/core/files/fileRef';

/** Of some references those at which something lies. @param rootPath the folder of a root */
export async function takenOf(refs: Iterable<FileRef>, rootPath: (rootId: number) => string): Promise<FileRef[]> {
  const taken: FileRef[] = [];
  for (const ref of refs) if (await isThere(join(rootPath(ref.rootId), ref.path))) taken.push(ref);
  return taken;
}
