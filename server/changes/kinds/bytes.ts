/** What kinds have in common that change bytes of a track's main file: where it lies, what takes them back, a kill. */
import type { Snapshot } from '@early-set/core/changes/snapshot';
import { Problem } from '../../base/problem.ts';
import type { Database } from '../../db/database.ts';
import { reversed, type ByteUndo } from '../../files/byteUndo.ts';
import type { FileStamp } from '../../files/fileTasks.ts';
import { mainFileOf } from '../../library/trackFiles.ts';
import { resolveInRoot } from '../../media/roots.ts';
import type { FileContext, FileLine } from '../context.ts';
import { deviceOf } from './kind.ts';

/** As it stands in the journal. */
export interface BytesIntent {
  path: string;
  /** Null when the file says it already. */
  byteUndo: ByteUndo | null;
  fieldsBefore: Record<string, string[]>;
}

export async function pathOf(database: Database, trackId: number): Promise<string> {
  const file = await mainFileOf(database, trackId);
  if (!file) throw new Problem(404, 'not-found', 'The track is no longer in the library');
  if (file.state === 'away') throw new Problem(409, 'drive-away', 'The drive is not there');
  return resolveInRoot(file.rootPath, file.path);
}

/** What takes the restored line back, byte for byte; null when it cannot. */
export async function bytesBack(
  { database, files }: FileContext,
  path: string,
  { restores }: FileLine,
): Promise<BytesIntent | null> {
  if (!restores) return null;
  const [row] = await database.rows<{ intent: BytesIntent }>(
    "SELECT intent FROM file_journal WHERE change_set_id = $1 AND seq = $2 AND state = 'done'",
    [restores.changeSetId, restores.seq],
  );
  if (!row?.intent.byteUndo) return null;
  const state = await files.ask({ op: 'state', path, undo: row.intent.byteUndo });
  if (state === 'untouched') return { path, byteUndo: null, fieldsBefore: {} };
  if (state !== 'changed') return null;
  const { fields } = await files.ask({ op: 'look', path });
  return { path, byteUndo: reversed(row.intent.byteUndo), fieldsBefore: fields };
}

/** Writes them, where there are any. @param part the file may be parted from its other names */
export const performBytes = (
  { files }: FileContext,
  { path, byteUndo }: BytesIntent,
  part: boolean,
): Promise<FileStamp> =>
  byteUndo ? files.ask({ op: 'write', path, undo: byteUndo, part }) : files.ask({ op: 'look', path });

/** What a kill has left: the whole of it, or the bytes that were there. */
export async function recoverBytes(
  { database, files }: FileContext,
  trackId: number,
  { byteUndo }: BytesIntent,
): Promise<{ made: FileStamp | null; said: string | null }> {
  if (!byteUndo) return { made: null, said: null };
  const path = await pathOf(database, trackId); // its drive may be at another place by now
  const state = await files.ask({ op: 'state', path, undo: byteUndo });
  if (state === 'changed')
    return { made: await files.ask({ op: 'look', path }), said: `${path} had been written; the journal says so now` };
  if (state !== 'half') return { made: null, said: null };
  await files.ask({ op: 'mend', path, undo: byteUndo });
  return { made: null, said: `${path} had been written in part; its bytes are back` };
}

/** As much as the whole file: it may have to be written anew. */
export function weighMain(trackId: number, snapshot: Snapshot): { bytes: number; devices: string[] } {
  const file = [...snapshot.files.values()].find((f) => f.trackId === trackId && f.role === 'main');
  return { bytes: file?.size ?? 0, devices: file ? [deviceOf(snapshot, file.ref.rootId)] : [] };
}
