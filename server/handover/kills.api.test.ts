/**
 * A destination written and killed at every step, by turns there and back: what stands there is always whole, the old
 * or the new; the next start finishes; nothing is left beside it.
 */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { ComparisonAnswer } from '@early-set/core/api/handover';
import type { Applied } from '@early-set/core/api/types';
import { inverse, touchesOf } from '@early-set/core/changes/items';
import type { WriteDestination } from '@early-set/core/changes/kinds/writeDestination';
import { DEFAULT_POLICIES } from '@early-set/core/sync/policies';
import { readData as dunlinData } from '../../standins/dunlin/data.ts';
import { readData as ploverData } from '../../standins/plover/data.ts';
import type { WorkStep } from '../changes/context.ts';
import { buildKiller, die } from '../testing/die.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { hashOf } from './data.ts';
import { dunlin } from './dunlin/home.ts';
import type { Home } from './home.ts';
import { plover } from './plover/home.ts';

const STEPS: readonly WorkStep[] = [
  ...(['claimed', 'prepared', 'journalled', 'staged', 'checked', 'exchanged', 'written', 'settled'] as const),
];
const KILLS = Number(process.env.EARLY_SET_KILLS ?? STEPS.length);

interface Case {
  home: Home;
  refused: (data: string) => unknown[];
  /** Files of one that has nothing yet. */
  empty: Readonly<Record<string, string>>;
}
const PROGRAMS: Readonly<Record<string, Case>> = {
  plover: {
    home: plover,
    refused: (data) => ploverData(data).refused,
    empty: { 'tracks.jsonl': '', 'lists/.keep': '' },
  },
  dunlin: { home: dunlin, refused: (data) => dunlinData(data).refused, empty: { 'tracks.csv': 'path,title\n' } },
};

let h: Harness;
const { finished, titleOf } = hands(() => h);

beforeAll(async () => {
  await buildKiller();
  h = await startHarness();
  for (const n of [1, 2, 3]) makeAudio(join(h.music, `${n}.mp3`), { seconds: 1, tags: { title: `Tide ${n}` } });
  await h.takeIn(h.music, false);
  for (const [kind, { home, empty }] of Object.entries(PROGRAMS))
    for (const [name, text] of Object.entries(empty)) {
      const path = join(h.folder, kind, home.data, name);
      mkdirSync(dirname(path), { recursive: true });
      writeFileSync(path, text);
    }
}, 120_000);
afterAll(() => h?.stop());

/** The item of a change set that writes the destination. */
async function written({ changeSetId }: Applied): Promise<WriteDestination> {
  const rows = await h.query<{ item: WriteDestination }>(
    "SELECT item FROM change_items WHERE change_set_id = $1 AND item ? 'destinationId'",
    [changeSetId],
  );
  return rows[0]!.item;
}

/** A change set in which an item waits, as a killed server leaves it. */
async function waiting(item: WriteDestination): Promise<number> {
  const [track] = await h.query<{ id: number }>('SELECT id FROM tracks ORDER BY id LIMIT 1');
  const notes = { selection: { ids: [track!.id] }, field: 'notes', value: `round ${item.after.data}` };
  const { changeSetId } = (await h.post('/fields', notes).expect(200)).body as Applied;
  await h.query(
    `INSERT INTO change_items (change_set_id, seq, item, state, area, track_id)
      VALUES ($1, 100, $2, 'waiting', 'files', $3)`,
    [changeSetId, JSON.stringify(item), touchesOf(item).tracks![0]],
  );
  return changeSetId;
}

test.each(Object.entries(PROGRAMS))(
  `%s, ${KILLS} kills: the old or the new, whole`,
  async (kind, { home, refused }) => {
    const program = join(h.folder, kind);
    const { id } = (await h.post('/destinations', { folder: program }).expect(200)).body as { id: number };
    const policies = { ...DEFAULT_POLICIES, tracks: 'all' };
    await h.patch(`/destinations/${id}`, { settings: { policies } }).expect(200);
    const { token } = (await h.post(`/destinations/${id}/compare`, {}).expect(200)).body as ComparisonAnswer;
    const made = (await h.post(`/destinations/${id}/sync`, { token }).expect(200)).body as Applied;
    await finished(made.changeSetId);
    const collection = join(program, home.data);
    let item = await written(made);
    expect(await hashOf(collection, home)).toBe(item.after.hash);
    for (let n = 0; n < KILLS; n++) {
      item = inverse(item);
      const changeSetId = await waiting(item);
      die(h, changeSetId, STEPS[n % STEPS.length]!, touchesOf(item).tracks![0]!);
      expect([item.before.hash, item.after.hash]).toContain(await hashOf(collection, home));
      expect(refused(collection)).toEqual([]);
      await h.restart();
      await finished(changeSetId);
      expect([n, await hashOf(collection, home)]).toEqual([n, item.after.hash]);
      expect(readdirSync(program)).toEqual([home.data]);
      const [row] = await h.query<{ synced: string | null }>('SELECT synced FROM destinations WHERE id = $1', [id]);
      expect(row!.synced).toBe(item.after.past);
    }
    expect(await titleOf('1.mp3')).toBe('Tide 1');
  },
  60_000 + KILLS * 20_000,
);
