/**
 * Tracks and lists of another collection taken into the library: recognised where they are here already, else copied
 * or taken where they lie; then what is said of them there comes over as a change. Begun again after a kill, it goes
 * on: what was taken is tied to where it came from.
 */
import { mkdir, realpath, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import type { TakeReport, TakeWish } from '@early-set/core/api/take';
import type { TrackValues } from '@early-set/core/fields/values';
import { isEmpty } from '@early-set/core/fields/values';
import { placeHere } from '@early-set/core/sync/match';
import { commonFolder, foldersFor } from '@early-set/core/take/folders';
import { Problem, notFound } from '../base/problem.ts';
import { applyInTurn } from '../changes/edits.ts';
import type { ChangeContext } from '../changes/context.ts';
import type { CleanPool } from '../clean/cleanPool.ts';
import { Root } from '../db/models.ts';
import { deskSettings } from '../db/settings.ts';
import { serviceAddress } from '../db/services.ts';
import { reasonOf } from '../files/reasons.ts';
import { tie } from '../handover/ties.ts';
import type { States } from '../handover/states.ts';
import { copyNew } from '../intake/copyNew.ts';
import { fileNamer, type FileNamer } from '../intake/fileNamer.ts';
import { addRoot } from '../intake/intake.ts';
import { kindOf } from '../intake/kinds.ts';
import { valuesOf, whyUnread } from '../intake/lookFirst.ts';
import { cleanBy } from '../intake/newFiles.ts';
import { allowedFolder, allowedPlaces } from '../intake/places.ts';
import type { Scanned } from '../intake/scans.ts';
import { safeSegments } from '../intake/upload.ts';
import { queueAnalysis } from '../jobs/analysis.ts';
import { againTitle, defineRun, type DefinedRun, type RunHand } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import { mustBeThere } from '../library/absolutePath.ts';
import { isInside } from '../media/roots.ts';
import { several } from '../lists/lists.ts';
import { lookAt, wantedTracks, type Looked } from './look.ts';
import { openPool } from './pool.ts';
import { sameSound } from './sameSound.ts';
import { takeDraft } from './takeDraft.ts';
import { leaveOutOthers, takeFile, type Placed, type TakeFileTools } from './takeFile.ts';

/** What was asked for, and the folder of the demo's music: a process of its own does not know it. */
export interface TakePayload extends TakeWish {
  demoRoot: string | null;
}
export type TakeRun = DefinedRun<TakePayload>;

/** What is there once changes can be made. */
export interface TakeLater {
  changing: ChangeContext;
  cleanPool: CleanPool;
}

export interface TakeTools extends TakeFileTools {
  queue: Queue;
  states: States;
  dataFolder: string;
  later: () => TakeLater;
  /** What comes behind new files in a folder. */
  scanned: Scanned;
}

/** So many of what was not taken a report names. */
const MAX_TOLD = 200;

/** What a run remembers while it goes on. */
interface Progress extends TakeReport {
  /** New tracks so far. */
  newIds: number[];
}
const nothingYet = (): Progress => ({
  ...{ taken: 0, linked: 0, bySound: 0, failed: 0, told: [], lists: 0, changeSetId: null, cleaned: null, newIds: [] },
});

export const takeTitle = (looked: Pick<Looked, 'name'>, tracks: number): string =>
  `Take ${several(tracks, 'track')} from ${looked.name}`;

export function takeRun(tools: TakeTools): TakeRun {
  return defineRun<TakePayload>(tools, {
    kind: 'taking',
    task: 'take',
    priority: -20,
    queueName: ({ source }) => `take:${source}`,
    async work(hand) {
      const { report, total } = await new Taking(tools, hand).all();
      const { failed } = report;
      return { report, total, done: total - failed, failed };
    },
    again: (_, run) =>
      Promise.resolve(run.failed > 0 || run.state !== 'done' ? { title: againTitle(run.title), total: 0 } : null),
    async ended() {
      await tools.database.notify({ kind: 'tracks' });
      await tools.database.notify({ kind: 'roots' });
    },
  });
}

/** Where a track's file lies outside. */
interface Outside {
  otherId: string;
  /** Whole, resolved. */
  path: string;
}

class Taking {
  readonly #tools: TakeTools;
  readonly #hand: RunHand<TakePayload>;
  readonly #report: Progress;
  readonly #tracks = new Map<string, { trackId: number; isNew: boolean; sameFile: boolean }>();
  readonly #roots = new Map<number, Root>();

  constructor(tools: TakeTools, hand: RunHand<TakePayload>) {
    this.#tools = tools;
    this.#hand = hand;
    this.#report = { ...nothingYet(), ...((hand.run.report ?? {}) as Partial<Progress>) };
    // What was counted before is counted again.
    Object.assign(this.#report, { taken: 0, linked: 0, bySound: 0, failed: 0, told: [] });
  }

  async all(): Promise<{ report: TakeReport; total: number }> {
    const { payload, signal } = this.#hand;
    const { database, states } = this.#tools;
    const looked = await lookAt({ database, states, demoRoot: payload.demoRoot }, payload.source, signal);
    const wanted = wantedTracks(looked, payload);
    const staging = join(this.#tools.dataFolder, 'arriving', `take-${this.#hand.run.id}`);
    try {
      const open: string[] = [];
      for (const otherId of wanted) {
        const trackId = looked.tied.get(otherId);
        if (trackId === undefined) open.push(otherId);
        else this.#is(otherId, trackId, this.#report.newIds.includes(trackId), !looked.inexact.has(otherId));
      }
      await this.#files(looked, open, wanted.length, staging);
      signal.throwIfAborted();
    } catch (error) {
      // What was taken before it was cancelled keeps what is said of it.
      const { run } = this.#hand;
      await run.reload();
      if (run.state !== 'cancelled') throw error;
      await this.#after(looked);
      await run.update({ report: this.#report });
      throw error;
    } finally {
      await rm(staging, { recursive: true, force: true });
    }
    await this.#after(looked);
    const { newIds, ...report } = this.#report;
    return { report, total: Math.max(wanted.length, newIds.length) };
  }

  /** A track there is one here. */
  #is(otherId: string, trackId: number, isNew: boolean, sameFile: boolean): void {
    this.#tracks.set(otherId, { trackId, isNew, sameFile });
    if (isNew) this.#report.taken++;
    else this.#report.linked++;
  }

  async #files(looked: Looked, open: readonly string[], total: number, staging: string): Promise<void> {
    const { payload, signal, tell } = this.#hand;
    const into = payload.copy ? await this.#copyInto(payload.copy.rootId) : null;
    if (!into && !looked.onThisMachine)
      throw new Problem(400, 'no-folder', 'Choose a folder that they are copied into');
    const nameOf = into ? await fileNamer(this.#tools, payload.copy!.names, into, signal) : null;
    const outside = looked.onThisMachine
      ? await this.#found(looked, open)
      : open.map((id) => ({ otherId: id, path: '' }));
    const common = commonFolder(outside.map((o) => o.path));
    const folders = into ? null : await this.#ownFolders(outside);
    for (const { otherId, path } of outside) {
      signal.throwIfAborted();
      const name = this.#nameOf(looked, otherId);
      await tell({
        ...{ done: this.#tracks.size, failed: this.#report.failed, total, current: name, report: this.#report },
      });
      try {
        const place = { looked, common, into, nameOf, folders };
        if (looked.onThisMachine) await this.#one({ otherId, path }, place);
        else await this.#download(otherId, staging, place);
      } catch (error) {
        signal.throwIfAborted();
        this.#failed(path === '' ? name : path, error);
      }
    }
  }

  #nameOf({ byId }: Looked, otherId: string): string {
    const { values, path } = byId.get(otherId)!;
    return typeof values.title === 'string' ? values.title : basename(path);
  }

  #failed(path: string, error: unknown): void {
    this.#report.failed++;
    const reason = error instanceof Problem ? error.message : whyFailed(error);
    if (this.#report.told.length < MAX_TOLD) this.#report.told.push({ path, reason });
  }

  async #copyInto(rootId: number): Promise<Root> {
    const root = await Root.findByPk(rootId);
    if (!root || root.removed) throw notFound('The folder');
    await mustBeThere(root);
    return root;
  }

  /** Where the files of tracks lie; those that are nowhere are told. */
  async #found({ byId, maps }: Looked, ids: readonly string[]): Promise<Outside[]> {
    const out: Outside[] = [];
    for (const otherId of ids) {
      const { path } = byId.get(otherId)!;
      const here = placeHere(path, maps);
      try {
        if (path === '') throw new Problem(404, 'no-file', 'It does not say where its file lies');
        const whole = await realpath(here).catch(() => null);
        if (whole === null) throw new Problem(404, 'no-file', 'Its file is not there');
        await allowedFolder(dirname(whole), this.#hand.payload.demoRoot);
        if (!(await stat(whole)).isFile()) throw new Problem(404, 'no-file', 'That is no file');
        out.push({ otherId, path: whole });
      } catch (error) {
        this.#failed(here || this.#nameOf({ byId } as Looked, otherId), error);
      }
    }
    return out;
  }

  /** For files that stay where they lie: the folders that become library folders for them. */
  async #ownFolders(outside: readonly Outside[]): Promise<Map<string, string>> {
    const roots = await Root.findAll();
    const free = outside.filter((o) => !roots.some((r) => isInside(r.path, o.path)));
    const places = (await allowedPlaces(this.#hand.payload.demoRoot)).map((p) => p.path);
    const folders = foldersFor(
      free.map((o) => o.path),
      [...places, ...roots.map((r) => r.path)],
    );
    return new Map([...folders].flatMap(([folder, paths]) => paths.map((path) => [path, folder] as const)));
  }

  async #download(otherId: string, staging: string, place: Place): Promise<void> {
    const { database } = this.#tools;
    const address = await serviceAddress(database, 'pool');
    if (address === null) throw notFound('The pool');
    const { signal, run } = this.#hand;
    const pool = openPool(address, {
      signal,
      trouble: (words) => void run.update({ current: words }).catch(() => undefined),
    });
    await mkdir(staging, { recursive: true });
    const part = join(staging, 'part');
    const called = basename(await pool.download(otherId, part));
    // What it is, is told by its ending too.
    const whole = `${part}${extname(called)}`;
    try {
      await rename(part, whole);
      await this.#one({ otherId, path: whole }, { ...place, called });
    } finally {
      await rm(whole, { force: true });
    }
  }

  async #one({ otherId, path }: Outside, place: Place): Promise<void> {
    const { database } = this.#tools;
    const root = (await Root.findAll()).find((r) => !r.removed && r.purpose === 'library' && isInside(r.path, path));
    if (!root) {
      await this.#mustBeMusic(path);
      const same = await sameSound(database, path);
      if (same) {
        await tie(database, this.#hand.payload.source, [{ otherId, trackId: same.trackId, sameFile: !same.bySound }]);
        this.#is(otherId, same.trackId, false, !same.bySound);
        if (same.bySound) this.#report.bySound++;
        return;
      }
    }
    const placed = root
      ? { root, path: path.slice(root.path.length + 1) }
      : await this.#placed({ otherId, path }, place);
    await this.#take(otherId, placed, place.looked);
  }

  /** What cannot be taken is not copied either. @throws Problem or the reader's error with the reason */
  async #mustBeMusic(path: string): Promise<void> {
    const kind = kindOf(path);
    if (kind.kind !== 'audio') throw new Problem(415, 'not-music', kind.kind === 'other' ? kind.reason : 'A picture');
    if ((await stat(path)).size === 0) throw new Problem(409, 'empty', 'The file is empty (zero bytes)');
    await valuesOf({ files: this.#tools.files, settings: await deskSettings() }, path, this.#hand.signal);
  }

  /** A file that is in no library folder yet: copied into one, or its own becomes one. */
  async #placed({ otherId, path }: Outside, { looked, common, into, nameOf, folders, called }: Place): Promise<Placed> {
    const { signal, payload } = this.#hand;
    if (into) {
      const { values } = looked.byId.get(otherId)!;
      const known: TrackValues = Object.fromEntries(Object.entries(values).filter(([, v]) => !isEmpty(v)));
      const below = called ?? path.slice(common.length + 1);
      const { name } = await nameOf!(path, below, known);
      const segments = safeSegments(payload.copy!.into === '' ? name : `${payload.copy!.into}/${name}`);
      const copied = await copyNew(this.#tools.files, path, into.path, segments, signal);
      return { root: into, path: copied.path };
    }
    const folder = folders!.get(path);
    if (folder === undefined)
      throw new Problem(409, 'no-folder', `${dirname(path)} cannot become a library folder: copy it instead`);
    const known = (await Root.findAll()).find((r) => !r.removed && r.path === folder);
    const root =
      known ?? (await addRoot(this.#tools.database, folder, payload.demoRoot, { measure: true, purpose: 'library' }));
    if (!known) {
      const own = [...folders!].filter(([, of]) => of === folder).map(([file]) => file.slice(folder.length + 1));
      await leaveOutOthers(this.#tools.database, root, new Set(own), signal);
    }
    return { root, path: path.slice(folder.length + 1) };
  }

  async #take(otherId: string, placed: Placed, looked: Looked): Promise<void> {
    const { run, payload, signal } = this.#hand;
    const { trackId, isNew, changeSetId } = await takeFile(
      this.#tools,
      placed,
      {
        ...{ source: payload.source, otherId, runId: run.id, changeSetId: this.#report.changeSetId },
        title: run.title || takeTitle(looked, 1),
        // Kept with it: begun again after a kill, it is the same change.
        noted: async (taken, changeSetId, t) => {
          const report = { ...this.#report, changeSetId, newIds: [...this.#report.newIds, taken] };
          await run.update({ report }, { transaction: t });
        },
      },
      signal,
    );
    this.#is(otherId, trackId, isNew, true);
    this.#report.changeSetId = changeSetId;
    if (!isNew) return;
    this.#report.newIds.push(trackId);
    this.#roots.set(placed.root.id, placed.root);
  }

  /** What comes behind: values and lists, cleaning, measuring. */
  async #after(looked: Looked): Promise<void> {
    const { payload, run } = this.#hand;
    const { database, queue, later, scanned } = this.#tools;
    const { changing } = later();
    const { newIds } = this.#report;
    const measured = newIds.filter((id) => [...this.#tracks.values()].some((t) => t.trackId === id));
    if (measured.length > 0)
      await queueAnalysis(database, queue, measured, { title: `Measure what came from ${looked.name}`, chosen: false });
    await this.#told('What is said of them there', async () => {
      const { items, lists } = await takeDraft(database, looked, payload, this.#tracks);
      if (items.length === 0) return;
      const into = this.#report.changeSetId;
      const made = await applyInTurn(changing, () => Promise.resolve({ title: run.title, items, into }));
      Object.assign(this.#report, { changeSetId: made.changeSetId, lists });
    });
    if (payload.presetId !== null && newIds.length > 0)
      await this.#told('Cleaning', async () => {
        this.#report.cleaned = (await cleanBy(later(), payload.presetId!, `from ${looked.name}`, newIds)) ?? null;
      });
    for (const root of this.#roots.values()) await scanned(root, run.id);
  }

  /** Does it; what stands in its way is part of the report. */
  async #told(what: string, work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      if (error instanceof Problem && error.code === 'nothing-to-do') return;
      const reason = error instanceof Problem ? error.message : reasonOf(error);
      this.#report.told.push({ path: what, reason });
    }
  }
}

/** What is known of where files go. */
interface Place {
  looked: Looked;
  /** The folder that holds all of them. */
  common: string;
  into: Root | null;
  nameOf: FileNamer | null;
  folders: ReadonlyMap<string, string> | null;
  /** What it is called, where it lies under a name that means nothing. */
  called?: string;
}

function whyFailed(error: unknown): string {
  const said = whyUnread(error);
  return said === 'The file could not be read' ? reasonOf(error) : said;
}
