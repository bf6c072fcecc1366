/** Walking a root: every file with size and time, in a steady order, never leaving the root. */
import { lstat, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { UNFINISHED } from '../files/unfinished.ts';

/** `changedMs` moves with every change, also those that leave size and time of writing as they were. */
export interface FoundFile {
  path: string;
  size: number;
  modifiedMs: number;
  changedMs: number;
}
export interface Obstacle {
  path: string;
  code: string;
  reason: string;
}

export interface WalkHooks {
  /** Told of folders that cannot be read, of links, and of names that are not valid text. */
  obstacle: (o: Obstacle) => void;
  signal?: AbortSignal | undefined;
  /** Told of files that were being written, by paths as the system takes them. */
  unfinished?: (path: string) => void;
  /** Told at the end of folders in which no file lies, not even a hidden one, at any depth; the deepest first. */
  empty?: (path: string) => void;
}

/** So many files of a folder are asked for at once. */
const TOGETHER = 64;

/** Lists files below a root (paths relative, forward slashes). Links are not followed, hidden names are passed over. */
export async function* walkFiles(
  rootPath: string,
  { obstacle, signal, unfinished, empty }: WalkHooks,
): AsyncGenerator<FoundFile> {
  const pending = [''];
  const bare: { folder: string; only: boolean }[] = [];
  while (pending.length > 0) {
    const folder = pending.pop()!;
    signal?.throwIfAborted();
    let entries;
    try {
      entries = await readdir(join(rootPath, folder), { withFileTypes: true, encoding: 'buffer' as unknown as 'utf8' });
    } catch (error) {
      if (folder === '') throw error;
      obstacle({ path: folder, code: 'unreadable', reason: 'The folder may not be read' });
      bare.push({ folder, only: false });
      continue;
    }
    const named = entries
      .map((entry) => ({ entry, name: nameOf(entry.name as unknown as Buffer) }))
      .sort((a, b) => (a.name.text < b.name.text ? -1 : 1));
    const folders: string[] = [],
      files: string[] = [];
    for (const { entry, name } of named) {
      if (name.text.startsWith(UNFINISHED)) unfinished?.(join(rootPath, folder, name.text));
      if (name.text.startsWith('.')) continue;
      const path = folder ? `${folder}/${name.text}` : name.text;
      if (!name.valid) {
        obstacle({ path, code: 'bad-name', reason: 'The name is not valid text (not UTF-8); rename it first' });
        continue;
      }
      if (entry.isDirectory()) {
        folders.push(path);
        continue;
      }
      if (entry.isSymbolicLink()) {
        obstacle({ path, code: 'link', reason: 'This is a link; only files of the folder itself are taken' });
        continue;
      }
      if (entry.isFile()) files.push(path);
    }
    for (let from = 0; from < files.length; from += TOGETHER) {
      signal?.throwIfAborted();
      for (const found of await Promise.all(files.slice(from, from + TOGETHER).map((path) => stateOf(rootPath, path))))
        if ('size' in found) yield found;
        else obstacle({ ...found, code: 'unreadable', reason: 'The file may not be read' });
    }
    bare.push({ folder, only: folders.length === entries.length });
    pending.push(...folders.reverse());
  }
  if (empty) emptyOf(bare).forEach(empty);
}

async function stateOf(rootPath: string, path: string): Promise<FoundFile | { path: string }> {
  try {
    const { size, mtimeMs, ctimeMs } = await lstat(join(rootPath, path));
    return { path, size, modifiedMs: mtimeMs, changedMs: ctimeMs };
  } catch {
    return { path };
  }
}

/** Folders come after those in which they lie. @param only they hold nothing but folders that were looked into */
function emptyOf(folders: readonly { folder: string; only: boolean }[]): string[] {
  const holding = new Set<string>();
  return folders.toReversed().flatMap(({ folder, only }) => {
    const empty = only && !holding.has(folder) && folder !== '';
    if (!empty) holding.add(folder.slice(0, Math.max(0, folder.lastIndexOf('/'))));
    return empty ? [folder] : [];
  });
}

function nameOf(bytes: Buffer): { text: string; valid: boolean } {
  const text = bytes.toString('utf8');
  return { text: text.replace(/\0/g, ''), valid: Buffer.from(text, 'utf8').equals(bytes) };
}
