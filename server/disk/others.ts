/** What lies in the library folders and is no music: unfinished downloads, texts, pictures, empty folders. */
import { randomUUID } from 'node:crypto';
import type { OtherFile, Others } from '@early-set/core/api/disk';
import { putAside } from '@early-set/core/changes/kinds/putAside';
import type { FileRef } from '@early-set/core/files/fileRef';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { several } from '../lists/lists.ts';

/** So many are listed; of more, the first. */
const LISTED = 20_000;
/** How the page names them. */
const EMPTY_FOLDER = 'An empty folder';

/** Links and what may not be read are told on Intake: nothing can be done to them from here. */
const CODES = ['not-music', 'broken', 'empty'];

/** What lies there, by library folder and path. */
export async function others(database: Database): Promise<Others> {
  const lines = await database.rows<OtherFile>(
    `SELECT o.*, r.label AS root, r.away_since IS NOT NULL AS away FROM (
        SELECT 'file' AS what, root_id AS "rootId", path, reason, file_size::float8 AS size,
          file_modified_ms AS "modifiedMs" FROM not_taken WHERE code = ANY($1::text[])
        UNION ALL SELECT 'folder', root_id, path, $2, 0, 0 FROM empty_folders
      ) o JOIN roots r ON r.id = o."rootId" WHERE NOT r.removed ORDER BY r.label, o.path LIMIT $3`,
    [CODES, EMPTY_FOLDER, LISTED],
  );
  return { lines, more: lines.length === LISTED };
}

const keyOf = ({ rootId, path }: FileRef): string => `${rootId} ${path}`;

/**
 * The draft that puts such files into quarantine and removes such folders, the innermost first.
 * @throws Problem when none of them is there
 */
export async function puttingAside(database: Database, wanted: readonly FileRef[]): Promise<Draft> {
  const keys = new Set(wanted.map(keyOf));
  const lines = (await others(database)).lines.filter((line) => keys.has(keyOf(line)));
  if (lines.length === 0) throw new Problem(409, 'nothing-to-do', 'None of this is there any more');
  const depth = ({ path }: OtherFile): number => path.split('/').length;
  const items = lines
    .toSorted((a, b) => Number(a.what === 'folder') - Number(b.what === 'folder') || depth(b) - depth(a))
    .map(({ what, rootId, path, size, modifiedMs, reason }) =>
      putAside({ what, id: randomUUID(), ref: { rootId, path }, size, modifiedMs, reason }),
    );
  const files = items.filter((i) => i.what === 'file').length,
    folders = items.length - files;
  const parts = [
    files > 0 && `put ${several(files, 'file')} that ${files === 1 ? 'is' : 'are'} no music into quarantine`,
    folders > 0 && `remove ${several(folders, 'empty folder')}`,
  ].filter((part) => part !== false);
  const title = parts.join(', ');
  return { title: title.charAt(0).toUpperCase() + title.slice(1), items };
}
