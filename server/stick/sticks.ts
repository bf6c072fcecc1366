/** Sticks: which there are, added, changed, taken out. */
import { existsSync } from 'node:fs';
import { basename } from 'node:path';
import type { Drive } from '@early-set/core/api/types';
import { DEFAULT_STICK, type StickLine, type StickReport, type StickSettings } from '@early-set/core/api/stick';
import { writeStickKind } from '@early-set/core/changes/kinds/writeStick';
import { PLAYERS, type Player } from '@early-set/core/stick/player';
import { notFound, Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { driveOf, isOnItsDrive } from '../drives/drives.ts';
import type { PlayedDays } from '../playout/played.ts';
import type { Plans } from './plans.ts';

interface Row {
  id: number;
  player: string;
  name: string;
  folder: string;
  settings: Partial<StickSettings>;
  written: string | null;
  aimed: string | null;
  writtenAt: Date | null;
  report: StickReport | null;
  waiting: number | null;
  drive: Drive | null;
  played: PlayedDays;
}

const SELECT = `SELECT id, player, name, folder, settings, written, aimed, written_at AS "writtenAt", report, waiting,
  drive, played FROM sticks`;

export interface KeptStick extends StickLine {
  /** What was written to it last, as a plan. */
  written: string | null;
  /** Of a playout system: what of that it played has been read. */
  played: PlayedDays;
}

/** @throws RangeError for a player that is not known */
export function playerOf(kind: string): Player {
  const player = PLAYERS[kind];
  if (!player) throw new RangeError(`There is no player "${kind}"`);
  return player;
}

async function lineOf({ written, aimed, drive, settings, writtenAt, ...row }: Row): Promise<KeptStick> {
  const isThere = existsSync(row.folder) && (await isOnItsDrive(row.folder, drive));
  const { name: playerName, playout } = playerOf(row.player);
  const isPlayout = playout !== null;
  return {
    ...row,
    ...{ playerName, isPlayout },
    settings: { ...DEFAULT_STICK, ...settings },
    writtenAt: writtenAt?.toISOString() ?? null,
    trouble: isThere ? null : isPlayout ? `There is no folder ${row.folder}` : `Nothing is plugged in at ${row.folder}`,
    brokenOff: aimed !== written,
    written,
  };
}

export async function allSticks(database: Database): Promise<StickLine[]> {
  const rows = await database.rows<Row>(`${SELECT} ORDER BY id`);
  return Promise.all(rows.map(lineOf));
}

/** @throws Problem when there is none */
export async function stickOf(database: Database, id: number): Promise<KeptStick> {
  const [row] = await database.rows<Row>(`${SELECT} WHERE id = $1`, [id]);
  if (!row) throw notFound('The stick');
  return lineOf(row);
}

/** What a stick's files must not be mixed with: the music itself, and what another one is written to. */
async function mustBeFree(database: Database, folder: string): Promise<void> {
  const [root] = await database.rows<{ path: string }>(
    `SELECT path FROM roots WHERE NOT removed AND (path = $1 OR left(path, length($1) + 1) = $1 || '/'
      OR left($1, length(path) + 1) = path || '/') LIMIT 1`,
    [folder],
  );
  if (root)
    throw new Problem(409, 'music-there', `${folder} and the music in ${root.path} would be mixed: choose another one`);
  const [other] = await database.rows<{ name: string }>(
    `SELECT name FROM sticks WHERE folder = $1 OR left(folder, length($1) + 1) = $1 || '/'
      OR left($1, length(folder) + 1) = folder || '/' LIMIT 1`,
    [folder],
  );
  if (other) throw new Problem(409, 'there-already', `${other.name} is written there already`);
}

/** Adds a stick, or a folder to write to. @throws Problem where music lies there, or it is there already */
export async function addStick(
  database: Database,
  { folder, player, name, settings }: { folder: string; player: string; name?: string; settings?: object },
): Promise<{ id: number }> {
  await mustBeFree(database, folder);
  const drive = await driveOf(folder);
  const [row] = await database.rows<{ id: number }>(
    `INSERT INTO sticks (player, name, folder, drive, settings) VALUES ($1, $2, $3, $4::jsonb, $5::jsonb)
      ON CONFLICT (folder) DO NOTHING RETURNING id`,
    [player, name ?? drive?.label ?? basename(folder), folder, JSON.stringify(drive), JSON.stringify(settings ?? {})],
  );
  if (!row) throw new Problem(409, 'there-already', `${folder} is written to already`);
  await database.notify({ kind: 'destinations' });
  return row;
}

export async function changeStick(
  database: Database,
  id: number,
  { name, player, settings }: { name?: string; player?: string; settings?: Partial<StickSettings> },
): Promise<StickLine> {
  await stickOf(database, id);
  await database.run(
    `UPDATE sticks SET name = COALESCE($2, name), player = COALESCE($3, player), settings = settings || $4::jsonb
      WHERE id = $1`,
    [id, name ?? null, player ?? null, JSON.stringify(settings ?? {})],
  );
  await database.notify({ kind: 'destinations' });
  return stickOf(database, id);
}

/** @throws Problem while it is being written, or waits for that */
export async function mustBeIdle(database: Database, id: number): Promise<void> {
  const [waits] = await database.rows(
    `SELECT 1 FROM change_items WHERE state = 'waiting' AND area = 'files' AND item->>'kind' = $2
      AND (item->>'stickId')::int = $1 LIMIT 1`,
    [id, writeStickKind.kind],
  );
  if (waits)
    throw new Problem(409, 'being-written', 'It is being written; cancel that first, or wait until it has ended');
}

/** Takes one out; what lies there stays, what was kept of it goes. */
export async function removeStick(database: Database, plans: Plans, id: number): Promise<void> {
  await stickOf(database, id);
  await mustBeIdle(database, id);
  await database.run('DELETE FROM sticks WHERE id = $1', [id]);
  await plans.forget(id);
  await database.notify({ kind: 'destinations' });
}

/** Keeps how many changes a look has found. */
export async function rememberWaiting(database: Database, id: number, waiting: number): Promise<void> {
  const changed = await database.rows(
    'UPDATE sticks SET waiting = $2 WHERE id = $1 AND waiting IS DISTINCT FROM $2 RETURNING id',
    [id, waiting],
  );
  if (changed.length > 0) await database.notify({ kind: 'destinations' });
}
