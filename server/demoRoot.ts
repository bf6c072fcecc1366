/** The demo's folder as a root, with the dates it is for, made on the first start with the demo. */
import type { Database } from './db/database.ts';
import { localDay } from '@early-set/core/clock/clock';
import { Root } from './db/models.ts';
import { newDateId, storeDate } from './library/dateRows.ts';

/** Finds or makes the root of the demo music. */
export async function ensureDemoRoot(database: Database, path: string): Promise<Root> {
  const known = await Root.findOne({ where: { path } });
  if (known) return known;
  const root = await Root.create({ path, label: 'Demo music', measure: true });
  await database.notify({ kind: 'roots' });
  await addDates(database, new Date());
  return root;
}

const FRIDAY = 5,
  TUESDAY = 2;

/** The night at the boathouse and the show on the island's station, both to come. */
async function addDates(database: Database, now: Date): Promise<void> {
  const next = (weekday: number): string =>
    localDay(new Date(now.getTime() + (((weekday - now.getDay() + 6) % 7) + 1) * 86_400_000));
  await storeDate(await newDateId(database), {
    name: 'Slipway',
    kind: 'gig',
    day: next(FRIDAY),
    startsAt: '22:00',
    asks: 'floor',
    listIds: [],
  });
  await storeDate(await newDateId(database), {
    name: 'Skerry Foreshore, the hour at seven',
    kind: 'show',
    day: next(TUESDAY),
    startsAt: '07:00',
    asks: 'playout',
    listIds: [],
  });
}
