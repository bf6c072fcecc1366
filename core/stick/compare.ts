/** A stick as it is to be beside what was written there last and what is there now. */
import { sameName } from './layout.ts';

/** A file as it is to be on the stick. */
export interface WantedFile {
  path: string;
  /** What it is made of, in one text: when anything of it changes, it is made anew. */
  sound: string;
  /** Tags and cover; when these alone change, it is made anew too, and said so. */
  tags: string;
  /** Bytes it will have, about. */
  bytes: number;
}

/** A file as it was written. */
export interface WrittenFile extends Omit<WantedFile, 'bytes'> {
  /** Bytes that it has. */
  size: number;
}

export type StickState = 'new' | 'other sound' | 'other tags' | 'same' | 'gone from there' | 'changed there';

export interface StickChanges<W extends WantedFile> {
  /** All that are wanted, in their order. */
  files: { wanted: W; state: StickState }[];
  /** What was written and is no longer wanted, and is there still as it was written. */
  removed: WrittenFile[];
  /** What was written and is no longer wanted, but somebody else has changed it since: it stays. */
  left: WrittenFile[];
  /** Bytes that come, that stay and that go. */
  bytes: { comes: number; stays: number; goes: number };
}

/** @param sizes bytes of what is there now, by path; times say nothing on FAT */
export function compareStick<W extends WantedFile>(
  wanted: readonly W[],
  written: readonly WrittenFile[],
  sizes: ReadonlyMap<string, number>,
): StickChanges<W> {
  const there = new Map([...sizes].map(([path, size]) => [sameName(path), size]));
  const was = new Map(written.map((file) => [sameName(file.path), file]));
  const out: StickChanges<W> = { files: [], removed: [], left: [], bytes: { comes: 0, stays: 0, goes: 0 } };
  for (const one of wanted) {
    const key = sameName(one.path),
      before = was.get(key);
    was.delete(key);
    const state = stateOf(one, before, there.get(key));
    out.files.push({ wanted: one, state });
    if (state === 'same') out.bytes.stays += before!.size;
    else {
      out.bytes.comes += one.bytes;
      out.bytes.goes += before ? (there.get(key) ?? 0) : 0;
    }
  }
  for (const file of was.values()) {
    const size = there.get(sameName(file.path));
    if (size === undefined) continue;
    if (size === file.size) {
      out.removed.push(file);
      out.bytes.goes += size;
    } else out.left.push(file);
  }
  return out;
}

function stateOf(wanted: WantedFile, before: WrittenFile | undefined, size: number | undefined): StickState {
  if (!before) return 'new';
  if (size === undefined) return 'gone from there';
  if (size !== before.size) return 'changed there';
  if (before.sound !== wanted.sound) return 'other sound';
  return before.tags === wanted.tags && before.path === wanted.path ? 'same' : 'other tags';
}

/** What lies there and was not written from here: its names are left to it, and nothing of it is touched. */
export function foreignFiles(written: readonly Pick<WrittenFile, 'path'>[], there: Iterable<string>): string[] {
  const own = new Set(written.map((file) => sameName(file.path)));
  return [...there].filter((path) => !own.has(sameName(path)));
}
