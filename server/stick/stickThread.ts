/** The thread for sticks: one is planned and compared with what lies there, or a file is made for it. */
import { existsSync, readFileSync } from 'node:fs';
import type { MessagePort } from 'node:worker_threads';
import type { StickAnswer, StickFileLine, StickSettings } from '@early-set/core/api/stick';
import { TemplateError } from '@early-set/core/exchange/line';
import { joined } from '@early-set/core/exchange/listedTrack';
import { printOf } from '@early-set/core/exchange/print';
import { RuleError } from '@early-set/core/naming/naming';
import { compareStick, foreignFiles, type StickState } from '@early-set/core/stick/compare';
import type { StickFile, StickList } from '@early-set/core/stick/layout';
import { planPlayout, type PlayoutHour } from '@early-set/core/stick/planPlayout';
import { PlanError, planStick, type Plan, type PlannedFile, type PlannedTrack } from '@early-set/core/stick/plan';
import { formatOf, TARGETS, type Player } from '@early-set/core/stick/player';
import { openTags, pictureIn } from '@early-set/core/tags/edit';
import { TagTrouble } from '@early-set/core/tags/bytes';
import { reasonOf } from '../files/reasons.ts';
import { withSource } from '../files/tagFile.ts';
import { hashOfPicture } from '../media/pictureHash.ts';
import { readTracks } from './library.ts';
import { makeItem, type ItemWish } from '../playout/makeItem.ts';
import { fromOne, madeAt, makeFile, type MadeFile, type MakeWish } from './makeFile.ts';
import { readWritten } from './written.ts';
import { sizesOn } from './writeStick.ts';

export interface PlanTask {
  what: 'plan';
  home: string;
  writtenFile: string;
  player: Player;
  settings: StickSettings;
  lists: StickList[];
  /** Those of the lists that are hours, where it is a playout system. */
  hours: PlayoutHour[];
  /** As the database wrote them. */
  tracks: string[];
  /** Whose files are told; null: of the first list. */
  listId: string | null;
  /** All files are told, to be kept. */
  whole: boolean;
}
export interface Planned {
  token: string;
  bytes: StickAnswer['bytes'];
  counts: StickAnswer['counts'];
  removed: string[];
  left: string[];
  foreign: number;
  refused: Plan['refused'];
  /** Length of what is converted, in seconds. */
  toConvert: number;
  lists: StickAnswer['lists'];
  listId: string | null;
  files: StickFileLine[];
  preview: StickAnswer['preview'];
  whole: PlannedFile[] | null;
}

export interface MakeTask {
  what: 'make';
  wish: Omit<MakeWish, 'picture'>;
  /** The library's cover; null: it has none, and the file keeps what it has. */
  cover: { hash: string; path: string; mime: string } | null;
  /** Says when nobody waits any more. */
  port: MessagePort;
}
/** An item of a playout system. */
export interface ItemTask {
  what: 'item';
  wish: Omit<ItemWish, 'to' | 'at'> & { scratch: string };
  port: MessagePort;
}
/** A plan, or why there is none: templates that cannot be used. */
export type Plannable = { planned: Planned } | { refused: string };

/** What came of it, or why nothing did. */
export type Made = { made: MadeFile } | { reason: string; code: string | null };

export type StickTask = PlanTask | MakeTask | ItemTask;

export default function (task: StickTask): Plannable | Promise<Made> {
  if (task.what === 'plan') return plannable(task);
  return made(task, (signal) => (task.what === 'make' ? makeTrack(task, signal) : makeForPlayout(task, signal)));
}

function plannable(task: PlanTask): Plannable {
  try {
    return { planned: plan(task) };
  } catch (error) {
    if (error instanceof RuleError || error instanceof TemplateError || error instanceof PlanError)
      return { refused: error.message };
    throw error;
  }
}

/** So many files of a list are told. */
const TOLD = 2000;
/** So many lines of its M3U8. */
const PREVIEW_LINES = 11;

function plan(task: PlanTask): Planned {
  const { home, writtenFile, player, settings, lists, hours, tracks: texts, listId, whole } = task;
  const tracks = readTracks(texts);
  const sizes = sizesOn(home);
  const written = readWritten(writtenFile, sizes);
  const foreign = foreignFiles(written, sizes.keys());
  const wish = { ...settings, line: settings.m3u8 ? settings.line : null };
  const planned = player.playout
    ? planPlayout(tracks, lists, hours, player.playout, foreign)
    : planStick(tracks, lists, wish, player, foreign);
  const changes = compareStick(planned.files, written, sizes);
  const stateOf = new Map(changes.files.map(({ wanted, state }) => [wanted.path, state]));
  const bytesOf = new Map(planned.files.map((f) => [f.path, f.bytes]));
  const told = planned.lists.find((l) => l.listId === listId) ?? planned.lists[0];
  const sounds = changes.files.filter((f) => 'recipe' in f.wanted.madeOf);
  const counts: Planned['counts'] = {
    files: sounds.length,
    write: 0,
    converted: 0,
    levelled: 0,
    same: 0,
    cut: 0,
    changed: 0,
  };
  let toConvert = 0;
  for (const { wanted, state } of changes.files) {
    if (state === 'same') continue;
    counts.write++;
    if (state === 'changed there') counts.changed++;
    if (!('recipe' in wanted.madeOf) || wanted.madeOf.recipe.format === null) continue;
    counts.converted++;
    if (wanted.madeOf.recipe.lufs !== null) counts.levelled++;
    toConvert += tracks.get(wanted.madeOf.trackId)?.seconds ?? 0;
  }
  counts.same = sounds.filter((f) => f.state === 'same').length;
  counts.cut = new Set(planned.lists.flatMap((l) => l.files.filter((f) => f.cut).map((f) => f.path))).size;
  const idsOf = new Map(lists.map((l) => [l.id, l.trackIds]));
  const keptOut = new Set(planned.refused.map((r) => r.trackId));
  return {
    token: tokenOf(planned.files, changes.removed, stateOf),
    bytes: changes.bytes,
    counts,
    removed: changes.removed.map((f) => f.path),
    left: changes.left.map((f) => f.path),
    foreign: foreign.length,
    refused: planned.refused,
    toConvert,
    lists: planned.lists.map(({ listId: id, name, place, files }) => ({
      ...{ id, name, place, files: files.length },
      seconds: files.reduce((sum, f) => sum + (tracks.get(f.trackId)?.seconds ?? 0), 0),
      changes: files.filter((f) => stateOf.get(f.path) !== 'same').length,
      refused: new Set(idsOf.get(id)!.filter((trackId) => keptOut.has(trackId))).size,
    })),
    listId: told?.listId ?? null,
    files: (told?.files ?? [])
      .slice(0, TOLD)
      .map((file) => lineOf(file, tracks.get(file.trackId)!, stateOf.get(file.path)!, bytesOf.get(file.path)!)),
    preview: told ? previewOf(told.file, planned.files) : null,
    whole: whole ? planned.files : null,
  };
}

/** Other as soon as anything is that would be written or taken off. */
function tokenOf(
  files: readonly PlannedFile[],
  removed: readonly { path: string }[],
  stateOf: ReadonlyMap<string, StickState>,
): string {
  const all = files.map(({ path, sound, tags }) => [path, sound, tags, stateOf.get(path)].join('\t'));
  return printOf([...all, '', ...removed.map((f) => f.path)].join('\n'));
}

function lineOf(
  { path, trackId, recipe, cut }: StickFile,
  { values, ending, codec }: PlannedTrack,
  state: StickState,
  bytes: number,
): StickFileLine {
  const own = formatOf(ending, codec);
  const from = own ? TARGETS[own].label : ending.slice(1).toUpperCase();
  const to = recipe.format && TARGETS[recipe.format].label;
  return {
    ...{ path, trackId, state, cut },
    title: joined(values.title),
    artist: joined(values.artist),
    bytes: state === 'same' ? 0 : bytes,
    how:
      to === null
        ? `${from} as it is`
        : `${from === to ? '' : `${from} to `}${to}${recipe.kbps === null ? '' : ` ${recipe.kbps}`}`,
    converted: to !== null,
    levelled: recipe.lufs !== null,
  };
}

function previewOf(path: string | null, files: readonly PlannedFile[]): Planned['preview'] {
  const made = files.find((f) => f.path === path)?.madeOf;
  if (path === null || made?.is !== 'list') return null;
  return { path, text: made.text.split('\n').slice(0, PREVIEW_LINES).join('\n') };
}

function makeTrack({ wish, cover }: MakeTask, signal: AbortSignal): Promise<MadeFile> {
  const other = cover !== null && coverIn(wish.source) !== cover.hash && existsSync(cover.path);
  const picture = other ? { mime: cover.mime, data: new Uint8Array(readFileSync(cover.path)) } : undefined;
  return makeFile({ ...wish, ...(picture ? { picture } : {}) }, signal);
}

const makeForPlayout = ({ wish: { scratch, ...wish } }: ItemTask, signal: AbortSignal): Promise<MadeFile> =>
  fromOne(wish.source, async () => {
    const to = `${scratch}.wav`;
    return madeAt(to, await makeItem({ ...wish, to, at: new Date().toISOString() }, signal));
  });

async function made({ port }: MakeTask | ItemTask, make: (signal: AbortSignal) => Promise<MadeFile>): Promise<Made> {
  const called = new AbortController();
  port.once('message', () => called.abort());
  try {
    return { made: await make(called.signal) };
  } catch (error) {
    return { reason: reasonOf(error), code: (error as NodeJS.ErrnoException).code ?? null };
  } finally {
    port.close();
  }
}

/** Hash of the cover that a file has; null where it has none, or its tags cannot be read. */
function coverIn(source: string): string | null {
  try {
    const picture = withSource(source, (bytes) => pictureIn(openTags(bytes)));
    return picture && hashOfPicture(picture.data);
  } catch (error) {
    if (error instanceof TagTrouble) return null;
    throw error;
  }
}
