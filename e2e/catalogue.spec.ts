/**
 * Looking up in the catalogue on the real application: an album compared, a line moved, taken, in the files, taken
 * back; and when the index is down.
 */
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import type { Lookup } from '@early-set/core/api/catalogue';
import { startWhimbrel, DEFAULT_MOOD, type Whimbrel } from '../standins/whimbrel/service.ts';
import { demoMusic, settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let whimbrel: Whimbrel;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  whimbrel = await startWhimbrel({
    recordingsFile: join(demoMusic(), 'recordings.jsonl'),
    mood: { ...DEFAULT_MOOD, limit: 200, slowEvery: 0, downEvery: 0 },
  });
  ({ app, end } = await startDemo(() => 0, { EARLY_SET_CATALOGUE_URL: whimbrel.address }));
});
test.afterAll(async () => {
  await end?.();
  await whimbrel.stop();
});

const LIVE = 'Albums/Net Loft Seven - Live at the Net Loft/01 Lee Side of the Pier.flac';
const tags = (path: string): string =>
  spawnSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_format', join(app.music, path)], { encoding: 'utf8' })
    .stdout;
const control = (mood: object): Promise<unknown> =>
  fetch(`${whimbrel.address}/control`, { method: 'POST', body: JSON.stringify(mood) });

test('an album: found whole with its versions, a line moved by hand, taken, in the files, undone', async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto(`${app.address}/clean`);
  await page.getByRole('button', { name: 'Catalogue' }).click();
  await page.getByRole('button', { name: 'Look up…' }).first().click();
  await page.getByRole('button', { name: 'Look up', exact: true }).click();
  const groups = page.getByRole('list', { name: 'Groups' });
  await groups.getByRole('button', { name: /Live at the Net Loft/ }).click({ timeout: 60_000 });
  await expect(page.getByText(/^took \d+ s/)).toBeVisible({ timeout: 60_000 });
  const versions = page.getByRole('grid', { name: 'Releases it may be' });
  await expect(versions.locator('[data-release]')).not.toHaveCount(1);
  await expect(versions.locator('[aria-selected="true"]')).toHaveCount(1);
  const lines = page.getByRole('grid', { name: 'Tracks of the release' });
  await expect(lines.locator('[data-line="0"]')).toContainText('01 Lee Side of the Pier.flac');
  const inspector = page.getByRole('complementary', { name: 'What would be applied' });
  await expect(inspector).toContainText('4 of 4 tracks are matched');
  for (const colorScheme of ['dark', 'light'] as const) {
    await page.emulateMedia({ colorScheme });
    const { violations } = await new AxeBuilder({ page }).analyze();
    expect(
      violations.map(
        (v) =>
          `${v.id}: ${v.nodes
            .slice(0, 3)
            .map((n) => n.html.slice(0, 160))
            .join(' | ')}`,
      ),
    ).toEqual([]);
  }

  // Two tracks change places, and back again.
  await lines.getByLabel('Matched track of Lee Side of the Pier (Live)').selectOption({ label: '2' });
  await expect(lines.locator('[data-line="1"]')).toContainText('01 Lee Side of the Pier.flac');
  await expect(lines.locator('[data-line="0"]')).toContainText('02 Coal Boat.flac');
  const handle = lines.getByRole('button', { name: 'Move Lee Side of the Pier (Live)' });
  await handle.hover();
  await page.mouse.down();
  const target = (await lines.locator('[data-line="0"]').boundingBox())!;
  await page.mouse.move(target.x + 300, target.y + target.height / 2, { steps: 8 });
  await page.mouse.up();
  await expect(lines.locator('[data-line="0"]')).toContainText('01 Lee Side of the Pier.flac');

  await inspector.getByLabel('What is applied of Title').selectOption('replace');
  await page.getByTestId('draft-card').getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText(/^From the catalogue: Net Loft Seven/)).toBeVisible();
  await settled(
    () => Promise.resolve(tags(LIVE)),
    (said) => said.includes('Harbour Hall') && said.includes(': "Lee Side of the Pier"'),
  );
  await page.keyboard.press('Control+z');
  await settled(
    () => Promise.resolve(tags(LIVE)),
    (said) => !said.includes('Harbour Hall') && said.includes('Lee Side of the Pier (Live)'),
  );
  expect(errors).toEqual([]);
});

test('by sound: what has no tags is named by how it sounds; all that is sure is seen before it is taken', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await page.goto(`${app.address}/clean/catalogue`);
  await page.getByRole('button', { name: 'Look up…' }).first().click();
  const dialog = page.getByRole('dialog', { name: 'Look up in the catalogue' });
  await dialog.getByRole('button', { name: /^Which tracks/ }).click();
  await page.getByLabel('Find a folder, crate or playlist').fill('Rips/Salt');
  await page.getByRole('button', { name: /^Rips\/Salt/ }).click();
  await dialog.getByText('By sound').click();
  await dialog.getByRole('button', { name: 'Look up', exact: true }).click();
  await expect(page.getByRole('complementary', { name: 'What would be applied' })).toContainText(
    /it sounds like it: \d+ % alike/,
    { timeout: 60_000 },
  );
  await page.getByRole('button', { name: /^Apply all 1 found/ }).click();
  const all = page.getByRole('dialog', { name: 'Apply all that was found' });
  await expect(all).toContainText('Salt on the Fader');
  await all.getByRole('button', { name: 'Apply to 1 track' }).click();
  await settled(
    () => Promise.resolve(tags('Rips/Salt/A2 salt on the fader.wav')),
    (said) => said.includes('Keel Nine'),
  );
  expect(errors).toEqual([]);
});

test('when the index is down it is said, and what was not asked is asked again later', async ({ page }) => {
  const errors = watchErrors(page);
  await control({ down: true });
  await page.goto(`${app.address}/clean/catalogue`);
  const started = await app.post<{ id: number; runId: number }>('/lookups', {
    selection: {
      where: { field: 'artist', test: 'one of', values: ['Lorne & Daughter', 'Marrow & Pine', 'Pell & Harrow'] },
      except: [],
    },
    how: 'sound',
    fill: { fields: ['label'], clear: false },
  });
  await page.goto(`${app.address}/clean/catalogue?lookup=${started.id}`);
  await expect(page.getByRole('status').filter({ hasText: /The catalogue is down; waiting/ })).toBeVisible({
    timeout: 30_000,
  });
  await app.post(`/runs/${started.runId}/cancel`);
  await expect(page.getByRole('button', { name: /^Search again for/ })).toBeVisible({ timeout: 30_000 });
  await control({ down: false });
  await page.getByRole('button', { name: /^Search again for/ }).click();
  await settled(
    () => app.get<Lookup>(`/lookups/${started.id}`),
    (l) => !l.running && l.groups.some((g) => g.state === 'found'),
    60_000,
  );
  await expect(page.getByText(/can be filled/)).toBeVisible();
  expect(errors).toEqual([]);
});
