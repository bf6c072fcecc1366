/** The library goes to another computer, whose folders lie elsewhere and where a file has moved meanwhile. */
import { expect, test, type Page } from '@playwright/test';
import { cpSync, mkdirSync, readdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import type { NotFound } from '@early-set/core/api/disk';
import type { ListContents, ListLine, Overview, RunProgress, SheetPage } from '@early-set/core/api/types';
import { freshFolder, settled, startApp, startDemo, type App } from './app.ts';

let here: App;
let end: () => Promise<void>;
const other = freshFolder('other');
const drive = freshFolder('drive');
let there: App | undefined;
test.beforeAll(async () => {
  ({ app: here, end } = await startDemo(() => 0, { EARLY_SET_PLACES: drive.folder }));
});
test.afterAll(async () => {
  await there?.stop();
  await end?.();
  other.remove();
  drive.remove();
});

async function chooseFolder(page: Page, button: string, folder: string): Promise<void> {
  await page.getByRole('button', { name: button }).click();
  const path = page.getByLabel('Path; Enter goes there');
  await path.fill(folder);
  await path.press('Enter');
  await page.getByRole('button', { name: 'Use this folder' }).click();
}
const tracksOf = async (app: App): Promise<Record<string, unknown>[]> =>
  (await app.get<SheetPage>('/tracks?limit=200&sort=path')).rows.map(({ id, values }) => ({ id, ...values }));

test('a bundle is made, read on a desk with other paths, and what moved is found by its sound', async ({ page }) => {
  const { rows } = await here.get<SheetPage>('/tracks?limit=3&sort=title');
  const ids = rows.map(({ id }) => id);
  await here.post('/lists', { kind: 'playlist', name: 'Boathouse, Friday', selection: { ids } });
  await here.post('/fields', { selection: { ids: [ids[0]] }, field: 'comment', value: 'opens the night' });
  // The file is written before anything is copied.
  await settled(
    () => here.get<Overview>('/overview'),
    ({ unwritten }) => unwritten === 0,
  );

  await page.goto(`${here.address}/bundles`);
  await chooseFolder(page, 'Choose a folder…', drive.folder);
  await page.getByLabel('Name of the bundle').fill('For the laptop');
  await page.getByRole('button', { name: 'Make the bundle' }).click();
  await settled(
    () => Promise.resolve(readdirSync(drive.folder)),
    (names) => names.includes('For the laptop.zip'),
  );
  const told = await tracksOf(here);
  const lists = await here.get<ListLine[]>('/lists');

  // The other computer: its music lies elsewhere, and one file has another name and place by now.
  const music = join(drive.folder, 'Tunes');
  cpSync(here.music, music, { recursive: true, preserveTimestamps: true });
  const moved = String(told.find(({ title }) => title === rows[1]!.values.title)!.path);
  mkdirSync(join(music, 'sorted'));
  renameSync(join(music, moved), join(music, 'sorted', `another name.${moved.split('.').at(-1)}`));
  there = await startApp(other.folder, [], { EARLY_SET_PLACES: drive.folder });
  await page.goto(`${there.address}/bundles?part=read`);
  await chooseFolder(page, 'Choose a folder…', drive.folder);
  await page.getByRole('button', { name: /^For the laptop\.zip/ }).click();
  await chooseFolder(page, 'Another folder for Demo music', music);
  await page.getByRole('button', { name: 'Read the bundle' }).click();
  const after = page.getByRole('complementary', { name: 'After reading' });
  await expect(after.getByText('Library folders are here')).toBeVisible({ timeout: 60_000 });

  // It is measured already, and says what it said.
  const second = there;
  await settled(
    async () => {
      const { tracks, measured, onDisk } = await second.get<Overview>('/overview');
      // What is under way says what a test waits for in vain.
      const runs = (await second.get<RunProgress[]>('/runs')).map(({ title, state, done, total }) => [
        ...[title, state, done, total],
      ]);
      const states = (await tracksOf(second)).map(({ analysisState, fileState }) => `${analysisState} ${fileState}`);
      return { tracks, measured, missing: onDisk.missing, runs, states };
    },
    (o) => o.tracks === told.length + 1 && o.measured === o.tracks && o.missing === 1,
  );
  const known = await tracksOf(second);
  for (const track of told.filter(({ path: at }) => at !== moved))
    expect(known.find(({ id }) => id === track.id)).toMatchObject({ ...track, fileState: 'here' });
  expect((await second.get<ListLine[]>('/lists')).map(({ name }) => name).sort()).toEqual(
    lists.map(({ name }) => name).sort(),
  );
  const { id } = lists.find(({ name }) => name === 'Boathouse, Friday')!;
  expect((await second.get<ListContents>(`/lists/${id}`)).entries).toHaveLength(3);
  // Nothing but the step with the missing file, and the backup, is left; and it is known where it went.
  await expect(after.getByRole('listitem').filter({ hasText: 'Files are found' })).toContainText(/of/);
  await settled(
    () => second.get<NotFound>('/disk/not-found'),
    ({ lines }) => lines.length === 1,
  );
  await after.getByRole('link', { name: 'Files are found' }).click();
  await page.getByRole('button', { name: 'Find again' }).click();
  await expect(page.getByText('another name').first()).toBeVisible();
  await page.getByRole('button', { name: /^Apply/ }).click();
  await settled(
    () => tracksOf(second),
    (tracks) => tracks.length === told.length && tracks.every(({ fileState }) => fileState === 'here'),
  );

  await page.goto(`${second.address}/bundles?part=read`);
  await after.getByRole('link', { name: 'A first backup is made' }).click();
  await page.getByRole('button', { name: 'Back up now' }).click();
  await expect(page.locator('[data-backup]')).toHaveCount(1, { timeout: 60_000 });
  await page.goto(`${second.address}/bundles?part=read`);
  await expect(after.getByRole('listitem').filter({ hasText: 'A first backup' }).getByLabel('Done')).toBeVisible();
});

test('a later bundle beside the library that is there by now: compared, one side chosen, taken over, undone', async ({
  page,
}) => {
  const second = there!;
  const { rows } = await here.get<SheetPage>('/tracks?limit=4&sort=title');
  const [, , third, fourth] = rows.map(({ id }) => id) as [number, number, number, number];
  const nameOf = (id: number): string => String(rows.find((row) => row.id === id)!.values.title);
  await here.post('/fields', { selection: { ids: [third] }, field: 'notes', value: 'only after midnight' });
  await here.post('/fields', { selection: { ids: [fourth] }, field: 'comment', value: 'said in the loft' });
  await second.post('/fields', { selection: { ids: [fourth] }, field: 'comment', value: 'said on the laptop' });
  await here.post('/lists', { kind: 'playlist', name: 'Saturday', selection: { ids: [third, fourth] } });
  for (const app of [here, second])
    await settled(
      () => app.get<Overview>('/overview'),
      ({ unwritten }) => unwritten === 0,
    );

  await page.goto(`${here.address}/bundles`);
  await chooseFolder(page, 'Choose a folder…', drive.folder);
  await page.getByLabel('Name of the bundle').fill('Later');
  await page.getByRole('checkbox', { name: /^Music files/ }).check();
  await page.getByRole('button', { name: 'Make the bundle' }).click();
  await settled(
    () => Promise.resolve(readdirSync(drive.folder)),
    (names) => names.includes('Later'),
  );

  await page.goto(`${second.address}/bundles?part=read`);
  await chooseFolder(page, 'Choose a folder…', drive.folder);
  await page.getByRole('button', { name: /^Later/ }).click();
  await page.getByRole('button', { name: 'Compare with the library' }).click();
  await expect(page.getByRole('heading', { name: 'Later' })).toBeVisible();
  const line = (name: string): ReturnType<typeof page.locator> => page.locator(`[data-line="${name}"]`);
  await expect(line(`${nameOf(third)}: Notes`)).toContainText('only after midnight');
  await expect(line('Saturday: List')).toContainText('made here');
  const comment = line(`${nameOf(fourth)}: Comment`);
  await expect(comment).toContainText('said on the laptop');
  await comment.getByRole('button', { name: 'there' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  const valuesOf = async (id: number): Promise<Record<string, unknown>> =>
    (await tracksOf(second)).find((track) => track.id === id)!;
  await settled(
    () => valuesOf(fourth),
    ({ comment: said }) => said === 'said in the loft',
  );
  expect(await valuesOf(third)).toMatchObject({ notes: 'only after midnight' });
  const names = async (): Promise<string[]> => (await second.get<ListLine[]>('/lists')).map(({ name }) => name);
  expect(await names()).toContain('Saturday');
  await expect(page.getByText('Later and this desk say the same')).toBeVisible();

  await second.post('/undo', {});
  expect(await valuesOf(fourth)).toMatchObject({ comment: 'said on the laptop' });
  expect((await valuesOf(third)).notes).toBeUndefined();
});
