/**
 * What would bring a copy of a folder up to date: what is new, what changed, what may only have another name. Nothing
 * is removed there: what is gone here is told.
 */

/**
 * A file as it lies in the folder. Bytes, and milliseconds since 1970. `changedMs` moves with every change, also of
 * tags in place, which leave size and time of writing as they were.
 */
export interface Lying {
  path: string;
  size: number;
  modifiedMs: number;
  changedMs: number;
}

/** A file that was copied, as it lay in the folder then. */
export interface Copied extends Lying {
  sha256: string;
}

export interface CopyPlan<C extends Copied = Copied> {
  same: C[];
  /** New here. `former`: what was copied with that many bytes, and is gone here; one of them may be this very file. */
  fresh: { file: Lying; former: C[] }[];
  changed: { file: Lying; was: C }[];
  /** Copied once, and not here any more; some of them may turn out to be renamed. */
  gone: C[];
}

const sameTime = (a: number, b: number): boolean => Math.abs(a - b) < 1;

/** Not looked into: another time alone makes it look changed, and its sum then says whether it is. */
const looksSame = (file: Lying, was: Lying): boolean =>
  file.size === was.size && sameTime(file.modifiedMs, was.modifiedMs) && sameTime(file.changedMs, was.changedMs);

/** @param unread files and folders here that could not be read: nobody knows what is gone there */
export function planCopy<C extends Copied>(
  here: readonly Lying[],
  copied: readonly C[],
  unread: readonly string[] = [],
): CopyPlan<C> {
  const byPath = new Map(copied.map((one) => [one.path, one]));
  const paths = new Set(here.map(({ path }) => path));
  const isUnread = (path: string): boolean => unread.some((one) => path === one || path.startsWith(`${one}/`));
  const gone = copied.filter(({ path }) => !paths.has(path) && !isUnread(path));
  const bySize = new Map<number, C[]>();
  for (const one of gone) bySize.set(one.size, [...(bySize.get(one.size) ?? []), one]);
  const plan: CopyPlan<C> = { same: [], fresh: [], changed: [], gone };
  for (const file of here) {
    const was = byPath.get(file.path);
    if (!was) plan.fresh.push({ file, former: likeliest(file, bySize.get(file.size) ?? []) });
    else if (looksSame(file, was)) plan.same.push(was);
    else plan.changed.push({ file, was });
  }
  return plan;
}

const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** Renaming keeps the time, moving the name as well: such come first. */
function likeliest<C extends Copied>(file: Lying, former: readonly C[]): C[] {
  const rank = (one: C): number =>
    (sameTime(file.modifiedMs, one.modifiedMs) ? 0 : 2) + (nameOf(one.path) === nameOf(file.path) ? 0 : 1);
  return former.toSorted((a, b) => rank(a) - rank(b));
}

/**
 * Bytes that are needed for it, about: what may be renamed needs none, what is replaced what it grew by, and the
 * largest lies there twice for a moment.
 */
export function roomOf({ fresh, changed }: CopyPlan): number {
  const added = fresh.filter(({ former }) => former.length === 0).reduce((sum, { file }) => sum + file.size, 0);
  const grown = changed.reduce((sum, { file, was }) => sum + Math.max(0, file.size - was.size), 0);
  return added + grown + changed.reduce((most, { file }) => Math.max(most, file.size), 0);
}
