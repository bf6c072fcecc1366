/** What lies in a folder that is not in the library: read as intake would, and nothing of it taken. */
import type { FolderLook, LookLine } from '@early-set/core/api/intake';
import { FIELDS } from '@early-set/core/fields/table';
import { isEmpty, type TrackValues } from '@early-set/core/fields/values';
import type { BySetting } from '@early-set/core/tags/values';
import { join } from 'node:path';
import type { Database } from '../db/database.ts';
import type { FilePool } from '../files/filePool.ts';
import { FileTrouble } from '../files/filePool.ts';
import { UnreadableAudio } from '../media/decode.ts';
import { inParallel } from './context.ts';
import { companionKind, kindOf } from './kinds.ts';
import { readValues } from './read.ts';
import { twinOf } from './twins.ts';
import { walkFiles, type FoundFile } from './walk.ts';

export interface LookTools {
  database: Database;
  files: FilePool;
  settings: BySetting;
}

/** More are not looked at at a time. */
export const MAX_LOOKED = 3000;
const PARALLEL = 6;
/** What nobody likes to find empty. */
const WANTED = ['title', 'artist', 'album', 'genre', 'year'] as const;
const LABELS = new Map(FIELDS.map((f) => [f.id, f.label.toLowerCase()]));

/** @param folder resolved, and one that may be looked into */
export async function lookThroughFolder(tools: LookTools, folder: string, signal: AbortSignal): Promise<FolderLook> {
  const music: FoundFile[] = [];
  const others: FolderLook['others'] = [];
  let more = 0;
  for await (const file of walkFiles(folder, {
    obstacle: (o) => others.push({ path: o.path, reason: o.reason }),
    signal,
  })) {
    const kind = kindOf(file.path);
    if (kind.kind === 'audio') {
      if (music.length < MAX_LOOKED) music.push(file);
      else more++;
    } else if (kind.kind === 'other' && companionKind(file.path) === null)
      others.push({ path: file.path, reason: kind.reason });
  }
  const lines = await inParallel(music, PARALLEL, (file) => lineOf(tools, folder, file, signal));
  return { path: folder, lines, others: others.slice(0, MAX_LOOKED), more };
}

/** @throws Error with a sentence for a file that cannot be read */
export const valuesOf = async (
  { files, settings }: Pick<LookTools, 'files' | 'settings'>,
  path: string,
  signal: AbortSignal,
): Promise<TrackValues> => {
  const { tags, technical, video } = await readValues(files, settings, path, signal);
  return { kind: video ? 'video' : 'track', ...technical, ...tags };
};

/** Why a file cannot be read, as a sentence. */
export const whyUnread = (error: unknown): string =>
  error instanceof UnreadableAudio || error instanceof FileTrouble ? error.message : 'The file could not be read';

async function lineOf(tools: LookTools, folder: string, file: FoundFile, signal: AbortSignal): Promise<LookLine> {
  const path = join(folder, file.path);
  const bare = { path: file.path, size: file.size, values: {}, lacks: [], here: null };
  signal.throwIfAborted();
  if (file.size === 0) return { ...bare, trouble: 'The file is empty (zero bytes)' };
  try {
    const values = await valuesOf(tools, path, signal);
    const lacks = WANTED.filter((id) => isEmpty(values[id])).map((id) => LABELS.get(id)!);
    return { ...bare, values, lacks, here: (await twinOf(tools.database, path))?.path ?? null, trouble: null };
  } catch (error) {
    signal.throwIfAborted();
    return { ...bare, trouble: whyUnread(error) };
  }
}
