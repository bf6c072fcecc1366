/** Reading one file: its tags as the surgery on tags sees them, how it is made, its picture; or why it is not taken. */
import type { FieldValue } from '@early-set/core/fields/values';
import { inTags, valuesOf, type BySetting } from '@early-set/core/tags/values';
import { dirname, join } from 'node:path';
import { FileTrouble, type FilePool } from '../files/filePool.ts';
import type { FileStamp } from '../files/fileTasks.ts';
import { readRegular } from '../files/regular.ts';
import type { ArtStore } from '../media/art.ts';
import { UnreadableAudio } from '../media/decode.ts';
import { MAX_PICTURE_BYTES } from '../media/raster.ts';
import { resolveInRoot } from '../media/roots.ts';
import { probeTechnical, videoTags, type ReadFile } from '../media/tags.ts';
import { Problem } from '../base/problem.ts';
import type { Refusal, ScanContext } from './context.ts';
import { isVideo } from './kinds.ts';
import type { FoundFile } from './walk.ts';

export interface Taken {
  file: FoundFile;
  /** Field id to value, only what the tags say. */
  tags: Record<string, FieldValue>;
  technical: Record<string, FieldValue>;
  artHash: string | null;
  stamp: FileStamp | null;
  video: boolean;
}
export type Reading = Taken | { refused: Refusal };

/** What the tags of a file say; null where they cannot be read so that they could be written. */
export async function stampOf({ files, root }: ScanContext, path: string): Promise<FileStamp | null> {
  try {
    return await files.ask({ op: 'look', path: await resolveInRoot(root.path, path) });
  } catch (error) {
    if (error instanceof FileTrouble || error instanceof Problem) return null;
    throw error;
  }
}

/** What a file says of itself. @throws FileTrouble, UnreadableAudio or the system's error where it cannot be read */
export async function readValues(
  files: FilePool,
  settings: BySetting,
  path: string,
  signal?: AbortSignal,
): Promise<Pick<Taken, 'tags' | 'technical' | 'stamp' | 'video'> & Pick<ReadFile, 'picture'>> {
  const { stamp, ...read } = await files.ask({ op: 'read', path });
  const video = read.video || isVideo(path);
  const tags = video && !stamp ? { ...(await videoTags(path, signal)), ...read.tags } : read.tags;
  return {
    // What writing would find is what is said here; where it cannot read the tags, another reader has the word.
    tags: stamp ? valuesOf(stamp.fields, settings) : wished(tags, settings),
    technical: read.technical ?? (await probeTechnical(path, signal)),
    picture: read.picture,
    stamp,
    video,
  };
}

/** @param covers pictures that lie in folders, by folder */
export async function readOne(
  context: ScanContext,
  file: FoundFile,
  covers: ReadonlyMap<string, string>,
): Promise<Reading> {
  const { root, art, files, signal } = context;
  const refuse = (code: string, reason: string): Reading => ({
    refused: { path: file.path, size: file.size, modifiedMs: file.modifiedMs, code, reason },
  });
  if (file.size === 0) return refuse('empty', 'The file is empty (zero bytes)');
  try {
    const path = await resolveInRoot(root.path, file.path);
    const { picture, ...read } = await readValues(files, context.settings, path, signal);
    return { file, ...read, artHash: await pictureFor(root.path, art, file, { picture }, covers) };
  } catch (error) {
    signal?.throwIfAborted();
    if (error instanceof UnreadableAudio)
      return refuse(/picture/.test(error.message) ? 'not-music' : 'broken', error.message);
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EACCES' || code === 'EPERM') return refuse('unreadable', 'The file may not be read');
    return refuse(
      'broken',
      error instanceof Problem || error instanceof FileTrouble ? error.message : 'The file could not be read',
    );
  }
}

/** The embedded picture, or the one that lies in the folder. */
async function pictureFor(
  rootPath: string,
  art: ArtStore,
  file: FoundFile,
  read: Pick<ReadFile, 'picture'>,
  covers: ReadonlyMap<string, string>,
): Promise<string | null> {
  const embedded = read.picture ? await art.keep(read.picture.data).catch(() => null) : null;
  if (embedded) return embedded;
  const cover = covers.get(dirname(file.path));
  const data = cover ? await readRegular(join(rootPath, cover), MAX_PICTURE_BYTES).catch(() => null) : null;
  return data ? art.keep(data).catch(() => null) : null;
}

/** Without fields that are taken by setting only. */
const wished = (tags: Record<string, FieldValue>, settings: BySetting): Record<string, FieldValue> =>
  Object.fromEntries(Object.entries(tags).filter(([field]) => inTags(field, settings)));
