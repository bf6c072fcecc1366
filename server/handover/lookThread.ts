/** Thread in which a destination is read and compared, so that it holds nobody up and its memory goes with it. */
import type { MessagePort } from 'node:worker_threads';
import type { Ask, Told } from '@early-set/core/sync/ask';
import { compare, type Comparison } from '@early-set/core/sync/compare';
import type { HereTrack } from '@early-set/core/sync/compareTracks';
import { Problem } from '../base/problem.ts';
import { reasonOf } from '../files/reasons.ts';
import { heldOf } from '../library/held.ts';
import { askerOn, type Asker, type Found, type LookAnswer, type LookWish } from './asking.ts';
import { dataFolderOf, openedBy, readData } from './data.ts';
import { keepBoth, keepHere } from './keepBoth.ts';
import { readTracks, readValues, type SomeTracks } from './library.ts';
import {
  behindThere,
  bytesIn,
  countsOf,
  listedLines,
  notFoundThere,
  rememberSame,
  sameKey,
  tokenOf,
  type Looked,
} from './looked.ts';
import { programFor } from './programs.ts';
import { openStates } from './states.ts';

const MAX_NOT_HERE = 500;

export default async function work({ wish, port }: { wish: LookWish; port: MessagePort }): Promise<LookAnswer> {
  try {
    return await look(wish, askerOn(port));
  } catch (error) {
    // What is thrown loses its kind on the way out of a thread.
    if (error instanceof Problem) return { refused: { ...error, message: error.message } };
    if (typeof (error as NodeJS.ErrnoException).syscall !== 'string') throw error;
    return { refused: { status: 409, code: 'not-read', message: reasonOf(error) } };
  } finally {
    port.close();
  }
}

async function look({ destination, dataFolder, choices, apply }: LookWish, asker: Asker): Promise<Found> {
  const { id, name, settings, synced } = destination;
  const { home, format } = programFor(destination.kind);
  const { readOnly = false } = format.describe;
  const { policies, maps, keys } = settings;
  const states = openStates(dataFolder);
  void asker.ask('step', { what: 'reading', done: 0, total: null });
  const begun = asker.ask('tracks', { first: true }); // they are looked up while the files are read
  const folder = dataFolderOf(destination.folder, home, name);
  const { texts, hash } = await readData(folder, home);
  const there = format.read(texts, folder, keys ?? undefined);
  const tracks = await tracksHere(asker, begun);
  const { lists, others } = await asker.ask('lists', {});
  const past = await states.pastOf(id, synced);
  const ties = await asker.ask('ties', {});
  const key = sameKey(destination, folder);
  const same = await states.sameOf(id, key);
  const here = { tracks, lists, others: new Set(others) };
  const asked = { here, there, past, ties, same, format, folder, maps, policies, choices, linesOnly: apply === null };
  const comparison = await finished(compare(asked), asker, there.tracks.length);
  if (comparison.same.size !== same.size || [...comparison.same].some(([other, one]) => same.get(other) !== one))
    await rememberSame(states, id, key, comparison.same);
  const looked: Looked = { destination, here, comparison, hash, folder };
  const token = tokenOf(looked);
  if (apply && apply.token !== token)
    throw new Problem(409, 'changed-since', 'One of the two sides has changed since: look at it again');
  const accepted = new Set(settings.accepted);
  const found: Found = {
    refused: null,
    comparison: {
      token,
      counts: { ...comparison.counts, notHere: comparison.notHere.length, lists: lists.length },
      ...countsOf(comparison),
      lines: listedLines(comparison),
      losses: comparison.losses.map((loss) => ({ ...loss, accepted: accepted.has(loss.id) })),
      notHere: comparison.notHere.slice(0, MAX_NOT_HERE),
      problems: there.problems.slice(0, MAX_NOT_HERE),
      checks: {
        openedBy: await openedBy(destination.folder, home),
        notFound: notFoundThere(looked),
        bytes: readOnly ? 0 : await bytesIn(folder),
      },
    },
    lists: readOnly ? {} : behindThere(looked),
    kept: null,
  };
  if (apply && readOnly) found.kept = await keepHere(looked, asker);
  else if (apply) found.kept = await keepBoth(looked, { texts, at: apply.at, states, asker });
  return found;
}

async function tracksHere(asker: Asker, first: Promise<SomeTracks | null>): Promise<HereTrack[]> {
  const tracks: HereTrack[] = [];
  for (let next = first; ;) {
    const some = await next;
    if (some === null) return tracks;
    next = asker.ask('tracks', { first: false });
    for (const one of readTracks(some)) tracks.push(one);
    void asker.ask('step', { what: 'reading', done: tracks.length, total: null });
  }
}

/** Runs a comparison piece by piece, with what the server says in between. */
async function finished(steps: Generator<Ask, Comparison, Told>, asker: Asker, total: number): Promise<Comparison> {
  let told: Told = { values: readValues([]), held: () => null, withSound: () => [] };
  let done = 0;
  /** What is looked up while the piece before is compared. */
  let ahead: { ids: readonly number[]; said: Promise<string[]> } | null = null;
  const valuesFor = (ids: number[]): Promise<string[]> => asker.ask('values', { ids, which: 'values' });
  for (;;) {
    const { done: ended, value: ask } = steps.next(told);
    if (ended) return ask;
    if (ask.what === 'sounds') {
      const bySound = new Map(await asker.ask('sounds', { sounds: ask.sounds }));
      told = { ...told, withSound: (sound) => bySound.get(sound) ?? [] };
    } else if (ask.what === 'names')
      told = { ...told, values: readValues(await asker.ask('values', { ids: ask.ids, which: 'names' })) };
    else if (ask.what === 'values') {
      const said = await (ahead?.ids.join() === ask.ids.join() ? ahead.said : valuesFor(ask.ids));
      ahead = ask.next.length > 0 ? { ids: ask.next, said: valuesFor(ask.next) } : null;
      told = { ...told, values: readValues(said) };
      done += ask.ids.length;
      void asker.ask('step', { what: 'comparing', done, total: Math.max(total, done) });
    } else if (ask.what === 'held' && ask.ids.length > 0) {
      const rows = await asker.ask('origins', { ids: ask.ids });
      const origins = new Map(rows.map((r) => [r.id, r.origins]));
      const { values } = told;
      told = { ...told, held: (trackId, field) => heldOf(values(trackId)[field], origins.get(trackId) ?? {}, field) };
    } else await new Promise((resolve) => setImmediate(resolve));
  }
}
