/** What writing a stick would do; and the change that does it. */
import { randomUUID } from 'node:crypto';
import type { StickAnswer, StickStep } from '@early-set/core/api/stick';
import type { Applied } from '@early-set/core/api/types';
import { writeStick } from '@early-set/core/changes/kinds/writeStick';
import { ITEM_FIELDS } from '@early-set/core/playout/item';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { ChangeContext } from '../changes/context.ts';
import { editInTurn } from '../changes/edits.ts';
import type { Database } from '../db/database.ts';
import { driveOf, freeBytes } from '../drives/drives.ts';
import { listsFor, namesOf, tracksFor, wantedLists } from './library.ts';
import { several } from '../lists/lists.ts';
import { playedThere } from '../playout/played.ts';
import { hoursFor } from './hours.ts';
import type { Plans } from './plans.ts';
import { playerOf, rememberWaiting, stickOf, type KeptStick } from './sticks.ts';
import type { StickPool } from './stickPool.ts';
import type { Planned } from './stickThread.ts';

export interface Sticks {
  database: Database;
  changing: ChangeContext;
  plans: Plans;
  stickPool: StickPool;
  /** How far each is that is being verified, or whose days are read, by id. */
  steps: Map<number, StickStep>;
}

const NAMELESS = { name: '', playoutId: null };
const NO_HOURS = { hours: [], lists: [] };

interface Wish {
  listId: string | null;
  whole: boolean;
  gone?: AbortSignal;
}

async function planned({ database, plans, stickPool }: Sticks, stick: KeptStick, wish: Wish): Promise<Planned> {
  const { id, folder, settings, trouble } = stick;
  if (trouble) throw new Problem(409, 'not-there', trouble);
  const player = playerOf(stick.player);
  const { hours, lists: ofHours } = player.playout
    ? await hoursFor(database, await wantedLists(database, settings))
    : NO_HOURS;
  const lists = [...ofHours, ...(await listsFor(database, settings))];
  const ids = [...new Set(lists.flatMap((list) => list.trackIds))];
  const fields = player.playout ? ITEM_FIELDS : [];
  const task = {
    ...{ home: folder, writtenFile: plans.writtenFile(id), player, settings, lists, hours },
    ...{ tracks: await tracksFor(database, ids, settings, fields), listId: wish.listId, whole: wish.whole },
  };
  return stickPool.plan(task, wish.gone);
}

/** What sticks take and two cores convert in a second, about: bytes, and seconds of sound. */
const USUAL = { bytes: 12_000_000, converted: 50 };
/** So many tracks that cannot go are told. */
const TOLD_REFUSED = 200;

/** What writing would do now. @param listId whose files are told; null: of the first list */
export async function lookAtStick(
  sticks: Sticks,
  id: number,
  listId: string | null,
  gone?: AbortSignal,
): Promise<StickAnswer> {
  const { database } = sticks;
  const stick = await stickOf(database, id);
  const found = await planned(sticks, stick, { listId, whole: false, ...(gone ? { gone } : {}) });
  const { refused, toConvert, token, bytes, counts, removed, left, foreign, lists, files, preview } = found;
  await rememberWaiting(database, id, counts.write + removed.length);
  const { playout } = playerOf(stick.player);
  const drive = await driveOf(stick.folder);
  const told = refused.slice(0, TOLD_REFUSED);
  const names = await namesOf(
    database,
    told.map((r) => r.trackId),
  );
  return {
    stickId: id,
    ...{ token, bytes, counts, removed, left, foreign, lists, files, preview, listId: found.listId },
    refused: refused.map((r) => ({ ...r, ...(names.get(r.trackId) ?? NAMELESS) })),
    played: playout && playedThere(stick.folder, playout, stick.played),
    fileSystem: drive?.fileSystem ?? null,
    room: { free: await freeBytes(stick.folder), total: drive?.bytes ?? null },
    seconds: Math.ceil(bytes.comes / USUAL.bytes + toConvert / USUAL.converted),
  };
}

/**
 * Writes a stick as it was looked at, as a change that can be taken back.
 * @throws Problem where the library or the stick has changed since, or there is no room
 */
export async function writeToStick(sticks: Sticks, id: number, token: string): Promise<Applied> {
  const { database, changing, plans } = sticks;
  return editInTurn(changing, async (): Promise<Draft> => {
    const stick = await stickOf(database, id);
    const found = await planned(sticks, stick, { listId: null, whole: true });
    if (found.token !== token)
      throw new Problem(409, 'changed-since', `What goes to ${stick.name} has changed meanwhile: look at it again`);
    const { counts, removed, bytes } = found;
    if (counts.write + removed.length === 0) throw new Problem(409, 'nothing-to-do', `${stick.name} is up to date`);
    const free = await freeBytes(stick.folder);
    if (free !== null && bytes.comes > free + bytes.goes) throw noRoom(stick.name, bytes.comes - free - bytes.goes);
    const after = randomUUID();
    await plans.keep(id, after, found.whole!);
    const words = [
      counts.write > 0 && `${several(counts.write, 'file')} written`,
      removed.length > 0 && `${several(removed.length, 'file')} taken off`,
    ];
    return {
      title: `Write to ${stick.name}`,
      items: [
        writeStick({
          ...{ stickId: id, name: stick.name, before: stick.written, after, bytes: bytes.comes },
          text: words.filter(Boolean).join(', '),
        }),
      ],
    };
  });
}

const noRoom = (name: string, bytes: number): Problem =>
  new Problem(
    409,
    'no-room',
    `${name} has too little room: ${Math.ceil(bytes / 1e6).toLocaleString('en-GB')} MB more are needed`,
  );

/** Where the last writing broke off: writes what was there before it. */
export async function writeFormer(sticks: Sticks, id: number): Promise<Applied> {
  const { database, changing } = sticks;
  return editInTurn(changing, async (): Promise<Draft> => {
    const { name, written, brokenOff, trouble } = await stickOf(database, id);
    if (trouble) throw new Problem(409, 'not-there', trouble);
    if (!brokenOff) throw new Problem(409, 'nothing-to-do', `Nothing was broken off on ${name}`);
    return {
      title: `Write to ${name}`,
      items: [
        writeStick({
          ...{ stickId: id, name, before: written, after: written, bytes: 0, text: 'written as it was before' },
        }),
      ],
    };
  });
}
