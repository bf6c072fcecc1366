/** A destination compared with the library, and what somebody has chosen made so on both sides. */
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { LINE_GROUPS, type ComparisonAnswer, type SyncWish } from '@early-set/core/api/handover';
import type { Applied } from '@early-set/core/api/types';
import { writeDestination } from '@early-set/core/changes/kinds/writeDestination';
import { compare, type Ask, type Comparison, type Here, type Same, type Told } from '@early-set/core/sync/compare';
import type { Choices } from '@early-set/core/sync/compareTracks';
import { placeHere } from '@early-set/core/sync/match';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import { editInTurn } from '../changes/edits.ts';
import type { Database } from '../db/database.ts';
import { dataFolderOf, namesIn, openedBy, readData, textsIn } from './data.ts';
import { destinationOf, rememberLooked, type KeptDestination } from './destinations.ts';
import { draftHere } from './draftHere.ts';
import { heldFor, libraryFor, valuesFor } from './library.ts';
import { programFor } from './programs.ts';
import type { States } from './states.ts';
import { tiesOf } from './ties.ts';

export interface Handover {
  database: Database;
  changing: ChangeContext;
  states: States;
}

/** Of a group at most so many lines are listed; all are made. */
const MAX_LINES = 2000;
const MAX_NOT_HERE = 500;

interface Looked {
  destination: KeptDestination;
  here: Here;
  comparison: Comparison;
  problems: ComparisonAnswer['problems'];
  /** Hash of the data there. */
  hash: string;
  folder: string;
}

/** Runs a comparison piece by piece, with room for others in between. */
async function finished<T>(database: Database, steps: Generator<Ask, T, Told>): Promise<T> {
  let told: Told = { values: () => ({}), held: () => null };
  for (;;) {
    const { done, value: ask } = steps.next(told);
    if (done) return ask;
    if (ask.what === 'values' || ask.what === 'names')
      told = { ...told, values: await valuesFor(database, ask.ids, ask.what) };
    else if (ask.what === 'held') told = { ...told, held: await heldFor(database, ask.ids, told.values) };
    await new Promise((resolve) => setImmediate(resolve));
  }
}

/** What was found to be the same when a destination was last compared, as long as its past and what is read are. */
const foundSame = new Map<string, { key: string; same: ReadonlyMap<string, Same> }>();

async function look({ database, states }: Handover, id: number, choices: Choices): Promise<Looked> {
  const destination = await destinationOf(database, id);
  const { home, format } = programFor(destination.kind);
  const { name, settings, synced } = destination;
  const { policies, maps, keys } = settings;
  const folder = dataFolderOf(destination.folder, home, name);
  const { texts, hash } = await readData(folder, home);
  const there = format.read(texts, folder, keys ?? undefined);
  const here = await libraryFor(database, settings);
  const past = await states.pastOf(id, synced);
  const ties = await tiesOf(database, `destination:${id}`);
  const kept = `${database.sequelize.getDatabaseName()} ${id}`,
    key = JSON.stringify([synced, maps, keys, folder]);
  const known = foundSame.get(kept);
  const same = known?.key === key ? known.same : new Map<string, Same>();
  const asked = { here, there, past, ties, same, format, folder, maps, policies, choices };
  const comparison = await finished(database, compare(asked));
  foundSame.set(kept, { key, same: comparison.same });
  return { destination, here, comparison, problems: there.problems, hash, folder };
}

/** What was compared, in one text: when either side has changed, it is another. */
function tokenOf({ destination, here, comparison, hash }: Looked): string {
  const lines = comparison.lines.map(({ id, here: mine, there, base }) => [id, mine, there, base]);
  // Of new tracks and of lists more is written than their lines say; it does not depend on what is chosen.
  const isNew = new Set(comparison.lines.flatMap((l) => (l.field === 'track' ? [l.trackId] : [])));
  const changed = new Set(comparison.lines.map((l) => l.listId));
  const added = [
    here.tracks.filter((t) => isNew.has(t.id)).map((t) => t.print),
    here.lists.filter((l) => changed.has(l.id)),
  ];
  return createHash('sha256')
    .update(
      JSON.stringify([
        destination.synced,
        destination.settings.policies,
        destination.settings.keys,
        hash,
        lines,
        added,
      ]),
    )
    .digest('hex')
    .slice(0, 32);
}

function countsOf({ lines }: Comparison): Pick<ComparisonAnswer, 'groups' | 'made' | 'undecided'> {
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

async function bytesIn(folder: string): Promise<number> {
  let bytes = 0;
  for (const name of await namesIn(folder)) bytes += (await stat(join(folder, name))).size;
  return bytes;
}

/** Compares. @param choices what somebody has chosen for lines */
export async function compareWith(handover: Handover, id: number, choices: Choices): Promise<ComparisonAnswer> {
  const looked = await look(handover, id, choices);
  const { destination, comparison, problems, folder, here } = looked;
  const { groups, made, undecided } = countsOf(comparison);
  const { home } = programFor(destination.kind);
  const accepted = new Set(destination.settings.accepted);
  if (Object.keys(choices).length === 0)
    await rememberLooked(handover.database, id, {
      ...{ out: groups.out, in: groups.in, clash: groups.clash, at: new Date().toISOString() },
      lists: behindThere(looked),
    });
  return {
    destinationId: id,
    token: tokenOf(looked),
    counts: { ...comparison.counts, notHere: comparison.notHere.length, lists: here.lists.length },
    groups,
    made,
    undecided,
    lines: LINE_GROUPS.flatMap((group) => comparison.lines.filter((l) => l.group === group).slice(0, MAX_LINES)),
    losses: comparison.losses.map((loss) => ({ ...loss, accepted: accepted.has(loss.id) })),
    notHere: comparison.notHere.slice(0, MAX_NOT_HERE),
    problems: problems.slice(0, MAX_NOT_HERE),
    checks: {
      openedBy: await openedBy(destination.folder, home),
      notFound: notFoundThere(looked),
      bytes: await bytesIn(folder),
    },
  };
}

/** Of each list, how many lines about it and about its tracks go there, or would have to be chosen. */
function behindThere({ here, comparison }: Looked): Record<string, number> {
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
const notFoundThere = ({ comparison, destination }: Looked): number =>
  comparison.notHere.filter(({ path }) => !existsSync(placeHere(path, destination.settings.maps))).length;

const several = (n: number, one: string): string => `${n.toLocaleString('en-GB')} ${n === 1 ? one : `${one}s`}`;

/** What will be done there, in words. */
function wordsFor({ there }: Comparison): string {
  const parts = [
    [there.newTracks.length, 'new track'],
    [there.tracks.length, 'changed track'],
    [there.newLists.length, 'new list'],
    [there.lists.length, 'changed list'],
    [there.removedLists.length, 'removed list'],
  ] as const;
  const said = parts.filter(([n]) => n > 0).map(([n, one]) => several(n, one));
  return said.length > 0 ? said.join(', ') : 'nothing to write';
}

/** @throws Problem where something would be lost by writing */
function written<T>(name: string, write: () => T): T {
  try {
    return write();
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new Problem(409, 'unreadable', `${name} cannot be written: ${error.message}. Nothing was changed`);
  }
}

/**
 * Makes both sides what the comparison says, as one change. @throws Problem where either side has changed since, or the
 * program is open
 */
export function syncWith(handover: Handover, id: number, { token, choices }: SyncWish): Promise<Applied> {
  const { changing, states, database } = handover;
  return editInTurn(changing, async (): Promise<Draft> => {
    const looked = await look(handover, id, choices);
    const { destination, comparison, hash, folder } = looked;
    if (tokenOf(looked) !== token)
      throw new Problem(409, 'changed-since', 'One of the two sides has changed since: look at it again');
    const { home, format } = programFor(destination.kind);
    const by = await openedBy(destination.folder, home);
    if (by !== null) throw new Problem(409, 'open', `${destination.name} is open (${by}): close it, then try again`);
    const at = new Date().toISOString();
    const texts = await textsIn(folder, home);
    const { items, lists } = await draftHere(database, comparison, format.describe, at);
    const past = {
      ...comparison.past,
      lists: comparison.past.lists.map((l) => (l.listId === '' ? { ...l, listId: lists.get(l.otherId)! } : l)),
    };
    const changes = written(destination.name, () =>
      format.write(texts, comparison.there, folder, at, destination.settings.keys ?? undefined),
    );
    const before = await states.keep(id, folder, home);
    if (before.hash !== hash)
      throw new Problem(409, 'changed-since', `${destination.name} has changed since: look at it again`);
    const after = await states.keepChanged(id, folder, changes, past, home);
    return {
      title: `Sync with ${destination.name}`,
      items: [
        ...items,
        writeDestination({
          ...{ destinationId: id, name: destination.name, text: wordsFor(comparison) },
          before: { data: before.id, hash: before.hash, past: destination.synced },
          after: { data: after.id, hash: after.hash, past: after.id },
        }),
      ],
    };
  });
}
