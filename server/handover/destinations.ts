/** Destinations: which there are, added, changed, taken out. */
import type { DestinationLine, DestinationSettings, Waiting } from '@early-set/core/api/handover';
import { DEFAULT_POLICIES } from '@early-set/core/sync/policies';
import type { Description } from '@early-set/core/exchange/collection';
import { PROGRAMS } from '@early-set/core/exchange/programs';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { forgetUnpacked } from '../bundle/compared.ts';
import { notFound, Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { programFor } from './programs.ts';
import type { States } from './states.ts';
import { untie } from './ties.ts';

export const DEFAULT_DESTINATION: DestinationSettings = {
  policies: DEFAULT_POLICIES,
  lists: null,
  maps: [],
  keys: null,
  accepted: [],
};

interface Row {
  id: number;
  kind: string;
  name: string;
  folder: string;
  settings: Partial<DestinationSettings>;
  synced: string | null;
  syncedAt: Date | null;
  looked: Waiting | null;
}

const SELECT = `SELECT id, kind, name, folder, settings, synced, synced_at AS "syncedAt", looked FROM destinations`;

export interface KeptDestination extends DestinationLine {
  /** The state that both sides last agreed on. */
  synced: string | null;
}

function lineOf({ settings, syncedAt, looked, id, kind, name, folder }: Row): DestinationLine {
  const { home, format } = programFor(kind);
  return {
    ...{ id, kind, name, folder },
    what: format.describe.what,
    readOnly: format.describe.readOnly ?? false,
    settings: settingsOf(settings, format.describe),
    syncedAt: syncedAt?.toISOString() ?? null,
    waiting: looked,
    trouble: existsSync(join(folder, home.data)) ? null : `Its data are not in ${folder}`,
  };
}

function settingsOf(kept: Partial<DestinationSettings>, { readOnly }: Description): DestinationSettings {
  const settings = { ...DEFAULT_DESTINATION, ...kept };
  return readOnly ? { ...settings, policies: { ...settings.policies, direction: 'from there' } } : settings;
}

export async function allDestinations(database: Database): Promise<DestinationLine[]> {
  const rows = await database.rows<Row>(`${SELECT} ORDER BY id`);
  return rows.map(lineOf);
}

/** @throws Problem when there is none */
export async function destinationOf(database: Database, id: number): Promise<KeptDestination> {
  const [row] = await database.rows<Row>(`${SELECT} WHERE id = $1`, [id]);
  if (!row) throw notFound('The destination');
  return { ...lineOf(row), synced: row.synced };
}

/** Adds the program whose data lie in a folder. @throws Problem where none is recognised, or it is there already */
export async function addDestination(database: Database, folder: string): Promise<{ id: number }> {
  const kind = Object.keys(PROGRAMS).find((k) => {
    const { data, mark } = programFor(k).home;
    return existsSync(join(folder, data, mark));
  });
  if (kind === undefined)
    throw new Problem(409, 'no-program', `There are no data of a program that is known in ${folder}`);
  const { name } = programFor(kind).format.describe;
  const [row] = await database.rows<{ id: number }>(
    'INSERT INTO destinations (kind, name, folder) VALUES ($1, $2, $3) ON CONFLICT (folder) DO NOTHING RETURNING id',
    [kind, name, folder],
  );
  if (!row) throw new Problem(409, 'there-already', `${folder} is a destination already`);
  await database.notify({ kind: 'destinations' });
  return row;
}

export async function changeDestination(
  database: Database,
  id: number,
  { name, settings }: { name?: string; settings?: Partial<DestinationSettings> },
): Promise<DestinationLine> {
  await destinationOf(database, id);
  await database.run(
    'UPDATE destinations SET name = COALESCE($2, name), settings = settings || $3::jsonb WHERE id = $1',
    [id, name ?? null, JSON.stringify(settings ?? {})],
  );
  await database.notify({ kind: 'destinations' });
  return destinationOf(database, id);
}

export const isDestination = async (database: Database, id: number): Promise<boolean> =>
  (await database.rows('SELECT 1 FROM destinations WHERE id = $1', [id])).length > 0;

/** Takes one out; its data stay as they are, what was kept of it goes. */
export async function removeDestination(
  { database, states, dataFolder }: { database: Database; states: States; dataFolder: string },
  id: number,
): Promise<void> {
  const { folder } = await destinationOf(database, id);
  await database.run('DELETE FROM destinations WHERE id = $1', [id]);
  await states.forget(id);
  await forgetUnpacked(dataFolder, folder);
  await untie(database, `destination:${id}`);
  await database.notify({ kind: 'destinations' });
}

/** Keeps what a look has found, so that everybody sees it without another. */
export async function rememberLooked(database: Database, id: number, waiting: Waiting): Promise<void> {
  const [was] = await database.rows<{ looked: Waiting | null }>('SELECT looked FROM destinations WHERE id = $1', [id]);
  await database.run('UPDATE destinations SET looked = $2::jsonb WHERE id = $1', [id, JSON.stringify(waiting)]);
  const counts = ({ out, in: back, clash, lists }: Waiting): string => JSON.stringify([out, back, clash, lists]);
  if (!was?.looked || counts(was.looked) !== counts(waiting)) await database.notify({ kind: 'destinations' });
}
