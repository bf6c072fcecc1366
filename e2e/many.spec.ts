import { expect, test, type Locator } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ListContents, Overview, SheetPage } from '@early-set/core/api/types';
import { freshFolder, settled, startApp, type App } from './app.ts';

let app: App;
let remove: () => void;
test.beforeAll(async () => {
  test.setTimeout(240_000);
  const fresh = freshFolder('many');
  remove = fresh.remove;
  app = await startApp(fresh.folder, ['--demo', '--many']);
});
test.afterAll(async () => {
  await app?.stop();
  remove?.();
});

/** Wheels as a hand does, 100 turns of three rows; counts blank rows in sight after each painted frame. */
async function blanksInSight(table: Locator): Promise<number> {
  await table.hover();
  return table.evaluate(async (node) => {
    let seen = 0;
    for (let i = 0; i < 100; i++) {
      node.scrollBy(0, 93);
      await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
      const box = node.getBoundingClientRect();
      for (const blank of node.querySelectorAll('[data-blank]')) {
        const b = blank.getBoundingClientRect();
        if (b.bottom > box.top && b.top < box.bottom) seen++;
      }
    }
    return seen;
  });
}

test('100,000 tracks scroll without blank rows, select as one, and narrow at once', async ({ page }) => {
  expect((await app.get<Overview>('/overview')).tracks).toBeGreaterThanOrEqual(100_000);
  await page.goto(`${app.address}/tracks?sort=title:asc`);
  const sheet = page.locator('#sheet');
  await expect(page.locator('[data-track]').first()).toBeVisible();
  expect(await blanksInSight(sheet)).toBe(0);
  // While the scroll bar is dragged, it says where one is.
  const places = await sheet.evaluate(async (node) => {
    const seen = new Set<string>();
    for (let i = 0; i < 30; i++) {
      node.scrollTop += node.scrollHeight / 40;
      await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
      seen.add(document.querySelector('[data-testid="scroll-place"] p')?.textContent ?? '');
    }
    return [...seen].filter(Boolean);
  });
  expect(places.length).toBeGreaterThan(5);
  expect(places).toEqual([...places].sort());
  // A jump to the far end fills itself.
  await sheet.evaluate((node) => {
    node.scrollTop = node.scrollHeight;
  });
  await expect(page.locator('[data-track][aria-rowindex="100001"]')).toBeVisible();
  await expect(page.locator('[data-blank]')).toHaveCount(0);
  await sheet.focus();
  await page.keyboard.press('Control+a');
  await expect(page.getByText('100,000 chosen')).toBeVisible();
  const genres = page.getByRole('complementary', { name: 'Filters' }).getByRole('region', { name: 'Genre' });
  await genres.getByRole('button', { name: / more$/ }).click();
  await genres.getByRole('button', { name: /^Techno / }).click();
  await expect(page.getByRole('button', { name: 'Take off the filter Techno' })).toBeVisible();
  await expect(page.getByTestId('matching')).not.toHaveText('100,000');
});

test('a set of two hours: suggested, filled up, smoothed around two pins, exported; undone', async ({ page }) => {
  const { rows } = await app.get<SheetPage>('/tracks?sort=bpm&limit=1&offset=50000');
  const { listId } = await app.post<{ listId: string }>('/lists', {
    kind: 'playlist',
    name: 'Two hours',
    selection: { ids: [rows[0]!.id] },
  });
  const now = (): Promise<ListContents> => app.get<ListContents>(`/lists/${listId}`);
  await page.goto(`${app.address}/arrange/${listId}`);
  await page.getByRole('button', { name: 'Wished shape: none' }).click();
  await page.getByRole('menuitem', { name: 'Two waves' }).click();
  const entries = page.locator('[data-entry]');
  const suggestions = page.getByRole('list', { name: 'Tracks that could follow' });
  await entries.first().click();
  for (let i = 0; i < 3; i++) {
    // A click between two rankings meets a line that is just going, and adds nothing; and a line that comes under a
    // pointer at rest shows no button until that moves.
    await expect(async () => {
      await page.mouse.move(0, 0);
      await suggestions.getByRole('listitem').first().hover({ timeout: 3000 });
      await suggestions.getByRole('button', { name: /^Add / }).first().click({ timeout: 3000 });
      await expect.poll(async () => (await now()).entries.length, { timeout: 5000 }).toBeGreaterThan(i + 1);
    }).toPass();
  }
  // The page knows of all of them before it is asked to fill.
  await expect(page.getByText('4 tracks · ')).toBeVisible();
  const length = (l: ListContents): number => l.entries.reduce((s, e) => s + Number(e.values.durationSeconds), 0) / 60;
  const missing = Math.ceil(120 - length(await now()));
  await page.getByLabel('Minutes to fill').fill(String(missing));
  await page.getByRole('button', { name: 'Fill here' }).click();
  const filled = await settled(now, (l) => l.entries.length > 10);
  expect(Math.abs(length(filled) - 120)).toBeLessThan(3);
  expect(new Set(filled.entries.map((e) => e.id)).size).toBe(filled.entries.length);
  await expect(page.getByText(`${filled.entries.length} tracks · `)).toBeVisible();
  await page.locator('#list-entries').focus();
  await page.keyboard.press('Home');
  for (const place of [0, 3]) {
    await page.locator(`[data-entry="${filled.entries[place]!.entryId}"]`).click({ button: 'right' });
    await page.getByRole('menuitem', { name: /^Pin to its place/ }).click();
    await settled(now, (l) => l.entries[place]!.data.pinned === true);
  }
  await page.getByRole('button', { name: 'Smooth the order' }).click();
  const draft = page.getByRole('region', { name: 'Draft of the order' });
  await expect(draft).toContainText('2 pinned stay');
  // What counts is weighed otherwise: the draft is made anew.
  await draft.getByText('Counts for').click();
  await draft.getByLabel('Key', { exact: true }).fill('60');
  await expect(draft.getByRole('button', { name: 'Reset' })).toBeVisible();
  await expect(draft).toContainText('2 pinned stay');
  await draft.getByRole('button', { name: 'Apply' }).click();
  const ids = (l: ListContents): number[] => l.entries.map((e) => e.id);
  const smoothed = await settled(now, (l) => ids(l).join() !== ids(filled).join());
  for (const place of [0, 3]) expect(ids(smoothed)[place]).toBe(ids(filled)[place]);
  expect([...ids(smoothed)].sort()).toEqual([...ids(filled)].sort());

  await page.getByRole('button', { name: 'Export…' }).click();
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Download / }).click();
  const file = join(app.folder, 'two.m3u8');
  await (await downloading).saveAs(file);
  const lines = readFileSync(file, 'utf8').split('\n');
  expect(lines.filter((l) => l && !l.startsWith('#'))).toHaveLength(smoothed.entries.length);
  await page.keyboard.press('Escape');
  await page.locator('#list-entries').focus();
  await page.keyboard.press('Control+z');
  expect(ids(await settled(now, (l) => ids(l).join() !== ids(smoothed).join()))).toEqual(ids(filled));
});

test('a playlist of 20,000 entries scrolls without blank rows, and takes keys', async ({ page }) => {
  const { rows } = await app.get<SheetPage>('/tracks?sort=bpm&limit=2&offset=30000');
  const { listId } = await app.post<{ listId: string }>('/lists', {
    kind: 'playlist',
    name: 'Everything that is quick enough',
    selection: { where: { field: 'bpm', test: 'between', low: rows[0]!.values.bpm as number, high: 128 }, except: [] },
  });
  const { entries } = await app.get<ListContents>(`/lists/${listId}`);
  expect(entries.length).toBeGreaterThan(20_000);
  await page.goto(`${app.address}/arrange/${listId}`);
  await expect(page.locator('[data-entry]').first()).toBeVisible();
  const list = page.locator('#list-entries');
  expect(await blanksInSight(list)).toBe(0);
  await list.focus();
  await page.keyboard.press('End');
  await expect(page.locator(`[data-entry="${entries.at(-1)!.entryId}"]`)).toHaveAttribute('aria-selected', 'true');
  await page.screenshot({ path: 'test-results/many-entries.png' });
  // Moved up by a key, it is there at once.
  await page.keyboard.press('Alt+ArrowUp');
  const after = await settled(
    () => app.get<ListContents>(`/lists/${listId}`),
    (l) => l.entries.at(-1)!.entryId !== entries.at(-1)!.entryId,
  );
  expect(after.entries.at(-2)!.entryId).toBe(entries.at(-1)!.entryId);
});
