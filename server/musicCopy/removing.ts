/** Removing what is gone here from the copy: into its quarantine by a draft, then for good when that is asked for. */
import { unlink, rmdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Emptied } from '@early-set/core/api/disk';
import type { CopyExtra } from '@early-set/core/api/musicCopy';
import { removeCopied } from '@early-set/core/changes/kinds/removeCopied';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import type { Database } from '../db/database.ts';
import { reasonOf } from '../files/reasons.ts';
import { several } from '../lists/lists.ts';
import { asidePath, placeOf } from '../copied/places.ts';
import { extrasOf, forget } from '../copied/copiedFiles.ts';

async function chosen(
  database: Database,
  ids: readonly string[] | null,
  state: CopyExtra['state'],
): Promise<CopyExtra[]> {
  const wanted = ids && new Set(ids);
  return (await extrasOf(database)).extras.filter((one) => one.state === state && (wanted?.has(one.id) ?? true));
}

/** @param ids null: all @throws Problem when none of them is there */
export async function removingDraft(database: Database, ids: readonly string[] | null): Promise<Draft> {
  const rows = await chosen(database, ids, 'gone');
  if (rows.length === 0) throw new Problem(409, 'nothing-to-do', 'None of these files is on the copy any more');
  return {
    title: `Remove ${several(rows.length, 'file')} from the copy of the music`,
    items: rows.map(({ id, rootId, root, path, size }) => removeCopied({ id, rootId, root, path, size })),
  };
}

/** Throws away for good what was set aside on the copy. Undo of what set it aside then says so. */
export const emptyCopy = (context: ChangeContext, ids: readonly string[] | null): Promise<Emptied> =>
  context.inTurn(async () => {
    const { database } = context;
    const report: Emptied = { files: 0, bytes: 0, left: [] };
    for (const row of await chosen(database, ids, 'aside')) {
      try {
        const at = join(await placeOf({ id: row.rootId, label: row.root }), asidePath(row));
        await unlink(at).catch((error: NodeJS.ErrnoException) => {
          if (error.code !== 'ENOENT') throw error;
        });
        await rmdir(dirname(at)).catch(() => undefined);
        await forget(database, [row.id]);
        report.files++;
        report.bytes += row.size;
      } catch (error) {
        report.left.push({
          path: `${row.root}: ${row.path}`,
          reason: error instanceof Problem ? error.message : reasonOf(error),
        });
      }
    }
    await database.notify({ kind: 'settings' });
    return report;
  });
