/** What lies in the quarantine of each root; putting it back, and throwing it away for good. */
import type { Transaction } from 'sequelize';
import { rmdir, unlink } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Emptied, Quarantine, QuarantinedFile } from '@early-set/core/api/disk';
import { QUARANTINE, relocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { putBack } from '@early-set/core/changes/kinds/putAside';
import type { FileRef } from '@early-set/core/files/fileRef';
import { planNames, type WantedFile } from '@early-set/core/files/plan';
import { Problem } from '../base/problem.ts';
import { log } from '../base/log.ts';
import { soonAndDaily, type SoonAndDaily } from '../base/soonAndDaily.ts';
import type { Draft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import type { Database } from '../db/database.ts';
import { deskSettings } from '../db/settings.ts';
import { reasonOf } from '../files/reasons.ts';
import { keepAside } from '../library/removedTracks.ts';
import { storeFiles } from '../library/trackFiles.ts';
import { several } from '../lists/lists.ts';
import { resolveInRoot } from '../media/roots.ts';
import { isThere } from '../files/there.ts';
import { takenOf } from './placesTaken.ts';

const sinceText = (moment: string): string => `to_char(${moment} AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"')`;

/** Files in quarantine, the latest first; where each of a track lay is told by the change that put it there. */
const retired = async (database: Database): Promise<QuarantinedFile[]> =>
  (await Promise.all([retiredOfTracks(database), retiredOthers(database)]))
    .flat()
    .sort((a, b) => (a.since === b.since ? 0 : a.since < b.since ? 1 : -1));

const retiredOthers = (database: Database): Promise<QuarantinedFile[]> =>
  database.rows<QuarantinedFile>(
    `SELECT p.id AS "fileId", NULL AS "trackId", '' AS title, '' AS artist, p.root_id AS "rootId", r.label AS root,
        r.away_since IS NOT NULL AS away, p.path, p.size, false AS main, ${sinceText('p.since')} AS since, p.was AS "from",
        p.reason, p.modified_ms AS "modifiedMs"
      FROM put_aside p JOIN roots r ON r.id = p.root_id WHERE NOT r.removed ORDER BY p.since DESC, p.was`,
  );

const retiredOfTracks = (database: Database): Promise<QuarantinedFile[]> =>
  database.rows<QuarantinedFile>(
    `SELECT f.id AS "fileId", f.track_id AS "trackId", COALESCE(t.title, '') AS title,
        COALESCE(array_to_string(t.artist, '; '), '') AS artist, f.root_id AS "rootId", r.label AS root,
        r.away_since IS NOT NULL AS away, f.path, f.size, f.role = 'main' AS main,
        ${sinceText('f.state_since')} AS since, i.was AS "from", NULL AS reason, 0 AS "modifiedMs"
      FROM track_files f JOIN tracks t ON t.id = f.track_id JOIN roots r ON r.id = f.root_id
      LEFT JOIN LATERAL (SELECT item->'before'->>'path' AS was FROM change_items
        WHERE track_id = f.track_id AND state = 'done' AND item->>'fileId' = f.id::text
          AND item->'after' = jsonb_build_object('rootId', f.root_id, 'path', f.path)
        ORDER BY change_set_id DESC LIMIT 1) i ON true
      WHERE f.state = 'retired' AND NOT r.removed ORDER BY f.state_since DESC, f.path`,
  );

const rootPaths = async (database: Database): Promise<ReadonlyMap<number, string>> =>
  new Map((await database.rows<{ id: number; path: string }>('SELECT id, path FROM roots')).map((r) => [r.id, r.path]));

export async function quarantine(database: Database): Promise<Quarantine> {
  const files = await retired(database);
  return { files, bytes: files.reduce((sum, { size }) => sum + size, 0) };
}

const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

const chosenOf = (rows: readonly QuarantinedFile[], fileIds: readonly string[] | null): QuarantinedFile[] => {
  const wanted = fileIds && new Set(fileIds);
  return rows.filter((row) => wanted === null || wanted.has(row.fileId));
};

/**
 * The draft that puts files back where they lay; beside it, numbered, where something lies there by now.
 * @throws Problem when none of them lies in quarantine
 */
export async function restoringDraft(database: Database, fileIds: readonly string[] | null): Promise<Draft> {
  const rows = chosenOf(await retired(database), fileIds);
  if (rows.length === 0) throw new Problem(409, 'nothing-to-do', 'These files are not in quarantine any more');
  const wanted = rows.map(({ rootId, path, from }): WantedFile => ({
    ref: { rootId, path },
    wanted: { rootId, path: from ?? nameOf(path) },
  }));
  const others = await database.rows<FileRef>(
    'SELECT root_id AS "rootId", path FROM track_files WHERE state <> \'retired\'',
  );
  // Files that nobody has taken in hold their places, too.
  const roots = await rootPaths(database);
  others.push(
    ...(await takenOf(
      wanted.map((w) => w.wanted),
      (id) => roots.get(id)!,
    )),
  );
  const plan = planNames(wanted, others);
  const items = plan.moves.map(({ at, to }) => {
    const { trackId, fileId, size, modifiedMs, reason } = rows[at]!;
    const { ref } = wanted[at]!;
    return trackId === null
      ? putBack({ what: 'file', id: fileId, ref, size, modifiedMs, reason: reason! }, to)
      : relocateFile('restore', { trackId, fileId }, ref, to);
  });
  if (items.length === 0)
    throw new Problem(409, 'no-place', plan.troubles[0]?.why ?? 'There is no place for these files');
  return { title: `Put ${several(items.length, 'file')} back from quarantine`, items };
}

/**
 * Throws files away for good: all of them, some, or those that have lain there since before a moment. The changes that
 * put them there can then no longer be undone for them, and say so.
 */
export const emptyQuarantine = (
  context: ChangeContext,
  what: { fileIds: readonly string[] | null; before?: Date },
): Promise<Emptied> =>
  context.inTurn(async () => {
    const { database } = context;
    const rows = chosenOf(await retired(database), what.fileIds).filter(
      ({ since }) => what.before === undefined || new Date(since) < what.before,
    );
    const roots = await rootPaths(database);
    const report: Emptied = { files: 0, bytes: 0, left: [] };
    for (const row of rows) {
      try {
        await throwAway(row, roots.get(row.rootId)!);
        // The file first: killed in between, the next emptying finds it gone. What is known of it stays, for undo.
        await database.transaction(async (t) => {
          if (row.trackId === null) {
            await database.run('DELETE FROM put_aside WHERE id = $1', [row.fileId], t);
            return;
          }
          await storeFiles(database, [{ id: row.fileId, state: 'missing' }], t);
          await keepAside(database, await endedWith(database, row, t), t);
        });
        report.files++;
        report.bytes += row.size;
      } catch (error) {
        report.left.push({ path: `${row.root}: ${row.from ?? nameOf(row.path)}`, reason: reasonOf(error) });
      }
    }
    if (report.files > 0) await database.notify({ kind: 'tracks' });
    return report;
  });

/** The track of a file that was thrown away, when it has no other and no list asks for it: it goes with its file. */
async function endedWith(database: Database, { trackId, main }: QuarantinedFile, t: Transaction): Promise<number[]> {
  if (!main) return [];
  const ended = await database.rows<{ id: number }>(
    `SELECT t.id FROM tracks t WHERE t.id = $1
        AND NOT EXISTS (SELECT 1 FROM track_files f WHERE f.track_id = t.id AND f.role <> 'companion'
          AND f.state <> 'missing')
        AND NOT EXISTS (SELECT 1 FROM list_entries e JOIN lists l ON l.id = e.list_id
          WHERE e.track_id = t.id AND NOT l.removed)`,
    [trackId],
    t,
  );
  return ended.map(({ id }) => id);
}

async function throwAway({ away, root, path }: QuarantinedFile, rootPath: string): Promise<void> {
  if (away) throw new Problem(409, 'drive-away', `The drive of ${root} is not there`);
  if (!path.startsWith(`${QUARANTINE}/`)) throw new Problem(409, 'not-there', 'It does not lie in quarantine');
  if (!(await isThere(join(rootPath, path)))) return;
  const file = await resolveInRoot(rootPath, path);
  await unlink(file);
  // Each file has a folder of its own there.
  await rmdir(dirname(file)).catch(() => undefined);
}

const DAY_MS = 86_400_000;

/** Empties by age at the start and when a day begins, if the settings say so. */
export const keepQuarantine = (context: ChangeContext): SoonAndDaily =>
  soonAndDaily(
    async () => {
      const { quarantineDays } = await deskSettings();
      if (quarantineDays === null) return;
      const before = new Date(Date.now() - quarantineDays * DAY_MS);
      const { files, left } = await emptyQuarantine(context, { fileIds: null, before });
      if (files > 0) log.info(`${files} files that lay in quarantine for ${quarantineDays} days were thrown away`);
      for (const { path, reason } of left) log.warn(`${path} could not be thrown away: ${reason}`);
    },
    2000,
    'quarantine could not be emptied by age',
  );
