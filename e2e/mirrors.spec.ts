/** A folder mirror on real folders: made, followed through a rename on the disk, taken apart; by mouse and by keys. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { readdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import type { ListLine, RootLine, RunProgress } from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

const lists = () => app.get<ListLine[]>('/lists');
const lines = (page: Page) => page.getByRole('tree', { name: 'Crates' }).getByRole('treeitem');

test('made from a folder, follows a rename with the next scan, undone, taken apart', async ({ page }) => {
  const errors = watchErrors(page);
  const crates = join(app.music, 'Crates');
  const folders = readdirSync(crates).sort();
  await page.goto(`${app.address}/arrange`);
  await page.getByRole('button', { name: 'New folder mirror' }).click();
  const dialog = page.getByRole('dialog', { name: 'New folder mirror' });
  const folder = dialog.getByRole('combobox').first();
  const option = folder.locator('option', { hasText: /^Crates \(/ });
  await folder.selectOption((await option.getAttribute('value'))!);
  await dialog.getByRole('button', { name: 'Make the crates' }).click();
  await expect(page.getByTestId('mirrored')).toContainText('Demo music / Crates');
  await expect(lines(page)).toHaveCount(folders.length + 1);
  const { violations } = await new AxeBuilder({ page: page as never }).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);

  const house = (await lists()).find((l) => l.name === 'House' && l.mirrorOf)!;
  await lines(page).filter({ hasText: 'House' }).locator('[data-line]').click();
  await expect(page.locator('[data-entry]')).toHaveCount(house.tracks);

  // Renamed behind the desk's back.
  renameSync(join(crates, 'House'), join(crates, 'Deep and slow'));
  const [root] = await app.get<RootLine[]>('/roots');
  const { runId } = await app.post<{ runId: number }>(`/roots/${root!.id}/scan`);
  await settled(
    () => app.get<RunProgress[]>('/runs'),
    (runs) => runs.find((r) => r.id === runId)?.state === 'done',
  );
  // What a crate that fills itself counts comes a moment behind its name.
  await settled(lists, (all) =>
    all.some((l) => l.id === house.id && l.name === 'Deep and slow' && l.tracks === house.tracks),
  );
  await expect(page.getByTestId('mirrored')).toContainText('Crates / Deep and slow');
  await expect(page.locator('[data-entry]')).toHaveCount(house.tracks);
  await page.goto(`${app.address}/intake`);
  await expect(page.getByText(`${folders.length} found, 0 new, 1 moved, 0 gone`).first()).toBeVisible();

  await page.goto(`${app.address}/arrange/${house.id}`);
  await page.getByRole('button', { name: 'Update now' }).click();
  await expect(page.getByText(/^Up to date: /)).toBeVisible();
  // By keys: the list of actions takes it apart, and undo puts it together again.
  await page.keyboard.press('Control+k');
  await page.keyboard.type('take the folder mirror');
  await page.keyboard.press('Enter');
  await settled(lists, (all) => all.every((l) => !l.mirrorOf));
  expect((await lists()).find((l) => l.id === house.id)).toMatchObject({ rule: null, tracks: house.tracks });
  await page.keyboard.press('Control+z');
  await settled(lists, (all) => all.some((l) => l.mirrorOf));
  expect(errors).toEqual([]);
});
