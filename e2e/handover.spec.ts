/** From Plover to Dunlin: compared, chosen, made alike on both sides, taken back. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ListLine, SheetPage } from '@early-set/core/api/types';
import { readData as dunlinData } from '../standins/dunlin/data.ts';
import { readData as ploverData, type Data } from '../standins/plover/data.ts';
import { makeEdits } from '../standins/plover/edits.ts';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
let plover: string, dunlin: string;
const AT = '2026-11-28T21:00:00Z';
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
  // Where the demo keeps its programs, so that they may be looked into.
  const programs = join(app.folder, 'demo/programs');
  [plover, dunlin] = [join(programs, 'plover'), join(programs, 'dunlin')];
  mkdirSync(join(plover, 'collection/lists'), { recursive: true });
  mkdirSync(join(dunlin, 'data'), { recursive: true });
  writeFileSync(join(plover, 'collection/tracks.jsonl'), '');
  writeFileSync(join(dunlin, 'data/tracks.csv'), 'path,title\n');
});
test.afterAll(() => end?.());

const inPlover = (): Data => ploverData(join(plover, 'collection'));
const add = async (page: Page, folder: string): Promise<void> => {
  await page.getByRole('button', { name: 'Add a destination…' }).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Path; Enter goes there').fill(folder);
  await dialog.getByLabel('Path; Enter goes there').press('Enter');
  await expect(dialog.getByLabel('Path; Enter goes there')).toHaveValue(folder);
  await dialog.getByRole('button', { name: 'Add what is in this folder' }).click();
  await expect(dialog).toBeHidden();
};
const apply = async (page: Page): Promise<void> => {
  await page.getByRole('button', { name: 'Apply', exact: true }).click();
  await expect(page.getByText('Nothing to apply')).toBeVisible();
};
const line = (page: Page, name: string) => page.locator(`[data-line="${name}"]`);

test('from one program to the other, with nesting, cues and keys; conflicts chosen, synced, undone', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const { rows } = await app.get<SheetPage>('/tracks?sort=title&limit=6');
  const titles = rows.map((r) => String(r.values.title));
  const made = await app.post<{ listId: string }>('/lists', { kind: 'crate', name: 'Harbour night' });
  await app.post('/lists', {
    ...{ kind: 'playlist', name: 'Opening', parentId: made.listId },
    selection: { ids: rows.slice(0, 4).map((r) => r.id) },
  });
  const set = (at: number, field: string, value: unknown): Promise<unknown> =>
    app.post('/fields', { selection: { ids: [rows[at]!.id] }, field, value });
  await set(0, 'key', 'A minor');
  await set(0, 'cues', '[{"at":1.5,"name":"in"}]');
  await page.goto(`${app.address}/handover`);
  await expect(page.getByRole('heading', { name: 'Nothing to hand over to yet' })).toBeVisible();
  await add(page, plover);
  await expect(page.getByRole('heading', { name: 'Plover', exact: true })).toBeVisible();
  await expect(page.locator('[data-line$=": List"]')).not.toHaveCount(0);
  await apply(page);
  expect(inPlover().refused).toEqual([]);
  const opening = (): string[] => inPlover().lists.find((l) => l.file === 'Harbour night/Opening.xspf')!.locations;
  expect(opening()).toHaveLength(4);
  const first = inPlover().tracks.find((t) => t.location === opening()[0])!;
  expect(first).toMatchObject({ key: 'Am', cues: [{ name: 'in' }] });

  // Somebody plays with it there, and goes on here.
  const ids = opening().map((l) => inPlover().tracks.find((t) => t.location === l)!.id);
  makeEdits(
    join(plover, 'collection'),
    [
      { op: 'rate', id: ids[1]!, stars: 5 },
      { op: 'key', id: ids[0]!, key: 'Fm' },
      ...[0, 1, 2].map((i) => ({ op: 'comment' as const, id: ids[i]!, text: `from there ${i}` })),
    ],
    AT,
  );
  await set(0, 'key', 'C minor');
  for (const i of [0, 1, 2]) await set(i, 'comment', `from here ${i}`);
  const there = readFileSync(join(plover, 'collection/tracks.jsonl'), 'utf8');
  await page.getByRole('button', { name: 'Compare again' }).click();
  await expect(page.getByRole('button', { name: 'Both changed 4' })).toBeVisible();
  const { violations } = await new AxeBuilder({ page: page as never }).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  // One by mouse, one by key, the rest for the whole field.
  await line(page, `${titles[0]}: Key`).getByRole('button', { name: 'there', exact: true }).click();
  await line(page, `${titles[0]}: Comment`).locator('span').first().click();
  await page.keyboard.press('b');
  await page.getByRole('button', { name: 'Comment: here' }).click();
  await expect(page.getByRole('region', { name: 'To choose' })).toBeHidden();
  await apply(page);
  const comments = (): (string | undefined)[] => ids.map((id) => inPlover().tracks.find((t) => t.id === id)!.comment);
  const withoutEnergy = (text: string | undefined): string => (text ?? '').replace(/^\d+\/100(?:; )?/, '');
  expect(comments().slice(0, 3).map(withoutEnergy)).toEqual([
    'from here 0; from there 0',
    'from here 1',
    'from here 2',
  ]);
  const values = async (i: number): Promise<Record<string, unknown>> =>
    (await app.get<{ values: Record<string, unknown> }>(`/tracks/${rows[i]!.id}`)).values;
  expect(await values(0)).toMatchObject({ key: 'F minor', comment: 'from here 0; from there 0' });
  expect(await values(1)).toMatchObject({ rating: 5, comment: 'from here 1' });

  await page.locator('[data-sonner-toast][data-front="true"]').getByRole('button', { name: 'Undo' }).click();
  await settled(
    () => values(1),
    (v) => v.rating === null,
  );
  expect(await values(0)).toMatchObject({ key: 'C minor', comment: 'from here 0' });
  // Files follow the library.
  const now = (): Promise<string> => Promise.resolve(readFileSync(join(plover, 'collection/tracks.jsonl'), 'utf8'));
  await settled(now, (text) => text === there);

  // The other program gets what the desk holds, with its own spelling and limits.
  await page.goto(`${app.address}/handover`);
  await add(page, dunlin);
  await expect(page.getByRole('heading', { name: 'Dunlin', exact: true })).toBeVisible();
  await expect(page.locator('[data-line$=": List"]')).not.toHaveCount(0);
  await apply(page);
  const { tracks, crates, refused } = dunlinData(join(dunlin, 'data'));
  expect(refused).toEqual([]);
  expect(tracks.find((t) => t.title === titles[0])).toMatchObject({ key: 'C minor', 'cue 1': '1.500 in' });
  const own = crates.find((c) => c.name === 'Opening')!;
  expect(crates.find((c) => c.id === own.parent)!.name).toBe('Harbour night');
  expect(own.tracks).toHaveLength(4);
  const lists = (await app.get<ListLine[]>('/lists')).filter((l) => !l.removed && l.name === 'Opening');
  expect(lists).toHaveLength(1);
  expect(errors).toEqual([]);
});
