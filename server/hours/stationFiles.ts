/** Files from which spoken items, links and jingles are played. */
import { randomUUID } from 'node:crypto';
import type { Applied } from '@early-set/core/api/types';
import { addEntry, removeEntries } from '@early-set/core/changes/lists';
import type { StationFile } from '@early-set/core/hours/stationFiles';
import { notFound, Problem } from '../base/problem.ts';
import { applyDraft, type Applying } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { quoted, stateOf } from '../lists/lists.ts';
import { rounded } from './hours.ts';

/** All of them whose file is there, by their titles. */
export const stationFiles = (database: Database): Promise<StationFile[]> =>
  database.rows<StationFile>(
    `SELECT id, title, duration_seconds AS seconds FROM tracks
      WHERE kind IN ('spoken', 'jingle') AND title <> '' AND duration_seconds > 0 AND file_state = 'here'
      ORDER BY title_sort, id`,
  );

/** Says from which file an item of an hour is played, and makes it as long; null: from none, as long as it was. */
export async function playFrom(
  context: Applying,
  id: string,
  entryId: string,
  trackId: number | null,
): Promise<Applied> {
  const { database } = context;
  const state = await stateOf(database, id);
  const at = state.entries.findIndex((e) => e.id === entryId),
    entry = state.entries[at];
  if (!entry) throw notFound('The item');
  const { kind, data } = entry;
  if (kind !== 'spoken' && kind !== 'link' && kind !== 'jingle')
    throw new Problem(400, 'bad-entry', 'Only what is spoken, links and jingles are played from a file of the station');
  const file = trackId === null ? null : (await stationFiles(database)).find((f) => f.id === trackId);
  if (file === undefined) throw notFound('The file');
  const items = [
    ...addEntry(
      id,
      state,
      { kind, trackId, data: file ? { ...data, seconds: rounded(file.seconds) } : data },
      randomUUID,
      at,
    ),
    ...removeEntries(id, state, [entryId]),
  ];
  const title = `${file ? `Play ${quoted(file.title)}` : 'Play no file'} in ${quoted(state.info.name)}`;
  return (await applyDraft(context, { title, items })).applied;
}
