/**
 * What takes an edit of a file back: at offsets of the changed file, what the edit put there and what was there
 * before.
 */
import { sameBytes, type Source, type Splice } from '@early-set/core/tags/bytes';

export interface ByteUndo {
  sizeBefore: number;
  sizeAfter: number;
  /** Bytes in base64. */
  places: { at: number; after: string; before: string }[];
}

const encode = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');
const decode = (text: string): Uint8Array => Uint8Array.from(Buffer.from(text, 'base64'));

/** @param back the inverse of the splices, at offsets of the changed file */
export const byteUndoOf = (
  splices: readonly Splice[],
  back: readonly Splice[],
  sizeBefore: number,
  sizeAfter: number,
): ByteUndo => ({
  sizeBefore,
  sizeAfter,
  places: back.map((b, i) => ({ at: b.at, after: encode(splices[i]!.insert), before: encode(b.insert) })),
});

/** The edit as splices of the file as it was. */
export function splicesOf(undo: ByteUndo): Splice[] {
  let moved = 0;
  return undo.places.map((p) => {
    const after = decode(p.after),
      before = decode(p.before);
    const splice = { at: p.at - moved, remove: before.length, insert: after };
    moved += after.length - before.length;
    return splice;
  });
}

/** The same edit the other way round: from the changed file to the one it was. */
export function reversed(undo: ByteUndo): ByteUndo {
  const forward = splicesOf(undo);
  return {
    sizeBefore: undo.sizeAfter,
    sizeAfter: undo.sizeBefore,
    places: undo.places.map((p, i) => ({ at: forward[i]!.at, after: p.before, before: p.after })),
  };
}

/**
 * Whether a file is as an edit left it, in part only (its process was killed), as it found it, or neither.
 * Only edits in place can be there in part: others come into being under another name.
 */
export function stateOf(source: Source, undo: ByteUndo): 'changed' | 'half' | 'untouched' | 'other' {
  const holds = (at: number, bytes: Uint8Array): boolean =>
    at + bytes.length <= source.size && sameBytes(source.read(at, bytes.length), bytes);
  const splices = splicesOf(undo);
  let after = source.size === undo.sizeAfter,
    before = source.size === undo.sizeBefore,
    either = after && before;
  undo.places.forEach((p, i) => {
    const now = splices[i]!.insert,
      was = decode(p.before);
    const isNow = holds(p.at, now),
      isThen = holds(splices[i]!.at, was);
    after &&= isNow;
    before &&= isThen;
    either &&= isNow || (was.length === now.length && (isThen || isMixed(source, p.at, was, now)));
  });
  return before ? 'untouched' : after ? 'changed' : either ? 'half' : 'other';
}

/** A place whose writing broke off: new bytes up to somewhere, old ones from there. */
function isMixed(source: Source, at: number, was: Uint8Array, now: Uint8Array): boolean {
  if (at + now.length > source.size) return false;
  const there = source.read(at, now.length);
  let i = 0;
  while (i < now.length && there[i] === now[i]) i++;
  return there.subarray(i).every((v, k) => v === was[i + k]);
}
