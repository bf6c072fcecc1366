/** Several lists in one zip, and a list as a workbook. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import exceljs from 'exceljs';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let id: number;
let folder: string;
const { idOf } = hands(() => h);
beforeAll(async () => {
  h = await startHarness();
  folder = mkdtempSync(join(tmpdir(), 'early-set-zip-'));
  makeAudio(join(h.music, 'a.mp3'), { seconds: 1, tags: { title: 'Tåg & Öl', artist: 'Keel Nine' } });
  await h.takeIn(h.music, false);
  id = await idOf('a.mp3');
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await h.stop();
});
const make = async (name: string, parentId: string | null = null, kind = 'playlist'): Promise<string> =>
  ((await h.post('/lists', { kind, name, parentId, selection: { ids: [id] } }).expect(200)).body as { listId: string })
    .listId;
const bytes = (path: string, body: object) =>
  h
    .post(path, body)
    .buffer(true)
    .parse((response, done) => {
      const parts: Buffer[] = [];
      response.on('data', (part: Buffer) => parts.push(part));
      response.on('end', () => done(null, Buffer.concat(parts)));
    });

test('each list in the folders of its crates; equal names get numbers; Python reads it', async () => {
  const crate = await make('Boathouse: late', null, 'crate');
  const listIds = [await make('Set', crate), await make('Set'), await make('set')];
  const answer = await bytes('/lists/zip', { listIds, format: 'txt', paths: 'absolute' }).expect(200);
  const path = join(folder, 'lists.zip');
  writeFileSync(path, answer.body as Buffer);
  const listed = execFileSync('python3', ['-m', 'zipfile', '-l', path], { encoding: 'utf8' });
  const names = listed.split('\n').flatMap((line) => /^(.*?\.txt)\s/.exec(line)?.[1] ?? []);
  expect(names).toEqual(['Boathouse late/Set.txt', 'Set.txt', 'set (2).txt']);
  execFileSync('python3', ['-m', 'zipfile', '-e', path, folder]);
  expect(execFileSync('cat', [join(folder, 'Set.txt')], { encoding: 'utf8' })).toContain('Keel Nine - Tåg & Öl');
});

test('a workbook holds a row per track', async () => {
  const list = await make('Week');
  const answer = await bytes(`/lists/${list}/workbook`, { format: 'csv', paths: 'absolute' }).expect(200);
  const book = new exceljs.Workbook();
  await book.xlsx.load(answer.body as never);
  const row = book.worksheets[0]!.getRow(2).values as unknown[];
  expect(row.slice(1, 4)).toEqual([1, 'Keel Nine', 'Tåg & Öl']);
});
