/** Tracks tied to the files that were found for them. */
import type { Applied } from '@early-set/core/api/types';
import { editFields } from '@early-set/core/changes/fields';
import type { ChangeItem } from '@early-set/core/changes/items';
import { mainFile } from '@early-set/core/changes/kinds/mainFile';
import { mergeTracks } from '@early-set/core/changes/kinds/mergeTracks';
import { shiftMarks } from '@early-set/core/relink/shiftMarks';
import { Problem } from '../base/problem.ts';
import { applyDraft, type Applying } from '../changes/apply.ts';
import { mainFiles } from '../library/trackFiles.ts';
import { heldOf } from '../library/held.ts';
import { loadTracks } from '../library/trackStore.ts';
import { several } from '../lists/lists.ts';

export interface RelinkPair {
  /** The track that is not found, and the one that its file came in as. */
  trackId: number;
  otherId: number;
  offsetSeconds: number;
}

/**
 * Makes each pair one track: lists, cues and what was typed are those of the track that was not found, the file is the
 * one that is there.
 */
export async function relinkTracks(context: Applying, pairs: readonly RelinkPair[]): Promise<Applied> {
  const { database } = context;
  const ids = pairs.flatMap((p) => [p.trackId, p.otherId]);
  if (new Set(ids).size !== ids.length) throw new Problem(400, 'bad-pairs', 'A track can be tied to one file only');
  const files = await mainFiles(database, ids);
  const tracks = await database.transaction((t) =>
    loadTracks(database, ids, ['cues', 'gridAnchors', 'sectionsByHand'], t),
  );
  const now = new Date().toISOString();
  const items: ChangeItem[] = [];
  for (const { trackId, otherId, offsetSeconds } of pairs) {
    const was = files.get(trackId),
      is = files.get(otherId);
    if (!was || !is || was.state === 'here') continue;
    const name = String(tracks.get(otherId)?.values.title ?? '') || is.ref.path;
    items.push(mergeTracks(trackId, otherId, name));
    items.push(mainFile(trackId, { fileId: was.id, path: was.ref.path }, { fileId: is.id, path: is.ref.path }));
    const { values = {}, origins = {} } = tracks.get(trackId) ?? {};
    const fields = Object.fromEntries(shiftMarks(values, offsetSeconds).map(({ field, ...change }) => [field, change]));
    items.push(...editFields([{ trackId, fields }], (_, field) => heldOf(values[field], origins, field), now));
  }
  if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'These tracks have been found by now');
  const title = `Find ${several(pairs.length, 'track')} again`;
  return (await applyDraft(context, { title, items })).applied;
}
