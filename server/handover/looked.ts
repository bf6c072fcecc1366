/** What a comparison comes to, in counts and few lines. */
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { LINE_GROUPS, type ComparisonAnswer } from '@early-set/core/api/handover';
import type { Comparison, Here } from '@early-set/core/sync/compare';
import type { Line } from '@early-set/core/sync/compareTracks';
import { placeHere } from '@early-set/core/sync/match';
import { namesIn } from './data.ts';
import { programFor } from './programs.ts';
import type { KeptDestination } from './destinations.ts';
import type { States } from './states.ts';

/** Of a group at most so many lines are listed; all are made. */
const MAX_LINES = 2000;

export interface Looked {
  destination: KeptDestination;
  here: Here;
  comparison: Comparison;
  /** Hash of the data there. */
  hash: string;
  folder: string;
}

/** What was compared, in one text: when either side has changed, it is another. */
export function tokenOf({ destination, here, comparison, hash }: Looked): string {
  const token = createHash('sha256');
  const say = (what: unknown): unknown => token.update(JSON.stringify(what));
  say([destination.synced, destination.settings.policies, destination.settings.keys, hash]);
  for (const { id, here: mine, there, base } of comparison.lines) say([id, mine, there, base]);
  // Of new tracks and of lists more is written than their lines say; it does not depend on what is chosen.
  const isNew = new Set(comparison.lines.flatMap((l) => (l.field === 'track' ? [l.trackId] : [])));
  const changed = new Set(comparison.lines.map((l) => l.listId));
  for (const { id, print } of here.tracks) if (isNew.has(id)) say(print);
  for (const list of here.lists) if (changed.has(list.id)) say(list);
  return token.digest('hex').slice(0, 32);
}

/** Under which it is remembered what was found to be the same: all that a comparison depends on besides the tracks. */
export const sameKey = ({ kind, synced, settings: { maps, keys } }: KeptDestination, folder: string): string =>
  JSON.stringify([COMPARING, programFor(kind).format.describe, synced, maps, keys, folder]);
/** Another one as soon as values are read, written or compared in another way: what was found before counts no more. */
const COMPARING = 1;

/** It only saves time: what stands in its way stands in no way else. */
export const rememberSame = (states: States, id: number, key: string, same: Comparison['same']): Promise<void> =>
  states.keepSame(id, key, same).catch(() => undefined);

export const listedLines = ({ lines }: Comparison): Line[] =>
  LINE_GROUPS.flatMap((group) => {
    const of: Line[] = [];
    for (const line of lines) if (line.group === group && of.length < MAX_LINES) of.push(line);
    return of;
  });

export function countsOf({ lines }: Comparison): Pick<ComparisonAnswer, 'groups' | 'made' | 'undecided'> {
  const groups = { clash: 0, out: 0, in: 0, left: 0 };
  const made = { lines: 0, out: 0, in: 0, undecided: 0 };
  const byField = new Map<string, ComparisonAnswer['undecided'][number]>();
  for (const { group, will, field, options } of lines) {
    groups[group]++;
    if (will !== null) made.lines++;
    if (will === 'here' || will === 'both') made.out++;
    if (will === 'there' || will === 'both') made.in++;
    if (will !== null || group !== 'clash') continue;
    made.undecided++;
    const of = byField.get(field) ?? { field, lines: 0, both: false };
    byField.set(field, { field, lines: of.lines + 1, both: of.both || options.includes('both') });
  }
  const undecided = [...byField.values()].sort((a, b) => b.lines - a.lines);
  return { groups, made, undecided };
}

export async function bytesIn(folder: string): Promise<number> {
  let bytes = 0;
  for (const name of await namesIn(folder)) bytes += (await stat(join(folder, name))).size;
  return bytes;
}

/** Of each list, how many lines about it and about its tracks go there, or would have to be chosen. */
export function behindThere({ here, comparison }: Looked): Record<string, number> {
  const ofTracks = new Map<number, number>();
  const behind: Record<string, number> = {};
  for (const { group, trackId, listId } of comparison.lines) {
    if (group !== 'out' && group !== 'clash') continue;
    if (trackId !== null) ofTracks.set(trackId, (ofTracks.get(trackId) ?? 0) + 1);
    if (listId !== null) behind[listId] = (behind[listId] ?? 0) + 1;
  }
  for (const { id, trackIds } of ofTracks.size > 0 ? here.lists : []) {
    const count = [...new Set(trackIds)].reduce((sum, trackId) => sum + (ofTracks.get(trackId) ?? 0), 0);
    if (count > 0) behind[id] = (behind[id] ?? 0) + count;
  }
  return behind;
}

/** Files that the destination does not find where it looks for them, of those that nobody here has either. */
export const notFoundThere = ({ comparison, destination }: Looked): number =>
  comparison.notHere.filter(({ path }) => !existsSync(placeHere(path, destination.settings.maps))).length;

const several = (n: number, one: string): string => `${n.toLocaleString('en-GB')} ${n === 1 ? one : `${one}s`}`;

/** What will be done there, in words. */
export function wordsFor({ there }: Comparison, missingCovers: number): string {
  const parts = [
    [there.newTracks.length, 'new track'],
    [there.tracks.length, 'changed track'],
    [there.newLists.length, 'new list'],
    [there.lists.length, 'changed list'],
    [there.removedLists.length, 'removed list'],
  ] as const;
  const said = parts.filter(([n]) => n > 0).map(([n, one]) => several(n, one));
  if (missingCovers > 0) said.push(`without ${several(missingCovers, 'cover')} that cannot be read`);
  return said.length > 0 ? said.join(', ') : 'nothing to write';
}
