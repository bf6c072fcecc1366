/**
 * Files put elsewhere: moved, copied, into quarantine and out of it. What is journalled is where from and where to; the
 * library learns of it when the file is there. A process killed in between leaves a journal from which it is finished.
 */
import { relocateFileKind, stateAfter, type RelocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { sameRef, type FileRef } from '@early-set/core/files/fileRef';
import { realpath } from 'node:fs/promises';
import type { Database } from '../../db/database.ts';
import { freeBytes } from '../../drives/drives.ts';
import type { Placed, Placing } from '../../files/place.ts';
import { absolutePath } from '../../library/absolutePath.ts';
import { addFile, FILE_SELECT, storeFiles } from '../../library/trackFiles.ts';
import { conflict } from '../context.ts';
import { deviceOf, serverKind, type FileWork } from './kind.ts';
import type { TrackFile } from '@early-set/core/changes/snapshot';

type Intent = Omit<Placing, 'begun'>;

async function fileById(database: Database, id: string): Promise<TrackFile | undefined> {
  return (await database.rows<TrackFile>(`SELECT ${FILE_SELECT} FROM track_files f WHERE f.id = $1`, [id]))[0];
}

/** The file that the bytes come from: of a copy, the one that lies at its source. */
async function sourceOf(database: Database, item: RelocateFile): Promise<TrackFile | undefined> {
  if (item.mode !== 'copy') return fileById(database, item.fileId);
  const [file] = await database.rows<TrackFile>(
    `SELECT ${FILE_SELECT} FROM track_files f WHERE f.root_id = $1 AND f.path = $2`,
    [item.source!.rootId, item.source!.path],
  );
  return file;
}

const files: FileWork<RelocateFile, Intent, Placed> = {
  async prepare({ database }, { item }) {
    const file = await sourceOf(database, item);
    if (!file) return conflict('The file is no longer known');
    const from = item.mode === 'copy' ? item.source! : item.before!;
    if (!sameRef(file.ref, from)) return conflict('The file has been moved or renamed since');
    const [taken] = await database.rows('SELECT 1 FROM track_files WHERE root_id = $1 AND path = $2 AND id <> $3', [
      item.after.rootId,
      item.after.path,
      item.fileId,
    ]);
    if (taken) return conflict('Another track has this place already');
    const paths = { from: await absolutePath(database, from), to: await absolutePath(database, item.after) };
    const [home] = await database.rows<{ path: string }>('SELECT path FROM roots WHERE id = $1', [from.rootId]);
    const otherDrive = item.mode === 'copy' || from.rootId !== item.after.rootId;
    const [root] = otherDrive
      ? await database.rows<{ path: string }>('SELECT path FROM roots WHERE id = $1', [item.after.rootId])
      : [];
    const free = root ? await freeBytes(root.path) : null;
    if (free !== null && free < file.size && (item.mode === 'copy' || !(await sameDrive(database, from, item.after))))
      return conflict('There is not enough space on the drive');
    return {
      intent: {
        mode: item.mode === 'copy' ? 'copy' : 'move',
        ...paths,
        below: await realpath(home!.path),
        size: file.size,
        modifiedMs: file.modifiedMs,
      },
    };
  },
  perform: ({ files: pool, step }, { trackId }, intent, { begun, signal, progress }) =>
    pool.ask(
      { op: 'place', ...intent, begun },
      { signal, progress, ...(step ? { step: (at) => step(at, trackId) } : {}) },
    ),
  async settle({ database }, { item }, { mode }, placed, t) {
    if (mode === 'copy') {
      const [source] = await database.rows<{ companion: string | null }>(
        'SELECT companion FROM track_files WHERE root_id = $1 AND path = $2',
        [item.source!.rootId, item.source!.path],
        t,
      );
      const companion = source?.companion ?? null;
      const what = companion ? { role: 'companion' as const, companion } : { role: 'copy' as const };
      await addFile(database, { id: item.fileId, trackId: item.trackId, ref: item.after, ...what, ...placed }, t);
      return;
    }
    await storeFiles(database, [{ id: item.fileId, ref: item.after, state: stateAfter(item.mode), ...placed }], t);
  },
  // Whatever was under way is begun again: placing sees what is there already.
  recover: () => Promise.resolve({ made: null, said: null }),
  weigh({ fileId, mode, before, source, after }, snapshot) {
    const from = (before ?? source)!;
    const devices = [...new Set([deviceOf(snapshot, from.rootId), deviceOf(snapshot, after.rootId)])];
    const moved = mode !== 'copy' && devices.length === 1;
    const size = snapshot.files.get(fileId)?.size || sizeAt(from, snapshot.files.values());
    const bytes = moved ? 0 : size;
    return { bytes, copied: bytes, devices };
  },
};

const sizeAt = (ref: FileRef, all: Iterable<TrackFile>): number => [...all].find((f) => sameRef(f.ref, ref))?.size ?? 0;

async function sameDrive(database: Database, a: FileRef, b: FileRef): Promise<boolean> {
  if (a.rootId === b.rootId) return true;
  const rows = await database.rows<{ device: string | null }>(
    "SELECT drive->>'device' AS device FROM roots WHERE id = ANY($1::int[])",
    [[a.rootId, b.rootId]],
  );
  return rows.length === 2 && rows[0]!.device !== null && rows[0]!.device === rows[1]!.device;
}

export const relocateFileStored = serverKind<RelocateFile, Intent, Placed>({
  kind: relocateFileKind.kind,
  tells: 'tracks',
  wants({ trackId, after }, wants) {
    wants.tracks.add(trackId);
    wants.filesOf.add(trackId);
    wants.places.push(after);
  },
  files,
});
