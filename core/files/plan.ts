/**
 * Many files that want names and places at once, as moves that never meet: what already lies right stays, two that want
 * one name are numbered, and what cannot be had is said. The moves themselves are put in order by `changes/files`.
 */
import { refKey, sameRef, type FileRef } from './fileRef.ts';
import { endingOf } from './paths.ts';

/** A file, and where it is wanted. */
export interface WantedFile {
  ref: FileRef;
  wanted: FileRef;
}
export interface PlannedMove {
  /** Which of the wanted files. */
  at: number;
  to: FileRef;
  /** Another has the name already, or wants it too. */
  numbered: boolean;
}
export interface NamePlan {
  moves: PlannedMove[];
  /** What stays although it is wanted elsewhere, and why. */
  troubles: { at: number; why: string }[];
  /** How many lie right. */
  right: number;
}

/** Drives may take two names for one that differ by case, or by how accents are composed, only. */
export const placeKey = (ref: FileRef): string => refKey({ ...ref, path: ref.path.normalize('NFC').toLowerCase() });

const NUMBER = / \((\d{1,4})\)$/;
const parted = (path: string): { stem: string; ending: string } => {
  const ending = endingOf(path);
  return { stem: path.slice(0, path.length - ending.length), ending };
};
const numbered = (path: string, n: number): string => {
  const { stem, ending } = parted(path);
  return `${stem} (${n})${ending}`;
};
/** Which number a file has among those that want one path: 1 without; null where it lies elsewhere. */
function numberNow({ ref: now, wanted }: WantedFile): number | null {
  if (sameRef(now, wanted)) return 1;
  if (now.rootId !== wanted.rootId) return null;
  const { stem, ending } = parted(now.path);
  const n = NUMBER.exec(stem);
  return n && Number(n[1]) > 1 && stem.slice(0, n.index) + ending === wanted.path ? Number(n[1]) : null;
}

/** Keys of the folders that a path lies in, below its root. */
function foldersOf({ rootId, path }: FileRef): string[] {
  const out: string[] = [];
  for (let at = path.indexOf('/'); at >= 0; at = path.indexOf('/', at + 1))
    out.push(placeKey({ rootId, path: path.slice(0, at) }));
  return out;
}

/**
 * @param files in the order in which they get names that several want
 * @param others files that stay where they are
 */
export function planNames(files: readonly WantedFile[], others: readonly FileRef[] = []): NamePlan {
  const held = new Set(others.map(placeKey));
  const folders = new Set([...files.map((f) => f.ref), ...others].flatMap(foldersOf));
  const now = new Set(files.map((f) => placeKey(f.ref)));
  const troubles = new Map<number, string>();
  for (;;) {
    // What stays with a trouble holds its place.
    for (const at of troubles.keys()) held.add(placeKey(files[at]!.ref));
    const targets = namesFor(files, held, troubles);
    const fresh = new Map<number, string>();
    const named = new Set([...held, ...now, ...targets.map((t) => placeKey(t.to))]);
    for (const { at, to } of targets) {
      if (sameRef(files[at]!.ref, to)) continue;
      if (folders.has(placeKey(to))) fresh.set(at, 'A folder has this name');
      else if (foldersOf(to).some((folder) => named.has(folder))) fresh.set(at, 'A file has the name of its folder');
    }
    if (fresh.size === 0) {
      const moves = targets.filter(({ at, to }) => !sameRef(files[at]!.ref, to));
      return {
        moves,
        troubles: [...troubles].map(([at, why]) => ({ at, why })).sort((a, b) => a.at - b.at),
        right: files.length - moves.length - troubles.size,
      };
    }
    for (const [at, why] of fresh) troubles.set(at, why);
  }
}

/** Who gets a name without a number: who has it, then who has no number to keep, then the lowest. */
const rank = (number: number | null): number => (number === 1 ? 0 : (number ?? 1));

/** A name for each, in the order given. */
function namesFor(
  files: readonly WantedFile[],
  held: ReadonlySet<string>,
  left: ReadonlyMap<number, string>,
): PlannedMove[] {
  const groups = new Map<string, { at: number; number: number | null }[]>();
  files.forEach((file, at) => {
    if (left.has(at)) return;
    const key = placeKey(file.wanted);
    const group = groups.get(key) ?? [];
    group.push({ at, number: numberNow(file) });
    groups.set(key, group);
  });
  const out: PlannedMove[] = [];
  const taken = new Set(held);
  const others: { at: number; number: number | null }[] = [];
  for (const [key, group] of groups) {
    group.sort((a, b) => rank(a.number) - rank(b.number) || a.at - b.at);
    if (!held.has(key)) {
      const { at } = group.shift()!;
      taken.add(key);
      out.push({ at, to: files[at]!.wanted, numbered: false });
    }
    others.push(...group);
  }
  const rest: number[] = [];
  for (const { at, number } of others) {
    const { ref } = files[at]!;
    const own = placeKey(ref);
    if (number !== null && number > 1 && !taken.has(own)) {
      taken.add(own);
      out.push({ at, to: ref, numbered: true });
    } else rest.push(at);
  }
  // Numbers are given only when every name without one, and every number that stays, is given away.
  for (const at of rest) {
    const { rootId, path } = files[at]!.wanted;
    for (let n = 2; ; n++) {
      const to = { rootId, path: numbered(path, n) };
      if (taken.has(placeKey(to))) continue;
      taken.add(placeKey(to));
      out.push({ at, to, numbered: true });
      break;
    }
  }
  return out.sort((a, b) => a.at - b.at);
}
