/** Which files of an archive are unpacked, under which names, and why the others are not. Judged before one is read. */
import type { ArchiveEntry } from '@early-set/core/api/intake';
import { companionKind, kindOf } from './kinds.ts';
import { safeSegments } from './upload.ts';

/** A file as the directory of an archive tells of it. */
export interface PackedFile {
  name: string;
  size: number;
  packedSize: number;
  encrypted: boolean;
  /** A link, a device, anything that is no plain file. */
  special: boolean;
  /** It is packed in a way that can be read. */
  readable: boolean;
}

const MAX_FILES = 20_000;
const MAX_BYTES = 64 * 1024 ** 3;
/** Music is never packed so tightly; what is, would fill the drive. */
const MAX_RATIO = 100,
  RATIO_FROM_BYTES = 16 * 1024 ** 2;

const stemOf = (name: string): string => name.replace(/\.[^./]*$/, '').toLowerCase();
const leadsOut = (name: string): boolean =>
  /^[/\\]|^[a-z]:/i.test(name) || name.split(/[/\\]/).includes('..') || name.includes('\0');
/** Folders, and what systems put beside files for themselves. */
const isNothing = (name: string): boolean =>
  /[/\\]$/.test(name) || name.split(/[/\\]/).some((part) => /^\.[^.]/.test(part) || part === '__MACOSX');

function whyNot(file: PackedFile): string | null {
  const { name, size, packedSize } = file;
  if (leadsOut(name)) return 'Its path leads out of the archive';
  if (file.special) return 'A link or no plain file';
  if (file.encrypted) return 'Protected by a password';
  if (!file.readable) return 'Packed in a way that cannot be read';
  if (size >= RATIO_FROM_BYTES && size > packedSize * MAX_RATIO) return 'Unpacks to far more than music can';
  if (size === 0) return 'Empty (zero bytes)';
  const kind = kindOf(name);
  return kind.kind === 'other' && companionKind(name) === null ? kind.reason : null;
}

export interface JudgedEntry extends ArchiveEntry {
  /** Folders and name under which it is unpacked. */
  segments: string[] | null;
}

/** All files of an archive in its order; folders are left out. Karaoke graphics go with their music, or not at all. */
export function judgeEntries(files: readonly PackedFile[]): { entries: JudgedEntry[]; trouble: string | null } {
  const plain = files.filter((f) => !isNothing(f.name));
  const music = new Set(
    plain.filter((f) => whyNot(f) === null && kindOf(f.name).kind === 'audio').map((f) => stemOf(f.name)),
  );
  const taken = new Set<string>();
  const entries = plain.map((file): JudgedEntry => {
    let why = whyNot(file);
    if (why === null && companionKind(file.name) === 'karaoke graphics' && !music.has(stemOf(file.name)))
      why = 'Karaoke graphics whose music is not in the archive';
    if (why !== null) return { name: file.name, size: file.size, why, segments: null };
    const segments = safeSegments(file.name),
      key = segments.join('/').normalize('NFC').toLowerCase();
    if (taken.has(key))
      return { name: file.name, size: file.size, why: 'Its name is in the archive twice', segments: null };
    taken.add(key);
    return { name: file.name, size: file.size, why: null, segments };
  });
  return { entries, trouble: troubleOf(entries) };
}

function troubleOf(entries: readonly JudgedEntry[]): string | null {
  const wanted = entries.filter((e) => e.segments);
  if (entries.length > MAX_FILES) return `It holds more than ${MAX_FILES.toLocaleString('en-GB')} files`;
  if (wanted.reduce((sum, e) => sum + e.size, 0) > MAX_BYTES) return 'It would unpack to more than 64 GB';
  if (wanted.length > 0) return null;
  if (entries.length > 0 && entries.every((e) => e.why === 'Protected by a password'))
    return 'It is protected by a password';
  return 'There is no music in it';
}
