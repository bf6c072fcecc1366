/**
 * What other programs wrote into files and a scan took over: seen, compared, chosen, and taken back like any change.
 */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { utimesSync } from 'node:fs';
import { join } from 'node:path';
import type { SheetPage, TrackDetails } from '@early-set/core/api/types';
import { writeTags } from '../files/tagFile.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import type { ScanReport } from './context.ts';

let h: Harness;
const { idOf, inFile, set, undo, details, scanned, unwritten } = hands(() => h);

beforeAll(async () => {
  h = await startHarness();
  for (const name of ['a.mp3', 'b.mp3', 'c.mp3'])
    makeAudio(join(h.music, name), { seconds: 1, tags: { title: `Old ${name}`, genre: 'Dub' } });
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

/** As another program would: with another time, so that a scan sees it. */
function byOthers(name: string, fields: Record<string, string[]>): void {
  const path = join(h.music, name);
  writeTags(path, { fields });
  utimesSync(path, new Date(), new Date(Date.now() + 60_000));
}
const rootOf = async (): Promise<number> => (await h.query<{ id: number }>('SELECT id FROM roots LIMIT 1'))[0]!.id;
const scan = async (): Promise<ScanReport> => (await scanned(await rootOf())).report as ScanReport;
const shown = async (name: string): Promise<TrackDetails> =>
  (await h.get(`/tracks/${await idOf(name)}`).expect(200)).body as TrackDetails;

test('what was taken over from files is one change set, and is taken back as one', async () => {
  byOthers('a.mp3', { title: ['New a'], genre: ['House'] });
  byOthers('b.mp3', { title: ['New b'] });
  const report = await scan();
  expect(report).toMatchObject({ changed: 2, followed: 2, differs: 0 });
  const made = await details(report.changeSetId!);
  expect(made.title).toMatch(/^Read again from the files of /);
  expect(made.lines.map((l) => l.state)).toEqual(['done', 'done', 'done']);
  await undo({ changeSetId: report.changeSetId! });
  expect((await shown('a.mp3')).values).toMatchObject({ title: 'Old a.mp3', genre: ['Dub'] });
  // The files stay as the other program left them, and that is told.
  expect(inFile('a.mp3').title).toEqual(['New a']);
  expect((await unwritten('a.mp3')).sort()).toEqual(['genre', 'title']);
  expect(await scan()).toMatchObject({ changed: 0, changeSetId: null });
});

test('where typed and file differ, both are shown, and either can be chosen', async () => {
  await set(['c.mp3'], 'title', 'Typed');
  byOthers('c.mp3', { title: ['Theirs'], comment: ['from elsewhere'] });
  const report = await scan();
  expect(report).toMatchObject({ differs: 1, followed: 1 });
  const where = encodeURIComponent(
    JSON.stringify({ field: 'playoutId', test: 'one of', values: report.differing.map(String) }),
  );
  const { rows } = (await h.get(`/tracks?where=${where}`).expect(200)).body as SheetPage;
  expect(rows.map((r) => r.values.path)).toEqual(['c.mp3']);
  const { values, inFile: said } = await shown('c.mp3');
  expect([values.title, said]).toEqual(['Typed', { title: 'Theirs' }]);
  // The file's: nothing is left to be written.
  const { changeSetId } = await set(['c.mp3'], 'title', 'Theirs');
  expect([(await shown('c.mp3')).inFile, inFile('c.mp3').title]).toEqual([{}, ['Theirs']]);
  await undo({ changeSetId });
  // Mine: it goes into the file.
  const id = await idOf('c.mp3');
  await h.post('/files/write', { selection: { ids: [id] }, fields: ['title'] }).expect(200);
  expect([(await shown('c.mp3')).inFile, inFile('c.mp3').title]).toEqual([{}, ['Typed']]);
});
