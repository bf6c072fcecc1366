/** A set arranged: suggestions, a wished shape, pins, smoothing as a draft, export, undo; lists by others; by keys. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ListContents, ListLine, SheetPage } from '@early-set/core/api/types';
import { DEFAULT_WEIGHTS, orderCost } from '@early-set/core/arrange/order';
import { readShape } from '@early-set/core/arrange/shape';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

const entries = (page: Page) => page.locator('[data-entry]');
const HOUSE = encodeURIComponent(JSON.stringify({ field: 'genre', test: 'one of', values: ['House'] }));

/** A playlist of the first house tracks. */
async function playlist(name: string, count: number): Promise<() => Promise<ListContents>> {
  const { rows } = await app.get<SheetPage>(`/tracks?where=${HOUSE}&sort=title&limit=${count}`);
  const { listId } = await app.post<{ listId: string }>('/lists', {
    kind: 'playlist',
    name,
    selection: { ids: rows.map((r) => r.id) },
  });
  return () => app.get<ListContents>(`/lists/${listId}`);
}
const order = (list: ListContents): number[] => list.entries.map((e) => e.id);
const cost = (list: ListContents, shape: string): number =>
  orderCost(list.entries, { weights: DEFAULT_WEIGHTS, shape: readShape(shape) });

test('with the mouse: filled by suggestions, shaped, pinned, smoothed, exported in that order, undone', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const now = await playlist('Slipway, late', 5);
  await page.goto(`${app.address}/arrange/${(await now()).id}`);
  await expect(entries(page)).toHaveCount(5);
  await page.getByRole('button', { name: 'Wished shape: none' }).click();
  await page.getByRole('menuitem', { name: 'Rising' }).click();
  await settled(now, (l) => l.info.shape === 'rising');

  // Each suggestion goes behind the entry in hand, and is in hand then.
  await entries(page).nth(1).click();
  const suggestions = page.getByRole('list', { name: 'Tracks that could follow' });
  for (let i = 0; i < 4; i++) {
    const before = order(await now());
    await expect(suggestions.locator('[data-follower]').first()).toBeVisible();
    await suggestions.getByRole('listitem').first().hover();
    await suggestions.getByRole('button', { name: /^Add / }).first().click();
    const after = order(await settled(now, (l) => l.entries.length === before.length + 1));
    expect([...after.slice(0, 2 + i), ...after.slice(3 + i)]).toEqual(before);
    expect(before).not.toContain(after[2 + i]);
    await expect(entries(page).nth(2 + i)).toHaveAttribute('aria-selected', 'true');
  }

  for (const place of [0, 4]) {
    await entries(page).nth(place).click({ button: 'right' });
    await page.getByRole('menuitem', { name: /^Pin to its place/ }).click();
    await settled(now, (l) => l.entries[place]!.data.pinned === true);
  }
  const given = await now();
  await page.getByRole('button', { name: 'Smooth the order' }).click();
  const draft = page.getByRole('region', { name: 'Draft of the order' });
  await expect(draft).toContainText('2 pinned stay');
  // Only looked at so far.
  expect(order(await now())).toEqual(order(given));
  const drawn = await entries(page).evaluateAll((rows) => rows.map((r) => r.getAttribute('data-entry')));
  for (const scheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme: scheme });
    await expect(page.locator('[data-sonner-toast]')).toHaveCount(0);
    const { violations } = await new AxeBuilder({ page: page as never }).analyze();
    expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  }
  await draft.getByRole('button', { name: 'Apply' }).click();
  const smoothed = await settled(now, (l) => order(l).join() !== order(given).join());
  expect(smoothed.entries.map((e) => e.entryId)).toEqual(drawn);
  for (const place of [0, 4]) expect(smoothed.entries[place]!.id).toBe(given.entries[place]!.id);
  expect(cost(smoothed, 'rising')).toBeLessThan(cost(given, 'rising'));
  await expect(draft).toBeHidden();

  await page.getByRole('button', { name: 'Export…' }).click();
  await expect(page.getByLabel('Preview')).toContainText('#EXTM3U');
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Download / }).click();
  const file = join(app.folder, 'late.m3u8');
  await (await downloading).saveAs(file);
  const paths = readFileSync(file, 'utf8')
    .split('\n')
    .filter((l) => l && !l.startsWith('#'));
  expect(paths).toEqual(smoothed.entries.map((e) => join(app.music, String(e.values.path))));
  await page.keyboard.press('Escape');

  await page.locator('#list-entries').focus();
  await page.keyboard.press('Control+z');
  expect(order(await settled(now, (l) => order(l).join() !== order(smoothed).join()))).toEqual(order(given));
  expect(errors).toEqual([]);
});

test('by keys alone: shape, suggestion, pin, smoothing of what is chosen', async ({ page }) => {
  const errors = watchErrors(page);
  const now = await playlist('Skerry at ten', 6);
  await page.goto(`${app.address}/arrange/${(await now()).id}`);
  await expect(page.locator('#list-entries')).toBeFocused();
  const action = async (name: string): Promise<void> => {
    await page.keyboard.press('Control+k');
    await page.keyboard.type(name);
    await page.keyboard.press('Enter');
  };
  await action('wished shape two waves');
  await settled(now, (l) => l.info.shape === 'two waves');
  await expect(page.getByRole('button', { name: /^Wished shape: two waves/i })).toBeVisible();
  await expect(page.locator('#list-entries')).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('i');
  await settled(now, (l) => l.entries[0]!.data.pinned === true);
  await page.keyboard.press('f');
  await expect(page.locator('[data-follower]').first()).toBeFocused();
  await page.keyboard.press('ArrowDown');
  const before = (await now()).entries.length;
  // Ranked anew meanwhile, the one in hand stays in hand.
  const second = Number(await page.locator('[data-follower]:focus').getAttribute('data-follower'));
  await page.keyboard.press('Enter');
  const filled = await settled(now, (l) => l.entries.length === before + 1);
  expect(order(filled)[1]).toBe(second);
  await action('smooth the order');
  await expect(page.getByRole('region', { name: 'Draft of the order' })).toBeVisible();
  await action('apply the order');
  const smoothed = await settled(now, (l) => order(l).join() !== order(filled).join());
  expect(order(smoothed)[0]).toBe(order(filled)[0]);
  expect(cost(smoothed, 'two waves')).toBeLessThan(cost(filled, 'two waves'));

  // A point of the wished shape is moved by keys, and its place is kept as drawn by hand.
  const point = page.getByRole('slider', { name: /^Wished energy at 32 %/ });
  await point.focus();
  await page.keyboard.press('ArrowUp');
  expect((await settled(now, (l) => l.info.shape !== 'two waves')).info.shape).toContain('0.32 77');
  await expect(page.getByRole('button', { name: 'Wished shape: drawn by hand' })).toBeVisible();
  expect(errors).toEqual([]);
});

test('a list by somebody else: pasted, one line looked at, what is not here an open slot; undone', async ({ page }) => {
  const errors = watchErrors(page);
  const { rows } = await app.get<SheetPage>(`/tracks?where=${HOUSE}&sort=title&limit=2`);
  const named = rows.map((r) => `${(r.values.artist as string[])[0]} - ${String(r.values.title)}`);
  await page.goto(`${app.address}/arrange`);
  await page.getByRole('button', { name: 'Paste a list' }).click();
  await page.getByLabel('The list as text').fill(`1. ${named[0]}\n2. ${named[1]!.toUpperCase()}\nNobody - Not here`);
  await page.getByRole('button', { name: 'Match', exact: true }).click();
  await expect(page.getByText('2 tracks, 1 open slot')).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('From a friend');
  await page
    .getByLabel(/^Track for /)
    .nth(1)
    .selectOption({ index: 0 });
  await page
    .getByLabel(/^Track for /)
    .nth(1)
    .selectOption({ index: 1 });
  const { violations } = await new AxeBuilder({ page: page as never }).include('[role="dialog"]').analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  await page.getByRole('button', { name: 'Make the playlist' }).click();
  await expect(page.getByRole('heading', { name: 'From a friend' })).toBeVisible();
  await expect(entries(page)).toHaveCount(3);
  await expect(entries(page).nth(2)).toContainText('Open slot: Nobody - Not here');
  const { id } = (await app.get<ListLine[]>('/lists')).find((l) => l.name === 'From a friend')!;
  expect(order(await app.get<ListContents>(`/lists/${id}`))).toEqual([rows[0]!.id, rows[1]!.id, 0]);
  await page.locator('#list-entries').focus();
  await page.keyboard.press('Control+z');
  await settled(
    () => app.get<ListLine[]>('/lists'),
    (all) => all.every((l) => l.name !== 'From a friend'),
  );
  expect(errors).toEqual([]);
});

test('the list of another one changed meanwhile: the draft is gone, nothing is lost', async ({ page }) => {
  const now = await playlist('Two at a desk', 6);
  const list = await now();
  await page.goto(`${app.address}/arrange/${list.id}`);
  await expect(entries(page)).toHaveCount(6);
  await page.getByRole('button', { name: 'Smooth the order' }).click();
  const draft = page.getByRole('region', { name: 'Draft of the order' });
  await expect(draft).toBeVisible();
  await app.post(`/lists/${list.id}/entries/remove`, { entryIds: [list.entries[2]!.entryId] });
  await expect(draft).toBeHidden();
  await expect(entries(page)).toHaveCount(5);
  expect((await now()).entries.map((e) => e.entryId)).toEqual(
    list.entries.filter((_, i) => i !== 2).map((e) => e.entryId),
  );
});

test('a crate that fills itself: made from filters, follows an edit and its undo, frozen, back to filters', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const house = async (): Promise<SheetPage> => app.get<SheetPage>(`/tracks?where=${HOUSE}&limit=500&sort=title`);
  const before = await house();
  const { rows: others } = await app.get<SheetPage>(
    `/tracks?limit=1&where=${encodeURIComponent(JSON.stringify({ field: 'genre', test: 'one of', values: ['Techno'] }))}`,
  );
  await page.goto(`${app.address}/tracks?genre=House`);
  await page.getByRole('button', { name: 'Save as crate' }).click();
  await expect(page.getByTestId('rule-count')).toHaveText(`${before.total} tracks`);
  const scan = await new AxeBuilder({ page }).include('[role=dialog]').analyze();
  expect(scan.violations.map((v) => v.id)).toEqual([]);
  await page.getByRole('button', { name: 'Make the crate' }).click();
  await expect(page.getByTestId('rule-words')).toContainText('Genre House');
  await expect(entries(page)).toHaveCount(before.total);
  const line = page.getByRole('treeitem', { name: 'House' });
  await expect(line).toContainText(String(before.total));

  // An edit elsewhere puts a track in; undo takes it out again.
  await app.post('/fields', { selection: { ids: [others[0]!.id] }, field: 'genre', value: ['House'] });
  await expect(entries(page)).toHaveCount(before.total + 1);
  await expect(line).toContainText(String(before.total + 1));
  await page.keyboard.press('Control+z');
  await expect(entries(page)).toHaveCount(before.total);

  // Other conditions, by keyboard; then frozen, and the freezing undone.
  await page.getByRole('button', { name: 'Edit conditions' }).click();
  await page.getByRole('button', { name: 'Condition', exact: true }).focus();
  await page.keyboard.press('Enter');
  await page.getByLabel('What', { exact: true }).last().selectOption('bpm');
  await page.getByLabel('From', { exact: true }).fill('120');
  const fast = (await house()).rows.filter((r) => Number(r.values.bpm) >= 120).length;
  await expect(page.getByTestId('rule-count')).toHaveText(`${fast} tracks`);
  await page.keyboard.press('Enter');
  await expect(entries(page)).toHaveCount(fast);
  await page.getByRole('button', { name: 'Freeze' }).click();
  await expect(page.getByTestId('rule-words')).toBeHidden();
  await expect(entries(page)).toHaveCount(fast);
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('rule-words')).toContainText('BPM at least 120');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('rule-words')).not.toContainText('BPM');
  await page.getByRole('link', { name: 'Open in Tracks' }).click();
  await expect(page.getByTestId('matching')).toHaveText(String(before.total));
  await expect(page.getByRole('button', { name: 'Take off the filter House' })).toBeVisible();
  expect(errors).toEqual([]);
});

test('crates fold in the tree, and a list is found by a track that it holds', async ({ page }) => {
  const errors = watchErrors(page);
  const { rows } = await app.get<SheetPage>('/tracks?limit=1&sort=title');
  const make = async (name: string, parentId: string | null): Promise<string> =>
    (await app.post<{ listId: string }>('/lists', { kind: 'crate', name, parentId, selection: { ids: [rows[0]!.id] } }))
      .listId;
  const outer = await make('Outer', null);
  await page.goto(`${app.address}/arrange/${await make('Inner', outer)}`);
  const inner = page.getByRole('treeitem', { name: 'Inner' });
  await expect(inner).toBeVisible();
  await page.getByRole('button', { name: 'Fold Outer' }).click();
  await expect(inner).toBeHidden();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Unfold Outer' })).toBeVisible();
  await expect(inner).toBeHidden();
  await page.getByLabel('Find a crate or playlist').fill(String(rows[0]!.values.title));
  await expect(inner).toContainText('1 of 1');
  expect(errors).toEqual([]);
});
