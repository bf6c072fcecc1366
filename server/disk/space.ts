/** Where the space on the drives goes. What is missing takes none, and what is in quarantine is told of there. */
import type { RetireLook, Space } from '@early-set/core/api/disk';
import type { Selection } from '@early-set/core/api/types';
import { relocateFile, quarantined } from '@early-set/core/changes/kinds/relocateFile';
import type { TrackFile } from '@early-set/core/changes/snapshot';
import type { Condition } from '@early-set/core/conditions/condition';
import {
  NO_VALUE,
  OTHERS,
  QUALITIES,
  SAMPLES,
  spaceTree,
  USE,
  USED,
  type SpaceBy,
  type SpaceRow,
} from '@early-set/core/space/space';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { compileCondition } from '../library/conditionSql.ts';
import { selectedIds } from '../library/sheet.ts';
import { filesOf } from '../library/trackFiles.ts';
import { several } from '../lists/lists.ts';

/** Lists that people filled; what a rule or a folder put into a list, nobody chose. */
const FILLED = 'NOT removed AND rule IS NULL AND mirror_of IS NULL';
const LISTED = `t.id IN (SELECT e.track_id FROM list_entries e JOIN lists l ON l.id = e.list_id
  WHERE e.track_id IS NOT NULL AND ${FILLED.replaceAll(/(removed|rule|mirror_of)/g, 'l.$1')})`;
const folderOf = (path: string): string => `regexp_replace(${path}, '/?[^/]*$', '')`;

interface FolderRow extends SpaceRow {
  rootId: number;
  folder: string;
}

export async function space(database: Database, by: SpaceBy): Promise<Space> {
  const values: unknown[] = [];
  const sql = (condition: Condition): string => compileCondition(condition, values).text;
  const quality = (): string =>
    `CASE ${QUALITIES.map((q) => `WHEN ${sql(q.condition)} THEN '${q.key}'`).join(' ')} ELSE '${NO_VALUE}' END`;
  const added = (part: string): string =>
    `to_char(t.added_at AT TIME ZONE $${values.push(Intl.DateTimeFormat().resolvedOptions().timeZone)}::text, '${part}')`;
  const format = `COALESCE(t.format, '${NO_VALUE}')`;
  const keys: Record<SpaceBy, () => string[]> = {
    folder: () => ['f.root_id::text', folderOf('f.path')],
    format: () => [format, quality()],
    quality: () => [quality(), format],
    added: () => [added('YYYY'), added('MM')],
    use: () => [
      `CASE WHEN ${LISTED} THEN '${USE.listed}' ELSE '${USE.unlisted}' END`,
      `CASE WHEN ${sql(USED)} THEN '${USE.used}' ELSE '${USE.unused}' END`,
    ],
  };
  const rows = await database.rows<SpaceRow>(
    `SELECT ARRAY[${keys[by]().join(', ')}] AS keys, count(*) AS files,
        count(*) FILTER (WHERE f.role = 'main') AS tracks,
        count(*) FILTER (WHERE f.role = 'companion') AS others, sum(f.size)::float8 AS bytes,
        count(*) FILTER (WHERE f.role = 'main' AND ${sql(SAMPLES)}) AS samples,
        count(*) FILTER (WHERE f.role = 'main' AND ${LISTED}) AS listed,
        to_char(max(t.added_at) AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS last
      FROM track_files f JOIN tracks t ON t.id = f.track_id JOIN roots r ON r.id = f.root_id
      WHERE f.state IN ('here', 'away') AND NOT r.removed GROUP BY 1`,
    values,
  );
  const others = await database.rows<FolderRow>(
    `SELECT n.root_id AS "rootId", ${folderOf('n.path')} AS folder, count(*) AS files, 0 AS tracks, 0 AS samples,
        count(*) AS others, sum(n.file_size)::float8 AS bytes, 0 AS listed, NULL AS last
      FROM not_taken n JOIN roots r ON r.id = n.root_id WHERE NOT r.removed GROUP BY 1, 2`,
  );
  const all =
    by === 'folder'
      ? [
          ...rows.map((row) => ({ ...row, keys: folderKeys(row.keys[0]!, row.keys[1]!) })),
          ...others.map((row) => ({ ...row, keys: folderKeys(String(row.rootId), row.folder) })),
        ]
      : [...rows, ...others.map((row) => ({ ...row, keys: [OTHERS] }))];
  const lists =
    by === 'use' ? await database.rows<{ id: string }>(`SELECT id FROM lists WHERE ${FILLED} ORDER BY id`) : [];
  return { top: spaceTree(all), listIds: lists.map((l) => l.id) };
}

const folderKeys = (root: string, folder: string): string[] => [root, ...folder.split('/').filter(Boolean)];

const goingFiles = async (database: Database, selection: Selection): Promise<TrackFile[]> =>
  (await filesOf(database, await selectedIds(database, selection))).filter(
    (file) => file.role === 'main' && file.state === 'here',
  );

/** What putting the files of tracks into quarantine would do. */
export async function retireLook(database: Database, selection: Selection): Promise<RetireLook> {
  const files = await goingFiles(database, selection);
  const [held] = await database.rows<{ n: number }>(
    `SELECT count(*) AS n FROM tracks t WHERE t.id = ANY($1::int[]) AND ${LISTED}`,
    [files.map((f) => f.trackId)],
  );
  return { files: files.length, bytes: files.reduce((sum, f) => sum + f.size, 0), listed: held!.n };
}

/** The draft that puts the files of tracks into quarantine. @throws Problem when none of them is there */
export async function retiringDraft(database: Database, selection: Selection): Promise<Draft> {
  const files = await goingFiles(database, selection);
  if (files.length === 0) throw new Problem(409, 'nothing-to-do', 'None of these files is there');
  return {
    title: `Put ${several(files.length, 'file')} into quarantine`,
    items: files.map(({ id, trackId, ref }) =>
      relocateFile('retire', { trackId, fileId: id }, ref, quarantined(ref, id)),
    ),
  };
}
