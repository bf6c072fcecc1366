/** The library is backed up, its database destroyed, and restored; and restored from the page to an earlier moment. */
import { expect, test, type Page } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BackupsHere } from '@early-set/core/api/backups';
import type { ListLine } from '@early-set/core/api/types';
import { settled, startApp, startDemo, type App } from './app.ts';

let app: App;
let end: () => Promise<void>;
test.beforeAll(async () => {
  ({ app, end } = await startDemo(undefined, { EARLY_SET_PLACES: tmpdir() }));
});
test.afterAll(() => end?.());

const names = async (): Promise<string[]> => (await app.get<ListLine[]>('/lists')).map(({ name }) => name);
const crate = (name: string): Promise<unknown> => app.post('/lists', { kind: 'crate', name, parentId: null });
const backups = async (): Promise<BackupsHere> => app.get<BackupsHere>('/backups');

async function backUp(page: Page): Promise<string> {
  const before = (await backups()).backups.length;
  await page.goto(`${app.address}/backups`);
  await page.getByRole('button', { name: 'Back up now' }).click();
  const { backups: made } = await settled(
    backups,
    (here) => here.backups.length > before && here.backups[0]!.verifiedAt !== null,
  );
  expect(made[0]!.trouble).toBeNull();
  return made[0]!.id;
}

/** What `npm run restore` says, and how it ends. */
function restore(...args: string[]): { status: number | null; said: string } {
  const done = spawnSync(process.execPath, [join(import.meta.dirname, '../scripts/restore.mjs'), ...args], {
    env: { ...process.env, EARLY_SET_DATA: app.folder },
    encoding: 'utf8',
  });
  return { status: done.status, said: done.stdout + done.stderr };
}

test('from the page: the library is as it was, and what was there since can be had back', async ({ page }) => {
  await crate('Friday');
  const id = await backUp(page);
  await crate('Made since');
  await page.locator(`[data-backup="${id}"]`).click();
  await page.getByRole('button', { name: 'Restore…' }).click();
  await page.getByRole('button', { name: 'Back up, then restore' }).click();
  await expect(page.getByText('The backup is being restored')).toBeVisible();
  // The page opens anew by itself.
  await expect(page.getByText(/^A backup was restored at/)).toBeVisible({ timeout: 60_000 });
  expect(await names()).toContain('Friday');
  expect(await names()).not.toContain('Made since');
  await page.getByRole('link', { name: /^Arrange/ }).click();
  await expect(page.getByRole('treeitem', { name: /Friday/ })).toBeVisible();

  await page.goto(`${app.address}/backups`);
  await page.locator('[data-backup]', { hasText: 'Before a restore' }).first().click();
  await page.getByRole('button', { name: 'Restore…' }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: 'Restore…' }).click();
  await page.getByRole('button', { name: 'Back up, then restore' }).click();
  await settled(names, (all) => all.includes('Made since') && all.includes('Friday'));
});

test('the music on another drive: copied, renamed, removed there only when said, and put back', async ({ page }) => {
  const drive = join(app.folder, 'demo/other drive');
  mkdirSync(drive);
  await page.goto(`${app.address}/backups`);
  await page.getByRole('radio', { name: 'Music files' }).click();
  await page.getByRole('button', { name: 'Choose a folder…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel(/^Path/).fill(drive);
  await dialog.getByLabel(/^Path/).press('Enter');
  await expect(dialog.getByLabel(/^Path/)).toHaveValue(drive);
  await dialog.getByRole('button', { name: 'Use this folder' }).click();
  await expect(page.getByText('if it breaks, both are gone')).toBeVisible();
  await page.getByRole('button', { name: 'Copy now' }).click();
  const last = page.getByRole('list', { name: 'Folders' });
  await expect(last).toContainText(/\d+ copied/, { timeout: 60_000 });
  const there = join(drive, 'Early Set music copy/Demo music');
  const [song] = readdirSync(join(app.music, 'Inbox')).filter((name) => name.endsWith('.mp3'));
  expect(readFileSync(join(there, 'Inbox', song!))).toEqual(readFileSync(join(app.music, 'Inbox', song!)));

  renameSync(join(app.music, 'Inbox', song!), join(app.music, 'Inbox/renamed.mp3'));
  const kept = join(app.folder, 'kept');
  renameSync(join(app.music, 'Radio/Playlist'), kept);
  await page.getByRole('button', { name: 'Copy now' }).click();
  await expect(last).toContainText(/^Demo music1 renamed$/, { timeout: 60_000 });
  expect(existsSync(join(there, 'Inbox/renamed.mp3'))).toBe(true);
  const gone = page.locator('[data-extra]');
  const count = readdirSync(kept).length;
  await expect(gone).toHaveCount(count);
  expect(readdirSync(join(there, 'Radio/Playlist'))).toHaveLength(count);

  await page.getByRole('button', { name: `Remove ${count} from the copy…` }).click();
  await page.getByRole('button', { name: `Remove ${count} files` }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(gone.first()).toContainText('In quarantine there');
  expect(existsSync(join(there, 'Radio/Playlist'))).toBe(false);
  await page.keyboard.press('Control+z');
  await expect(gone.first()).toContainText('Gone here');
  expect(readdirSync(join(there, 'Radio/Playlist'))).toHaveLength(count);
  renameSync(kept, join(app.music, 'Radio/Playlist'));
  renameSync(join(app.music, 'Inbox/renamed.mp3'), join(app.music, 'Inbox', song!));
});

test('with npm run restore, after the database was destroyed', async ({ page }) => {
  await crate('Before the crash');
  const id = await backUp(page);
  expect(restore('latest', '--yes').said).toContain('Early Set is running already');
  await app.stop();
  const cluster = join(app.folder, 'postgres/data');
  for (const name of readdirSync(join(cluster, 'global'))) rmSync(join(cluster, 'global', name), { force: true });

  const refused = restore('latest', '--yes');
  expect(refused.status).toBe(1);
  expect(refused.said).toContain('--new-database');
  const listed = restore('--new-database');
  expect(listed).toMatchObject({ status: 0 });
  expect(listed.said).toContain(id);
  // A dump that was damaged meanwhile is refused, and another one can be chosen.
  const dump = join(app.folder, 'backups', id, 'database.dump');
  renameSync(dump, `${dump}.away`);
  writeFileSync(dump, 'damaged');
  const damaged = restore(id, '--yes');
  expect(damaged.said).toContain('The database in it is not what was written');
  rmSync(dump);
  renameSync(`${dump}.away`, dump);
  const done = restore('latest', '--yes');
  expect(done.said).toMatch(/The library is as it was on/);
  expect(done.status).toBe(0);
  expect(readdirSync(join(app.folder, 'postgres')).filter((name) => name.startsWith('data.'))).toHaveLength(1);
  expect(existsSync(join(app.folder, 'restoring'))).toBe(false);

  app = await startApp(app.folder, ['--demo', '--only=30']);
  end = () => app.stop();
  await page.goto(`${app.address}/arrange`);
  await expect(page.getByRole('treeitem', { name: /Before the crash/ })).toBeVisible();
  expect((await app.get<{ tracks: number; measured: number }>('/overview')).measured).toBe(30);
});
