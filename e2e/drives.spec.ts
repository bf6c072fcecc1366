/** A drive that goes away and comes back in another place: on screen, in the lists, and on the disk. */
import { expect, test, type Page } from '@playwright/test';
import { existsSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { ListContents, Overview, SheetPage } from '@early-set/core/api/types';
import { freshFolder, settled, startApp, watchErrors, withDemo, type App } from './app.ts';

const missing = async (app: App): Promise<number> =>
  (
    await app.get<SheetPage>(
      `/tracks?where=${encodeURIComponent(JSON.stringify({ field: 'fileState', test: 'one of', values: ['missing'] }))}`,
    )
  ).total;
const scanAgain = (page: Page): Promise<void> => page.getByRole('button', { name: 'Scan again' }).click();

test('a drive that is away loses nothing; its new path brings everything back; what is really gone is said', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const errors = watchErrors(page);
  const { folder, remove } = freshFolder('drive');
  withDemo(folder);
  const app = await startApp(folder, [], { EARLY_SET_PLACES: join(folder, 'demo') });
  await app.post('/roots', { path: app.music, measure: false });
  const { tracks } = await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.tracks >= 30,
  );
  const { rows } = await app.get<SheetPage>('/tracks?limit=500&sort=path');
  const { listId } = await app.post<{ listId: string }>('/lists', {
    kind: 'playlist',
    name: 'Slipway',
    selection: { ids: rows.slice(0, 4).map((r) => r.id) },
  });
  const listed = (await app.get<ListContents>(`/lists/${listId}`)).entries.map((e) => e.entryId);

  const elsewhere = join(folder, 'demo/elsewhere');
  renameSync(app.music, elsewhere);
  await page.goto(`${app.address}/intake`);
  await scanAgain(page);
  await expect(page.getByText('Drive not there')).toBeVisible();
  await expect(page.getByText('No track was marked as missing')).toBeVisible();
  expect(await missing(app)).toBe(0);
  if (process.env.EARLY_SET_LOOK) await page.screenshot({ path: join(process.env.EARLY_SET_LOOK, 'drive-away.png') });

  await page.getByRole('button', { name: 'It is somewhere else…' }).click();
  await page.getByRole('list', { name: 'Places' }).getByRole('button', { name: 'demo', exact: true }).click();
  await page.getByRole('list', { name: 'Folders inside' }).getByRole('button', { name: 'elsewhere' }).click();
  if (process.env.EARLY_SET_LOOK) await page.screenshot({ path: join(process.env.EARLY_SET_LOOK, 'drive-where.png') });
  await page.getByRole('button', { name: 'It is this folder' }).click();
  await expect(page.getByText('Drive not there')).toBeHidden();
  await settled(
    () => app.get<SheetPage>('/tracks?limit=500&sort=path'),
    (sheet) => sheet.rows.every((r) => r.values.fileState === 'here'),
  );
  const back = await app.get<SheetPage>('/tracks?limit=500&sort=path');
  expect(back.rows.map((r) => [r.id, r.values.path])).toEqual(rows.map((r) => [r.id, r.values.path]));
  expect((await app.get<ListContents>(`/lists/${listId}`)).entries.map((e) => e.entryId)).toEqual(listed);
  expect(existsSync(join(elsewhere, String(rows[0]!.values.path)))).toBe(true);
  const sound = await fetch(`${app.address}/api/tracks/${rows[0]!.id}/audio`, { headers: { Range: 'bytes=0-9' } });
  expect(sound.status).toBe(206);

  for (const name of readdirSync(elsewhere)) rmSync(join(elsewhere, name), { recursive: true });
  await scanAgain(page);
  await expect(page.getByText('Drive not there')).toBeVisible();
  await page.getByRole('button', { name: 'The files are gone' }).click();
  await expect(page.getByRole('link', { name: `${tracks} missing`, exact: true })).toBeVisible();
  await expect(page.getByText('Drive not there')).toBeHidden();
  expect(await missing(app)).toBe(tracks);
  expect((await app.get<ListContents>(`/lists/${listId}`)).entries.map((e) => e.entryId)).toEqual(listed);
  expect(errors).toEqual([]);
  await app.stop();
  remove();
});
