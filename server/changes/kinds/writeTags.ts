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
import type { FileStamp } from '../../files/fileTasks.ts';
import { deskSettings } from '../../db/settings.ts';
import { conflict } from '../context.ts';
import { storeFileTags } from '../fileTags.ts';
import { bytesBack, pathOf, performBytes, recoverBytes, weighMain, type BytesIntent } from './bytes.ts';
import { serverKind, type FileWork } from './kind.ts';
import { cut } from '@early-set/core/fields/cut';

const files: FileWork<WriteTags, BytesIntent, FileStamp> = {
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
  perform: (context, { item }, intent) => performBytes(context, intent, item.part === true),
  settle: (context, { item }, _intent, stamp, t) => storeWritten(context.database, item, stamp, t),
  recover: (context, { item: { trackId } }, intent) => recoverBytes(context, trackId, intent),
  weigh: ({ trackId }, snapshot) => weighMain(trackId, snapshot),
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

export const writeTagsStored = serverKind<WriteTags, BytesIntent, FileStamp>({
  kind: writeTagsKind.kind,
  tells: 'tracks',
  changes: () => [],
  wants({ trackId }, wants) {
    wants.tracks.add(trackId);
    wants.filesOf.add(trackId);
  },
  files,
});
