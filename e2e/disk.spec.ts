/**
 * Files moved, renamed and encoded anew outside are found again on the real application; lists hold, undo parts them.
 */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import type { Duplicates, NotFound, OutOfPlace } from '@early-set/core/api/disk';
import type { ListContents, Overview, RootLine, RunProgress, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

const notFound = () => app.get<NotFound>('/disk/not-found');
const track = (id: number) => app.get<TrackDetails>(`/tracks/${id}`);
const stage = (page: Page) => page.getByRole('link', { name: /^Disk/ });
const rows = (page: Page) => page.locator('[data-lost]');
const apply = (page: Page) =>
  page.getByRole('region', { name: 'Draft of what was found' }).getByRole('button', { name: 'Apply' }).click();

/** Reads the root again, and waits until what came is measured. */
async function scanned(): Promise<void> {
  const [root] = await app.get<RootLine[]>('/roots');
  const { runId } = await app.post<{ runId: number }>(`/roots/${root!.id}/scan`);
  await settled(
    () => app.get<RunProgress[]>('/runs'),
    (runs) => runs.find((r) => r.id === runId)?.state === 'done' && runs.every((r) => r.state !== 'running'),
  );
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.measured >= o.tracks - o.onDisk.missing,
  );
}

test('a folder renamed, a file renamed, one encoded anew: all are found, lists and cues stay, undo brings all back', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const errors = watchErrors(page);
  await page.goto(`${app.address}/disk`);
  await expect(page.getByText('Every file is where it should be')).toBeVisible();

  const house = join(app.music, 'Crates/House');
  const { rows: sheet } = await app.get<SheetPage>('/tracks?limit=500');
  const inHouse = sheet.filter((r) => String(r.values.path).startsWith('Crates/House/'));
  const files = inHouse.map((r) => basename(String(r.values.path))),
    ids = inHouse.map((r) => r.id);
  const { listId } = await app.post<{ listId: string }>('/lists', {
    kind: 'playlist',
    name: 'Late shift',
    selection: { ids },
  });
  const entries = async () => (await app.get<ListContents>(`/lists/${listId}`)).entries.map((e) => e.id);
  const before = await entries();
  const long = ids.find((id) => {
    const { durationSeconds } = sheet.find((r) => r.id === id)!.values;
    return typeof durationSeconds === 'number' && durationSeconds > 45;
  })!;
  const cues = JSON.stringify([{ at: 10, name: 'In' }]);
  await app.post('/fields', { selection: { ids: [long] }, field: 'cues', value: cues });

  // Behind the desk's back: the folder has another name, one file too, and one was encoded anew from its third second
  // on. All at once, since the desk may look at any moment.
  const moved = join(app.music, 'Crates/Deep and slow'),
    made = join(app.music, 'Encoded anew');
  const other = files[ids.findIndex((id) => id !== long)]!,
    longFile = files[ids.indexOf(long)]!;
  const aside = join(app.folder, 'anew.mp3');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-ss', '2', '-i', join(house, longFile)],
    ...['-map', '0:a', '-map_metadata', '-1', aside],
  ]);
  mkdirSync(made);
  renameSync(house, moved);
  renameSync(join(moved, other), join(moved, `final ${other}`));
  rmSync(join(moved, longFile));
  renameSync(aside, join(made, 'nobody knows.mp3'));
  await scanned();
  await expect(rows(page)).toHaveCount(files.length);
  const { onDisk, stages } = await app.get<Overview>('/overview');
  expect(onDisk.missing).toBe(files.length);
  await expect(stage(page)).toHaveAccessibleName(new RegExp(`^Disk: ${stages.disk.count} to look at`));

  await page.getByRole('button', { name: 'Find again' }).click();
  await expect(page.getByTestId('not-found-count')).toContainText(`${files.length} found`);
  await page.locator(`[data-lost="${long}"]`).click();
  const inHand = page.getByRole('region', { name: 'Track in hand' });
  await expect(inHand).toContainText('Encoded anew/nobody knows.mp3');
  await expect(inHand).toContainText('begins 2.0 s earlier, cues move along');
  const { violations } = await new AxeBuilder({ page: page as never }).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  await apply(page);
  await expect(page.getByText('Every file is where it should be')).toBeVisible();
  expect(await entries()).toEqual(before);
  expect((await track(ids[ids.indexOf(long) === 0 ? 1 : 0]!)).values.path).toMatch(/^Crates\/Deep and slow\//);
  const { values } = await track(long);
  expect(values.path).toBe('Encoded anew/nobody knows.mp3');
  const [cue] = JSON.parse(String(values.cues)) as { at: number }[];
  expect(Math.abs(cue!.at - 8)).toBeLessThan(0.13);

  // It is played from where it is now.
  await page.goto(`${app.address}/arrange/${listId}`);
  await page.locator('[data-entry]').first().dblclick();
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await settled(notFound, (n) => n.lines.length === files.length);
  expect(await entries()).toEqual(before);
  expect((await track(long)).values.cues).toBe(cues);
  expect(errors).toEqual([]);
});

test('by keys alone: a path map is learned from one file, one track is left out, the rest found', async ({ page }) => {
  await page.goto(`${app.address}/disk`);
  const count = (await notFound()).lines.length;
  await expect(rows(page)).toHaveCount(count);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('path map');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Path map' });
  await dialog.getByLabel('Old folder').fill(`${app.music}/Crates/House`);
  await page.keyboard.press('Tab');
  await page.keyboard.type(`${app.music}/Crates/Deep and slow`);
  // One has another name, and one another place.
  await expect(dialog.getByText(`${count - 2} of ${count} files would be found`)).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('not-found-count')).toContainText(`${count - 2} found`);
  await page.locator('#not-found').focus();
  await page.keyboard.press('Home');
  while (!(await page.locator('[data-lost][aria-selected="true"]').textContent())!.includes('Deep and slow'))
    await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Delete');
  await expect(page.getByTestId('not-found-count')).toContainText(`${count - 3} found`);
  await apply(page);
  await expect(rows(page)).toHaveCount(3);
});

test('duplicates of the demo: solved by an order of one’s own, in quarantine, and brought back byte for byte', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const errors = watchErrors(page);
  // The same recording twice more: encoded tightly, and as it is under another name.
  const { rows: sheet } = await app.get<SheetPage>('/tracks?limit=500');
  const whole = sheet.find(({ values }) => values.fileState === 'here' && Number(values.durationSeconds) > 40)!;
  const path = String(whole.values.path);
  mkdirSync(join(app.music, 'Inbox'), { recursive: true });
  const [tight, again] = ['Inbox/once more.mp3', `Inbox/another name${extname(path)}`];
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    join(app.music, path),
    '-map',
    '0:a',
    '-b:a',
    '96k',
    join(app.music, tight),
  ]);
  copyFileSync(join(app.music, path), join(app.music, again));
  await scanned();
  await settled(
    () => app.get<SheetPage>('/tracks?limit=500'),
    ({ rows: now }) =>
      [tight, again].every((p) => now.some(({ values }) => values.path === p && typeof values.lufs === 'number')),
  );

  await page.goto(`${app.address}/disk/duplicates`);
  // They are looked for by themselves, once the new files are measured.
  const group = page.locator('[data-copies]', { hasText: String(whole.values.title) });
  await expect(group).toContainText('same recording', { timeout: 120_000 });
  await expect(page.getByText(/not compared yet/)).toHaveCount(0);
  const { groups } = await app.get<Duplicates>('/disk/duplicates');
  const own = groups.find((g) => g.files.some((f) => f.path === tight))!;
  expect(own.files.map((f) => f.path).sort()).toEqual([path, tight, again].sort());
  await group.click();
  const cards = page.getByRole('region', { name: 'Group in hand' }).getByRole('article');
  await expect(cards).toHaveCount(3);
  await expect(page.getByRole('article', { name: `To quarantine: ${tight}` })).toHaveCount(1);
  // The order of one's own: what was added first, before all else.
  const line = page.getByRole('button', { name: 'Move Added first' });
  await line.focus();
  for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('list', { name: 'What decides' }).getByRole('listitem').first()).toContainText(
    'Added first',
  );
  await expect(group).toContainText('Added first');

  const sums = new Map(groups.flatMap((g) => g.files).map(({ path }) => [path, sumOf(path)] as const));
  const stays = (await page.getByRole('article', { name: /^Stays/ }).getAttribute('aria-label'))!.slice(
    'Stays: '.length,
  );
  const goes = own.files.map((f) => f.path).filter((path) => path !== stays);
  await page.getByRole('region', { name: 'Draft of duplicates' }).getByRole('button', { name: 'Apply' }).click();
  await expect(group).toHaveCount(0);
  expect(existsSync(join(app.music, stays))).toBe(true);
  for (const path of goes) expect(existsSync(join(app.music, path))).toBe(false);
  // From quarantine one is put back where it was, and the other way round by undo.
  await page.goto(`${app.address}/disk/quarantine`);
  const lying = page.locator(`[data-quarantined="${tight}"]`);
  await lying.click();
  await page.keyboard.press('Enter');
  await expect(lying).toHaveCount(0);
  expect(sumOf(tight)).toBe(sums.get(tight));
  await page.keyboard.press('Control+z');
  await expect(lying).toHaveCount(1);
  expect(existsSync(join(app.music, tight))).toBe(false);
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await page.keyboard.press('Control+z');
  await page.goto(`${app.address}/disk/duplicates`);
  await expect(group).toHaveCount(1);
  await settled(
    () => Promise.resolve([...sums.keys()].filter((path) => !existsSync(join(app.music, path)))),
    (gone) => gone.length === 0,
  );
  for (const [path, sum] of sums) expect([path, sumOf(path)]).toEqual([path, sum]);
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  expect(errors).toEqual([]);
});

test('the library is brought into a naming rule and back by undo, byte for byte', async ({ page }) => {
  test.setTimeout(120_000);
  const errors = watchErrors(page);
  const places = () => app.get<OutOfPlace>('/disk/places');
  const files = (await app.get<SheetPage>('/tracks?limit=500')).rows
    .filter(({ values }) => values.fileState === 'here')
    .map(({ id, values }) => ({ id, path: String(values.path), sum: sumOf(String(values.path)) }));
  await page.goto(`${app.address}/disk/places`);
  await expect(page.getByText('No naming rule takes a file yet')).toBeVisible();
  await page.getByRole('button', { name: 'Add a rule' }).click();
  await page.getByRole('menuitem', { name: 'Artist, album, number and title' }).click();
  const shown = page.locator('[data-place]');
  await expect(shown.first()).toBeVisible();
  // A rule that cannot be read is said at once, kept to be mended, and nothing can be applied by it.
  const template = page.getByLabel('Folders and name, with slashes between');
  const whole = await template.inputValue();
  await template.fill('{{ artist }}/{{ title');
  await expect(page.getByTestId('rule-example')).toContainText('cannot be used');
  await page.getByLabel('Name of the rule').focus();
  await expect(page.getByRole('alert')).toContainText('cannot be used');
  await template.fill(whole);
  await page.getByLabel('Name of the rule').focus();
  await expect(page.getByRole('alert')).toHaveCount(0);
  await expect(page.getByTestId('rule-example')).toContainText('/');

  // The one in hand stays where it is.
  const first = (await shown.first().getAttribute('data-place'))!;
  const draft = page.getByRole('region', { name: 'Draft of moves' });
  const { elsewhere } = await places();
  await expect(draft).toContainText(`${elsewhere} files to move`);
  await shown.first().click();
  await page.keyboard.press('Delete');
  await expect(draft).toContainText(`${elsewhere - 1} files to move`);
  const wanted = new Map((await places()).lines.map((line) => [line.path, line.wanted]));
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await draft.getByRole('button', { name: 'Apply' }).click();
  await expect(shown).toHaveCount(1);
  expect(existsSync(join(app.music, first))).toBe(true);
  for (const { path, sum } of files) {
    const now = path === first ? path : (wanted.get(path) ?? path);
    expect([now, sumOf(now)]).toEqual([now, sum]);
  }
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await settled(places, (p) => p.elsewhere === elsewhere);
  for (const { path, sum } of files) expect([path, sumOf(path)]).toEqual([path, sum]);
  expect(errors).toEqual([]);
});

test('files are moved from the sheet into a new folder by keys, lists hold them, undo brings them back', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const { rows: sheet } = await app.get<SheetPage>('/tracks?limit=500');
  const [one] = sheet.filter(({ values }) => values.fileState === 'here' && /^[\w ]+$/.test(String(values.title)));
  const path = String(one!.values.path),
    sum = sumOf(path);
  const { listId } = await app.post<{ listId: string }>('/lists', {
    kind: 'playlist',
    name: 'For the stick',
    selection: { ids: [one!.id] },
  });
  await page.goto(`${app.address}/tracks?find=${encodeURIComponent(`"${String(one!.values.title)}"`)}`);
  await page.locator(`[data-track="${one!.id}"]`).click();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('move or copy');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Move or copy files' });
  await dialog.getByLabel('Folder in it').fill('Stick/Late shift');
  await expect(dialog.getByRole('status')).toContainText('1 file to move');
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await page.keyboard.press('Enter');
  await expect(dialog).toHaveCount(0);
  const now = `Stick/Late shift/${basename(path)}`;
  expect([sumOf(now), existsSync(join(app.music, path))]).toEqual([sum, false]);
  const { entries } = await app.get<ListContents>(`/lists/${listId}`);
  expect(entries.map((e) => e.id)).toEqual([one!.id]);
  expect((await track(one!.id)).values.path).toBe(now);
  await page.keyboard.press('Control+z');
  await settled(
    () => track(one!.id),
    (t) => t.values.path === path,
  );
  expect(sumOf(path)).toBe(sum);
  expect(errors).toEqual([]);
});

const sumOf = (path: string): string =>
  createHash('sha256')
    .update(readFileSync(join(app.music, path)))
    .digest('hex');

test('the space is walked through by keys; a folder of it lies in quarantine, and is back by undo', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const files = (await app.get<SheetPage>('/tracks?limit=500')).rows
    .map(({ values }) => String(values.path))
    .filter((path) => existsSync(join(app.music, path)));
  const folder = files.map((path) => path.split('/')[0]!).find((name, i) => files[i]!.includes('/') && name)!;
  const inside = files.filter((path) => path.startsWith(`${folder}/`)).map((path) => [path, sumOf(path)] as const);
  await page.goto(`${app.address}/disk/space`);
  const band = page.locator(`[data-band="${folder}"]`);
  await band.click();
  await expect(page.getByRole('complementary', { name: 'What it holds' })).toContainText(`${inside.length}`);
  await page.keyboard.press('Delete');
  const draft = page.getByRole('region', { name: 'Draft for quarantine' });
  await expect(draft).toContainText(`${inside.length} files to quarantine`);
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await draft.getByRole('button', { name: 'Apply' }).click();
  await expect(draft).toHaveCount(0);
  await expect.poll(() => inside.filter(([path]) => existsSync(join(app.music, path)))).toEqual([]);
  await page.keyboard.press('Control+z');
  await expect.poll(() => inside.filter(([path]) => !existsSync(join(app.music, path)))).toEqual([]);
  for (const [path, sum] of inside) expect([path, sumOf(path)]).toEqual([path, sum]);
  // The same figures as a table, by another way to look at it.
  await page.getByRole('radio', { name: 'Quality' }).click();
  await page.getByRole('treeitem', { name: /^Lossless/ }).click();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('navigation', { name: 'In' })).toContainText('Lossless');
  await expect(page.locator('[data-space]').first()).toBeVisible();
  expect(errors).toEqual([]);
});
