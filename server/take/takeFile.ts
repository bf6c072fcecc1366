/** Single files taken into the library, without a scan of the folder that they lie in. */
import { readdir, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { cameIn } from '@early-set/core/changes/kinds/removeTrack';
import type { SourceKey } from '@early-set/core/api/take';
import type { Transaction } from 'sequelize';
import { journalMade } from '../changes/journal.ts';
import type { Database } from '../db/database.ts';
import type { Root } from '../db/models.ts';
import { deskSettings } from '../db/settings.ts';
import type { FilePool } from '../files/filePool.ts';
import { tie } from '../handover/ties.ts';
import { Problem } from '../base/problem.ts';
import type { ScanContext, ScanReport } from '../intake/context.ts';
import { kindOf } from '../intake/kinds.ts';
import { readOne } from '../intake/read.ts';
import { storeBatch } from '../intake/store.ts';
import { walkFiles } from '../intake/walk.ts';
import { LEFT_OUT } from '../library/removedTracks.ts';
import type { ArtStore } from '../media/art.ts';

export interface TakeFileTools {
  database: Database;
  files: FilePool;
  art: ArtStore;
}

/** A file that lies in a library folder. */
export interface Placed {
  root: Root;
  /** Below it. */
  path: string;
}

export interface TakenFile {
  trackId: number;
  /** It was not in the library before. */
  isNew: boolean;
  changeSetId: number | null;
}

const NO_REPORT: ScanReport = {
  ...{ found: 0, taken: 0, changed: 0, returned: 0, missing: 0, notTaken: 0, unread: 0, differs: 0, differing: [] },
  ...{ changeSetId: null, followed: 0, remains: 0, newlyRefused: 0, refused: [] },
};

/**
 * Takes one in, and writes down that it came, so that it can be taken back.
 * @param changeSetId where that is written down; null for a new one
 * @throws Problem with the reason why it is not taken
 */
export async function takeFile(
  { database, files, art }: TakeFileTools,
  { root, path }: Placed,
  from: {
    source: SourceKey;
    otherId: string;
    runId: number;
    changeSetId: number | null;
    title: string;
    /** Done with it, in the same transaction. */
    noted: (trackId: number, changeSetId: number, t: Transaction) => Promise<void>;
  },
  signal: AbortSignal,
): Promise<TakenFile> {
  const known = await trackAt(database, root.id, path);
  if (known !== null) {
    await tie(database, from.source, [{ otherId: from.otherId, trackId: known, sameFile: true }]);
    return { trackId: known, isNew: false, changeSetId: from.changeSetId };
  }
  const kind = kindOf(path);
  if (kind.kind !== 'audio') throw new Problem(415, 'not-music', kind.kind === 'other' ? kind.reason : 'A picture');
  const { size, mtimeMs, ctimeMs } = await stat(join(root.path, path));
  const settings = await deskSettings();
  const context: ScanContext = {
    ...{ database, files, art, root, signal, settings, runId: from.runId, policy: settings.changedFiles },
    progress: () => Promise.resolve(),
  };
  const file = { path, size, modifiedMs: mtimeMs, changedMs: ctimeMs };
  const reading = await readOne(context, file, await coverBeside(root, path));
  if ('refused' in reading) throw new Problem(409, 'not-taken', reading.refused.reason);
  const name = String(reading.tags.title ?? path.slice(path.lastIndexOf('/') + 1));
  let made: TakenFile | null = null;
  await storeBatch(context, [reading], new Map(), { ...NO_REPORT }, async ([trackId], t) => {
    if (trackId === undefined) return;
    await database.run(
      'DELETE FROM not_taken WHERE root_id = $1 AND path = $2 AND code = $3',
      [root.id, path, LEFT_OUT],
      t,
    );
    await tie(database, from.source, [{ otherId: from.otherId, trackId, sameFile: true }], t);
    const changeSetId = await journalMade(database, from.changeSetId, from.title, [cameIn(trackId, name)], t);
    await from.noted(trackId, changeSetId, t);
    made = { trackId, isNew: true, changeSetId };
  });
  if (made) return made;
  // A scan was quicker.
  const trackId = await trackAt(database, root.id, path);
  if (trackId === null) throw new Problem(409, 'not-taken', 'What this file says of itself cannot be stored');
  await tie(database, from.source, [{ otherId: from.otherId, trackId, sameFile: true }]);
  return { trackId, isNew: false, changeSetId: from.changeSetId };
}

/** The track whose file, or copy of a file, lies there. */
async function trackAt(database: Database, rootId: number, path: string): Promise<number | null> {
  const [row] = await database.rows<{ id: number }>(
    "SELECT track_id AS id FROM track_files WHERE root_id = $1 AND path = $2 AND state <> 'retired'",
    [rootId, path],
  );
  return row?.id ?? null;
}

/** The picture that lies beside a file, by the folder of both. */
async function coverBeside({ path: root }: Root, path: string): Promise<Map<string, string>> {
  const folder = dirname(path);
  const names = await readdir(join(root, folder)).catch(() => []);
  const cover = names.find((name) => kindOf(name).kind === 'cover');
  return new Map(cover === undefined ? [] : [[folder, folder === '.' ? cover : `${folder}/${cover}`]]);
}

/**
 * Of a folder that became a library folder for the sake of some files, the others are left out on purpose: a scan does
 * not bring them in, and the page of the folder names them.
 */
export async function leaveOutOthers(
  database: Database,
  root: Root,
  wanted: ReadonlySet<string>,
  signal: AbortSignal,
): Promise<void> {
  const others: { path: string; size: number; modifiedMs: number }[] = [];
  for await (const file of walkFiles(root.path, { obstacle: () => undefined, signal }))
    if (kindOf(file.path).kind === 'audio' && !wanted.has(file.path)) others.push(file);
  await database.run(
    `INSERT INTO not_taken (root_id, path, code, reason, file_size, file_modified_ms)
      SELECT $1, v.path, $3, 'Not chosen when the others were taken', v.size, v."modifiedMs"
        FROM jsonb_to_recordset($2::jsonb) AS v(path text, size bigint, "modifiedMs" float8) ON CONFLICT DO NOTHING`,
    [root.id, JSON.stringify(others), LEFT_OUT],
  );
}
