/** The copy of the music, as the page shows it. */
import type { MusicCopyHere } from '@early-set/core/api/musicCopy';
import { freeBytesAt, onOneDrive } from '../backups/places.ts';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import { extrasOf, sizesOf } from '../copied/copiedFiles.ts';
import { troubleAt } from '../copied/places.ts';
import { musicCopySettings } from '../copied/settings.ts';

export async function musicCopyHere(database: Database): Promise<MusicCopyHere> {
  const { folder, daily, leftOut } = await musicCopySettings();
  const [roots, sizes, extras] = await Promise.all([
    Root.findAll({ where: { removed: false }, order: [['label', 'ASC']] }),
    sizesOf(database),
    extrasOf(database),
  ]);
  const trouble = folder === null ? null : await troubleAt(folder);
  const near = folder === null ? [] : await Promise.all(roots.map(({ path }) => onOneDrive(path, folder)));
  return {
    ...{ settings: { folder, daily, leftOut }, trouble, sameDrive: near.includes(true) },
    freeBytes: folder === null ? null : await freeBytesAt(folder),
    roots: roots.map(({ id, label, path }) => {
      const { files = 0, bytes = 0 } = sizes.find(({ rootId }) => rootId === id) ?? {};
      return { rootId: id, label, path, left: leftOut.includes(id), files, bytes };
    }),
    ...extras,
  };
}
