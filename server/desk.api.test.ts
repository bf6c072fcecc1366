/** A backup restored from the page: the desk stops, says what it does, and is there again at the same address. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { BackupsHere, RestoreProgress } from '@early-set/core/api/backups';
import type { ListLine } from '@early-set/core/api/types';
import { openDesk, type Desk } from './desk.ts';
import { testDatabase } from './testing/database.ts';

let desk: Desk;
let database: Awaited<ReturnType<typeof testDatabase>>;
const folder = mkdtempSync(join(tmpdir(), 'early-set-desk-'));
const gaveUp: unknown[] = [];

async function ask<T>(path: string, method = 'GET', body?: object): Promise<T> {
  const answer = await fetch(`${desk.address}/api${path}`, {
    method,
    headers: { 'content-type': 'application/json', connection: 'close' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return (await answer.json()) as T;
}
const names = async (): Promise<string[]> => (await ask<ListLine[]>('/lists')).map(({ name }) => name);
const crate = (name: string): Promise<unknown> => ask('/lists', 'POST', { kind: 'crate', name, parentId: null });
const backups = (): Promise<BackupsHere> => ask<BackupsHere>('/backups');

/** Asks until it is so. */
async function until(question: () => Promise<boolean>): Promise<void> {
  for (const end = Date.now() + 60_000; Date.now() < end; await new Promise((r) => setTimeout(r, 20)))
    if (await question().catch(() => false)) return;
  throw new Error('Waited in vain');
}

beforeAll(async () => {
  database = await testDatabase();
  mkdirSync(join(folder, 'data'));
  const threadFolder = pathToFileURL(join(process.cwd(), 'dist/server/'));
  desk = await openDesk(
    {
      ...{ databaseUrl: database.url, dataFolder: join(folder, 'data'), webFolder: null, port: 0, demoRoot: null },
      ...{ threads: 1, compare: false, threadFolder },
    },
    (error) => gaveUp.push(error),
  );
});
afterAll(async () => {
  await desk.stop();
  await database.drop();
  rmSync(folder, { recursive: true, force: true });
});

test('it is there again with what the backup holds, and what it replaced can be had back', async () => {
  await crate('Friday');
  await ask('/backups', 'POST');
  await until(async () => (await backups()).backups[0]?.verifiedAt !== undefined);
  await until(async () => (await backups()).backups[0]!.verifiedAt !== null);
  const [kept] = (await backups()).backups;
  await crate('Later');
  await ask(`/backups/${kept!.id}/restore`, 'POST');
  const steps = new Set<string>(),
    refused: string[] = [];
  await until(async () => {
    const said = await ask<RestoreProgress | null>('/backups/restoring');
    if (said) {
      steps.add(said.step);
      await ask('/lists').catch((error: Error) => refused.push(error.message));
    }
    return said === null && (await backups()).restored !== null;
  });
  await desk.idle();
  expect(steps.size).toBeGreaterThan(0);
  expect(refused[0]).toMatch(/restoring.*A backup is being restored/);
  const { restored } = await backups();
  expect(restored).toMatchObject({ id: kept!.id, reason: null });
  expect(await names()).toEqual(['Friday']);

  await ask(`/backups/${restored!.before!}/restore`, 'POST');
  await until(async () => (await backups()).restored?.id === restored!.before);
  expect((await names()).sort()).toEqual(['Friday', 'Later']);
  expect(gaveUp).toEqual([]);
});

test('one that cannot be restored leaves the desk as it was, and says why', async () => {
  const [latest] = (await backups()).backups;
  rmSync(join(folder, 'data/backups', latest!.id, 'database.dump'));
  await ask(`/backups/${latest!.id}/restore`, 'POST');
  await until(async () => (await backups()).restored?.id === latest!.id);
  expect((await backups()).restored!.reason).toBe(
    'The database in it is not what was written. Everything is as it was.',
  );
  expect((await names()).sort()).toEqual(['Friday', 'Later']);
});

test('cancelled while what is there is backed up, it opens again as it was', async () => {
  await ask('/backups', 'POST');
  const dumped = (here: BackupsHere): boolean => here.backups[0]?.reason === 'by hand' && !here.backups[0].trouble;
  await until(async () => dumped(await backups()) && (await backups()).backups[0]!.verifiedAt !== null);
  const [latest] = (await backups()).backups;
  await ask(`/backups/${latest!.id}/restore`, 'POST');
  await until(async () => (await ask<RestoreProgress | null>('/backups/restoring'))?.canCancel === true);
  await ask('/backups/restoring/cancel', 'POST');
  await until(async () => (await backups()).restored?.id === latest!.id);
  expect((await backups()).restored!.reason).toBe('It was cancelled. Everything is as it was.');
  expect((await names()).sort()).toEqual(['Friday', 'Later']);
});
