/** What happens while two sides are made alike: others edit, somebody stops waiting, and what is remembered of it. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { SyncStep } from '@early-set/core/api/handover';
import { DEFAULT_POLICIES } from '@early-set/core/sync/policies';
import { makeEdits, type Edit } from '../../standins/plover/edits.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { compareWith, syncWith, type Handover } from './compare.ts';

let h: Harness;
let id: number, data: string;
const { set } = hands(() => h);

/** The server's own way, with somebody who does something when all is compared and nothing is kept yet. */
function meanwhile(act: () => unknown): { handover: Handover; steps: SyncStep['what'][] } {
  const steps: SyncStep['what'][] = [];
  const { handover } = h.server;
  const look: Handover['lookPool']['look'] = (wish, answers, gone) =>
    handover.lookPool.look(
      wish,
      {
        ...answers,
        step(step) {
          steps.push(step.what);
          return answers.step(step);
        },
        async draft(asks) {
          await act();
          return answers.draft(asks);
        },
      },
      gone,
    );
  return { handover: { ...handover, lookPool: { ...handover.lookPool, look } }, steps };
}

const waiting = async (): Promise<[string, string, string][]> =>
  (await compareWith(h.server.handover, id, {})).lines.map((l) => [l.name, l.field, l.group]);
const person = (...edits: Edit[]): void =>
  makeEdits(join(h.folder, 'plover/collection'), edits, '2026-11-29T12:00:00Z');
const everything = (): string => readFileSync(join(data, 'tracks.jsonl'), 'utf8');
const kept = (): string[] =>
  readdirSync(join(h.folder, 'data/handover', String(id))).filter((name) => !name.startsWith('same-'));
const sync = async (handover: Handover, gone?: AbortSignal): Promise<unknown> => {
  const { token } = await compareWith(h.server.handover, id, {});
  return syncWith(handover, id, { token, choices: {} }, gone);
};

beforeAll(async () => {
  h = await startHarness();
  for (const n of [1, 2, 3])
    makeAudio(join(h.music, `${n}.mp3`), { seconds: 1, tags: { title: `Tide ${n}`, artist: 'Keel Nine' } });
  await h.takeIn(h.music, false);
  await h.patch('/settings', { editsGoTo: 'library' }).expect(200);
  data = join(h.folder, 'plover/collection');
  mkdirSync(join(data, 'lists'), { recursive: true });
  writeFileSync(join(data, 'tracks.jsonl'), '');
  id = ((await h.post('/destinations', { folder: join(h.folder, 'plover') }).expect(200)).body as { id: number }).id;
  await h.patch(`/destinations/${id}`, { settings: { policies: { ...DEFAULT_POLICIES, tracks: 'all' } } }).expect(200);
}, 120_000);
afterAll(() => h?.stop());

test('nobody waits for it any more: nothing is changed, and it can be done again', async () => {
  const gone = new AbortController();
  await expect(sync(meanwhile(() => gone.abort()).handover, gone.signal)).rejects.toThrow('It was cancelled');
  expect(everything()).toBe('');
  expect((await h.query('SELECT 1 FROM change_sets')).length).toBe(0);
  await sync(h.server.handover);
  expect(everything().split('\n').filter(Boolean)).toHaveLength(3);
  expect(kept().every((name) => !name.startsWith('.'))).toBe(true);
});

test('of what was given just now nothing is asked, also after a start', async () => {
  for (const again of [false, true]) {
    if (again) await h.restart();
    const { handover, steps } = meanwhile(() => undefined);
    expect((await compareWith(handover, id, {})).lines).toEqual([]);
    expect(steps).toContain('reading');
    expect(steps).not.toContain('comparing');
  }
});

test('somebody edits another track meanwhile: both are as they were wished', async () => {
  person({ op: 'comment', id: 'Tide 1', text: 'opener' });
  const { handover } = meanwhile(() => set(['2.mp3'], 'title', 'Tide Two'));
  await sync(handover);
  expect(await waiting()).toEqual([['Tide Two', 'title', 'out']]);
});

test('somebody edits meanwhile what is about to be changed: it is asked again, and nothing is lost', async () => {
  person({ op: 'comment', id: 'Tide 1', text: 'closer' });
  const [before, states] = [everything(), kept().length];
  const { handover } = meanwhile(() => set(['1.mp3'], 'comment', 'typed here'));
  await expect(sync(handover)).rejects.toThrow('Something was changed here meanwhile');
  expect(everything()).toBe(before);
  expect(kept()).toHaveLength(states);
  expect(await waiting()).toContainEqual(['Tide 1', 'comment', 'clash']);
});
