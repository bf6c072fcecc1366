/**
 * Tags written into a track's main file. Worked out first are the bytes and what takes them back; those that were there
 * before, when the line takes another one back and nobody has touched the file since.
 */
import { writeTagsKind, type WriteTags } from '@early-set/core/changes/kinds/writeTags';
import { fieldOf } from '@early-set/core/fields/table';
import type { Origins } from '@early-set/core/api/types';
import type { TrackValues } from '@early-set/core/fields/values';
import { saysValue, unwrittenAfter, valueIn } from '@early-set/core/tags/values';
import type { Transaction } from 'sequelize';
import type { Database } from '../../db/database.ts';
import { reversed, type ByteUndo } from '../../files/byteUndo.ts';
import type { FileStamp } from '../../files/fileTasks.ts';
import { mainFileOf } from '../../library/trackFiles.ts';
import { resolveInRoot } from '../../media/roots.ts';
import { Problem } from '../../base/problem.ts';
import { deskSettings } from '../../db/settings.ts';
import { conflict, type FileContext, type FileLine } from '../context.ts';
import { storeFileTags } from '../fileTags.ts';
import { deviceOf, serverKind, type FileWork } from './kind.ts';
import { cut } from '@early-set/core/fields/cut';

/** As it stands in the journal. */
interface Intent {
  path: string;
  /** Null when the file says it already. */
  byteUndo: ByteUndo | null;
  fieldsBefore: Record<string, string[]>;
}

async function pathOf(database: Database, trackId: number): Promise<string> {
  const file = await mainFileOf(database, trackId);
  if (!file) throw new Problem(404, 'not-found', 'The track is no longer in the library');
  if (file.state === 'away') throw new Problem(409, 'drive-away', 'The drive is not there');
  return resolveInRoot(file.rootPath, file.path);
}

/** What takes the restored line back, byte for byte; null when it cannot. */
async function bytesBack(
  { database, files }: FileContext,
  path: string,
  { restores }: FileLine,
): Promise<Intent | null> {
  if (!restores) return null;
  const [row] = await database.rows<{ intent: Intent }>(
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

const files: FileWork<WriteTags, Intent, FileStamp> = {
  async prepare(context, line) {
    const { database, art } = context,
      { item } = line;
    const path = await pathOf(database, item.trackId);
    const back = await bytesBack(context, path, line);
    if (back) return { intent: back };
    const { newId3Version } = await deskSettings();
    const wanted = item.picture?.after;
    const kept = wanted ? await art.original(wanted) : null;
    if (wanted && kept === null) return conflict('The cover is no longer kept');
    const picture = wanted === undefined ? undefined : kept;
    const fields = Object.fromEntries(Object.entries(item.fields).map(([id, { after }]) => [id, after]));
    const edits = { fields, ...(picture === undefined ? {} : { picture }) };
    const answer = await context.files.ask({ op: 'prepare', path, edits, newId3Version });
    for (const [id, { before, after }] of Object.entries(item.fields)) {
      const field = fieldOf(id),
        there = answer.fieldsBefore[id] ?? [];
      const says = (texts: readonly string[]): boolean => saysValue(field, there, valueIn(field, texts));
      if (before !== null && !says(before) && !says(after))
        return conflict(
          `The file says something else now: ${field.label} is ${there.length ? `“${cut(there.join('; '), 80)}”` : 'empty'}`,
        );
    }
    return { intent: { path, ...answer } };
  },
  perform: ({ files: pool }, { item }, { path, byteUndo }) =>
    byteUndo
      ? pool.ask({ op: 'write', path, undo: byteUndo, part: item.part === true })
      : pool.ask({ op: 'look', path }),
  settle: (context, { item }, _intent, stamp, t) => storeWritten(context.database, item, stamp, t),
  async recover({ database, files: pool }, { item }, { byteUndo }) {
    if (!byteUndo) return { made: null, said: null };
    const path = await pathOf(database, item.trackId); // its drive may be at another place by now
    const state = await pool.ask({ op: 'state', path, undo: byteUndo });
    if (state === 'changed')
      return {
        made: await pool.ask({ op: 'look', path }),
        said: `${path} had been written; the journal says so now`,
      };
    if (state !== 'half') return { made: null, said: null };
    await pool.ask({ op: 'mend', path, undo: byteUndo });
    return { made: null, said: `${path} had been written in part; its bytes are back` };
  },
  weigh({ trackId }, snapshot) {
    const file = [...snapshot.files.values()].find((f) => f.trackId === trackId && f.role === 'main');
    return { bytes: file?.size ?? 0, devices: file ? [deviceOf(snapshot, file.ref.rootId)] : [] };
  },
};

/** What is known of the file now, and what it still does not say. */
async function storeWritten(database: Database, item: WriteTags, stamp: FileStamp, t: Transaction): Promise<void> {
  await storeFileTags(database, [{ id: item.trackId, stamp }], t);
  const fields = Object.keys(item.fields).map(fieldOf);
  const [row] = await database.rows<{ unwritten: string[] | null; origins: Origins | null } & TrackValues>(
    `SELECT t.unwritten, o.origins${fields.map((f) => `, t.${f.column} AS "${f.id}"`).join('')} FROM tracks t
      LEFT JOIN track_origins o ON o.track_id = t.id WHERE t.id = $1 FOR UPDATE OF t`,
    [item.trackId],
    t,
  );
  if (!row) return;
  const unwritten = unwrittenAfter(
    row.unwritten ?? [],
    fields.map((f) => f.id),
    (id) => row[id] ?? null,
    stamp.fields,
    (id) => row.origins?.[id]?.origin === 'analysis',
    await deskSettings(),
    // Such a field has been put wherever this container has a place for it.
  ).filter((id) => !(id in item.fields && fieldOf(id).bySetting));
  await database.run(
    'UPDATE tracks SET unwritten = $2::text[] WHERE id = $1',
    [item.trackId, unwritten.length ? unwritten : null],
    t,
  );
}

export const writeTagsStored = serverKind<WriteTags, Intent, FileStamp>({
  kind: writeTagsKind.kind,
  tells: 'tracks',
  changes: () => [],
  wants({ trackId }, wants) {
    wants.tracks.add(trackId);
    wants.filesOf.add(trackId);
  },
  files,
});
