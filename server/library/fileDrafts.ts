/** Drafts over whole tracks and their files: put elsewhere, copied, into quarantine, out of the library, made one. */
import { randomUUID } from 'node:crypto';
import type { ChangeItem } from '@early-set/core/changes/items';
import { inOrder } from '@early-set/core/changes/files';
import { mergeTracks } from '@early-set/core/changes/kinds/mergeTracks';
import { quarantined, relocateFile, type RelocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { removeTrack } from '@early-set/core/changes/kinds/removeTrack';
import { setField } from '@early-set/core/changes/kinds/setField';
import type { TrackFile } from '@early-set/core/changes/snapshot';
import { FIELDS } from '@early-set/core/fields/table';
import { isEmpty } from '@early-set/core/fields/values';
import type { FileRef } from '@early-set/core/files/fileRef';
import type { Database } from '../db/database.ts';
import { notFound } from '../base/problem.ts';
import { filesOf } from './trackFiles.ts';
import { heldOf } from './held.ts';
import { loadTracks } from './trackStore.ts';

export interface FileWish {
  trackId: number;
  /** The main file where none is named. */
  fileId?: string;
  mode: RelocateFile['mode'];
  /** Where to; a file that is retired goes into its root's quarantine, one that is restored back to where it lay. */
  to?: FileRef;
}

/** Files put elsewhere, in an order in which each finds its place free. @throws Problem for a file that is not known */
export async function relocateDraft(database: Database, wishes: readonly FileWish[]): Promise<ChangeItem[]> {
  const files = await filesOf(database, [...new Set(wishes.map((w) => w.trackId))]);
  const items = await Promise.all(wishes.map((wish) => relocationOf(database, wish, files)));
  return [...inOrder(items.filter((i) => i.mode === 'move')), ...items.filter((i) => i.mode !== 'move')];
}

async function relocationOf(
  database: Database,
  { trackId, fileId, mode, to }: FileWish,
  files: readonly TrackFile[],
): Promise<RelocateFile> {
  const file = files.find((f) => f.trackId === trackId && (fileId ? f.id === fileId : f.role === 'main'));
  if (!file) throw notFound('The file');
  const own = { trackId, fileId: file.id };
  switch (mode) {
    case 'copy':
      return relocateFile('copy', { trackId, fileId: randomUUID() }, null, to!, file.ref);
    case 'move':
      return relocateFile('move', own, file.ref, to!);
    case 'retire':
      return relocateFile('retire', own, file.ref, quarantined(file.ref, file.id));
    case 'restore':
      return relocateFile('restore', own, file.ref, to ?? (await retiredFrom(database, file)));
  }
}

/** Where a file in quarantine lay. */
async function retiredFrom(database: Database, file: TrackFile): Promise<FileRef> {
  const [line] = await database.rows<{ ref: FileRef }>(
    `SELECT item->'before' AS ref FROM change_items WHERE track_id = $1 AND state = 'done' AND item->>'fileId' = $2
      AND item->'after' = $3::jsonb ORDER BY change_set_id DESC LIMIT 1`,
    [file.trackId, file.id, JSON.stringify(file.ref)],
  );
  return line?.ref ?? { rootId: file.ref.rootId, path: file.ref.path.slice(file.ref.path.lastIndexOf('/') + 1) };
}

const titleOf = (values: Record<string, unknown>): string =>
  typeof values.title === 'string' && values.title ? values.title : String(values.path ?? 'A track');

/** Tracks taken out of the library; their files stay where they are. */
export async function removeDraft(database: Database, trackIds: readonly number[]): Promise<ChangeItem[]> {
  const tracks = await loadTracks(database, trackIds, ['title']);
  return [...tracks].map(([id, { values }]) => removeTrack(id, titleOf(values)));
}

const MERGED = FIELDS.filter((f) => f.editable && f.kind !== 'file').map((f) => f.id);

/** Two tracks made one: what people set on the other and the first lacks comes with it, cues too. */
export async function mergeDraft(database: Database, trackId: number, otherId: number): Promise<ChangeItem[]> {
  const tracks = await loadTracks(database, [trackId, otherId], MERGED);
  const [track, other] = [tracks.get(trackId), tracks.get(otherId)];
  if (!track || !other) throw notFound('The track');
  const filled = MERGED.flatMap((field) => {
    const held = heldOf(track.values[field], track.origins, field),
      theirs = heldOf(other.values[field], other.origins, field);
    return theirs && !isEmpty(theirs.value) && isEmpty(held?.value) && !held?.locked
      ? [setField(trackId, field, held, theirs)]
      : [];
  });
  return [...filled, mergeTracks(trackId, otherId, titleOf(other.values))];
}
