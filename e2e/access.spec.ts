/** Early Set on a computer without a screen: signing in from elsewhere, wrong passphrases, a session that is ended. */
import { expect, test, type Page } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { freshFolder, startApp, withDemo, type App } from './app.ts';

const ROOT = join(import.meta.dirname, '..');
const PHRASE = 'kelp tide harbour lamp';
const SIGN_IN = 'Early Set: sign in';
const { folder, remove } = freshFolder('access');
const set = (input: string, ...args: string[]): { status: number | null; said: string } => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [join(ROOT, 'scripts/passphrase.mjs'), ...args], {
    ...{ cwd: ROOT, env: { ...process.env, EARLY_SET_DATA: folder }, input, encoding: 'utf8' },
  });
  return { status, said: stdout + stderr };
};
const start = (): Promise<App> =>
  startApp(folder, ['--demo', '--only', '30', '--listen', '127.0.0.1', '--without-tls']);
let app: App | undefined;
test.afterAll(async () => {
  await app?.stop();
  remove();
});

async function signIn(page: Page, passphrase: string): Promise<void> {
  await page.getByLabel('Passphrase').fill(passphrase, { timeout: 10_000 });
  await page.getByRole('button', { name: 'Sign in' }).click({ timeout: 10_000 });
}

test('without a passphrase it does not listen; with one, signed in by it alone; ended elsewhere, one is out', async ({
  page,
  browser,
}) => {
  withDemo(folder);
  await expect(start()).rejects.toThrow(/npm run passphrase/);
  const short = set('short');
  expect(short.status).toBe(1);
  expect(short.said).toContain('at least 12');
  expect(set(PHRASE).status).toBe(0);
  app = await start();
  const { address } = app;

  await page.goto(`${address}/tracks`);
  await expect(page).toHaveTitle(SIGN_IN);
  for (let n = 0; n < 3; n++) {
    await signIn(page, 'not the passphrase');
    await expect(page.getByRole('alert')).toHaveText('That is not the passphrase.');
  }
  await expect(async () => {
    await signIn(page, 'not the passphrase');
    await expect(page.getByRole('alert')).toContainText('Try again in', { timeout: 2000 });
  }).toPass();
  // Refused until the wait is over. One that was let in may take its time to show what is behind.
  await expect(async () => {
    if ((await page.title()) === SIGN_IN) await signIn(page, PHRASE);
    await expect(page).not.toHaveTitle(SIGN_IN, { timeout: 2000 });
  }).toPass();
  await expect(page.getByRole('navigation').getByText('Tracks')).toBeVisible();

  // From a second browser, which is then signed out from the first.
  const other = await browser.newContext({ userAgent: 'Mozilla/5.0 (Linux; Android 16) Firefox/140.0' });
  const phone = await other.newPage();
  await phone.goto(address);
  await signIn(phone, PHRASE);
  await expect(phone.getByRole('navigation').getByText('Tracks')).toBeVisible();
  await page.getByRole('button', { name: 'Settings' }).click();
  const list = page.getByRole('list', { name: 'Signed in' });
  await expect(list.getByRole('listitem')).toHaveCount(2);
  await page.getByRole('button', { name: /^Sign out Firefox on Android/ }).click();
  await expect(list.getByRole('listitem')).toHaveCount(1);
  // Its page notices by itself.
  await expect(phone).toHaveTitle(SIGN_IN);
  await other.close();

  // The session outlives a restart; another passphrase ends it.
  await app.stop();
  app = await start();
  await page.goto(`${app.address}/tracks`);
  await expect(page).not.toHaveTitle(SIGN_IN);
  await app.stop();
  expect(set('another one, for everybody').status).toBe(0);
  app = await start();
  await page.goto(`${app.address}/tracks`);
  await expect(page).toHaveTitle(SIGN_IN);
  await signIn(page, 'another one, for everybody');
  await page.getByRole('button', { name: 'Settings' }).click();
  await page.getByRole('button', { name: 'Sign out here' }).click();
  await expect(page).toHaveTitle(SIGN_IN);
});
