/** Files that are one recording, put together; versions of it kept apart, each said. */
import type { Relation } from './compare.ts';

/** What two tracks are to each other: the very same sound, or as it was heard. */
export interface DuplicatePair {
  /** The one with the smaller number first. */
  first: number;
  second: number;
  relation: 'same bytes' | Exclude<Relation, 'different'> | 'same song';
  /** Seconds by which the second has to be moved to lie on the first. */
  offsetSeconds: number;
}

export type GroupKind =
  | 'same bytes'
  | 'same recording'
  /** One of them lacks more than ten seconds. */
  | 'cut short'
  /** Sounds like one recording, is named as two versions. */
  | 'named apart'
  /** Made of the same material; nothing is proposed. */
  | 'kept apart';

export interface DuplicateGroup {
  kind: GroupKind;
  /** Why they are kept apart. */
  version: 'edit' | 'another version' | 'same song' | null;
  /** Tracks, the smallest number first. */
  trackIds: number[];
  /** Seconds by which each has to be moved to lie on the first. */
  offsets: number[];
}

/** One of these files could go. */
export const isOpen = ({ kind }: Pick<DuplicateGroup, 'kind'>): boolean => kind !== 'kept apart';

const SURE: ReadonlySet<string> = new Set(['same bytes', 'same recording']);
/** Nothing tells its files apart but how good they are: of others nothing goes unless somebody says so. */
export const isSure = ({ kind }: Pick<DuplicateGroup, 'kind'>): boolean => SURE.has(kind);

const ONE: ReadonlySet<string> = new Set(['same bytes', 'same recording', 'cut short']);

/**
 * Puts pairs into groups. What is one recording is one group, also where one of three was only compared with one of the
 * others; whatever is kept apart is a group of two.
 * @param versionOf how the version of a track is named, folded; '' where it is not
 * @param parted pairs of which somebody has said that they are no duplicates, as pairKey names them
 */
export function groupsOf(
  pairs: readonly DuplicatePair[],
  versionOf: (trackId: number) => string,
  parted: ReadonlySet<string> = new Set(),
): DuplicateGroup[] {
  const left = pairs.filter((p) => !parted.has(pairKey(p.first, p.second)));
  const root = new Map<number, number>();
  const rootOf = (id: number): number => {
    let at = id;
    while (root.get(at) !== undefined && root.get(at) !== at) at = root.get(at)!;
    return at;
  };
  const one = left.filter((p) => ONE.has(p.relation));
  for (const { first, second } of one) {
    const [a, b] = [rootOf(first), rootOf(second)];
    root.set(Math.max(a, b), Math.min(a, b));
    if (!root.has(Math.min(a, b))) root.set(Math.min(a, b), Math.min(a, b));
  }
  const members = new Map<number, number[]>();
  for (const id of new Set(one.flatMap((p) => [p.first, p.second]))) {
    const at = rootOf(id);
    members.set(at, [...(members.get(at) ?? []), id]);
  }
  const groups = [...members.values()].map((ids): DuplicateGroup => {
    const trackIds = ids.sort((a, b) => a - b);
    const own = one.filter((p) => rootOf(p.first) === rootOf(trackIds[0]!));
    const relations = new Set(own.map((p) => p.relation));
    const isNamedApart = new Set(trackIds.map(versionOf)).size > 1;
    const kind = relations.has('cut short')
      ? 'cut short'
      : isNamedApart
        ? 'named apart'
        : relations.has('same recording')
          ? 'same recording'
          : 'same bytes';
    return { kind, version: null, trackIds, offsets: offsetsOf(trackIds, own) };
  });
  const apart = left
    .filter((p) => !ONE.has(p.relation) && rootOf(p.first) !== rootOf(p.second))
    .map(({ first, second, relation, offsetSeconds }): DuplicateGroup => {
      const version = relation as DuplicateGroup['version'];
      return { kind: 'kept apart', version, trackIds: [first, second], offsets: [0, offsetSeconds] };
    });
  // Two groups of one recording would be told apart once for each two of their files.
  const told = new Set<string>();
  const fresh = apart.filter(({ trackIds: [a, b] }) => {
    const key = pairKey(rootOf(a!), rootOf(b!));
    return !told.has(key) && told.add(key);
  });
  return [...groups, ...fresh].sort((a, b) => a.trackIds[0]! - b.trackIds[0]! || a.trackIds[1]! - b.trackIds[1]!);
}

export const pairKey = (a: number, b: number): string => `${Math.min(a, b)}-${Math.max(a, b)}`;

/** Walks from the first along the pairs; where each lies on it. */
function offsetsOf(trackIds: readonly number[], pairs: readonly DuplicatePair[]): number[] {
  const at = new Map([[trackIds[0]!, 0]]);
  for (let found = true; found;) {
    found = false;
    for (const { first, second, offsetSeconds } of pairs) {
      const [a, b] = [at.get(first), at.get(second)];
      if (a !== undefined && b === undefined) at.set(second, a + offsetSeconds);
      else if (b !== undefined && a === undefined) at.set(first, b - offsetSeconds);
      else continue;
      found = true;
    }
  }
  return trackIds.map((id) => at.get(id) ?? 0);
}
