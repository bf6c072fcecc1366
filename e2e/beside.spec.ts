/** Two lists side by side: tracks are dragged across both ways, and put in by key; each is a change with undo. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Locator, type Page } from '@playwright/test';
import type { ListContents, SheetPage } from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

async function drag(page: Page, from: Locator, to: Locator): Promise<void> {
  const [a, b] = [(await from.boundingBox())!, (await to.boundingBox())!];
  await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2);
  await page.mouse.down();
  await page.mouse.move(a.x + a.width / 2 - 12, a.y + a.height / 2, { steps: 4 });
  await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2, { steps: 12 });
  await page.mouse.up();
}

test('tracks go across by dragging, and by key behind the one in hand', async ({ page }) => {
  const errors = watchErrors(page);
  const { rows } = await app.get<SheetPage>('/tracks?sort=title&limit=7');
  const make = async (kind: string, name: string, from: number, to: number): Promise<string> =>
    (
      await app.post<{ listId: string }>('/lists', {
        kind,
        name,
        selection: { ids: rows.slice(from, to).map((r) => r.id) },
      })
    ).listId;
  const main = await make('playlist', 'Tonight', 0, 4),
    pool = await make('crate', 'Pool', 4, 7);
  const now = (id: string) => async (): Promise<number[]> =>
    (await app.get<ListContents>(`/lists/${id}`)).entries.map((e) => rows.findIndex((r) => r.id === e.id));

  await page.goto(`${app.address}/arrange/${main}`);
  await page.getByRole('button', { name: 'Actions for Pool' }).click();
  await page.getByRole('menuitem', { name: 'Open beside' }).click();
  const beside = page.getByRole('region', { name: 'Beside: Pool' });
  await expect(beside.locator('[data-beside]')).toHaveCount(3);
  const { violations } = await new AxeBuilder({ page: page as never }).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);

  // From the crate into the playlist, before its third entry.
  const handles = beside.getByRole('button', { name: /^Move / });
  await drag(page, handles.nth(1), page.locator('[data-entry]').nth(2));
  await settled(now(main), (l) => l.length === 5);
  expect(await now(main)()).toEqual([0, 1, 5, 2, 3]);
  expect(await now(pool)()).toEqual([4, 5, 6]);

  // From the playlist into the crate.
  const own = page.locator('#list-entries').getByRole('button', { name: /^Move / });
  await drag(page, own.nth(0), beside.getByText('Drop here to put it at the end'));
  await settled(now(pool), (l) => l.length === 4);
  expect(await now(pool)()).toEqual([4, 5, 6, 0]);
  expect(await now(main)()).toEqual([0, 1, 5, 2, 3]);

  // By key, behind the one in hand; the order of the playlist itself is dragged as before.
  await page.locator('[data-entry]').nth(0).click();
  await beside.locator('[data-beside]').nth(2).click();
  await page.keyboard.press('Enter');
  await settled(now(main), (l) => l.length === 6);
  expect(await now(main)()).toEqual([0, 6, 1, 5, 2, 3]);
  await drag(page, own.nth(0), page.locator('[data-entry]').nth(1));
  await settled(now(main), (l) => l[0] === 6);
  await page.keyboard.press('Control+z');
  await settled(now(main), (l) => l[0] === 0);

  // Another list in hand: the one beside stays.
  await page.getByRole('button', { name: 'Close the list beside' }).click();
  await expect(beside).toHaveCount(0);
  expect(errors).toEqual([]);
});
