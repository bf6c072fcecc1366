/** Servers killed while tracks are taken from a program: each comes in once, with what is said of it, as one change. */
import { expect, test } from '@playwright/test';
import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { TakeReport } from '@early-set/core/api/take';
import type { ListLine, Overview, RootLine, RunProgress, SheetPage } from '@early-set/core/api/types';
import { playLike } from '../../server/testing/music.ts';
import { writeList, writeTracks, type Track } from '../../standins/plover/data.ts';
import { freshFolder, settled, startApp, type App } from '../app.ts';

const KILLS = 20,
  FILES = 24;
let folder: string, remove: () => void, music: string, app: App, rootId: number, source: string;

const start = async (): Promise<void> => {
  app = await startApp(folder, [], { EARLY_SET_PLACES: folder });
};
const runNow = async (id: number): Promise<RunProgress | undefined> =>
  (await app.get<RunProgress[]>('/runs')).find((r) => r.id === id);
const copies = (into: string): number => {
  const path = join(music, into);
  return existsSync(path) ? readdirSync(path).filter((name) => name.endsWith('.mp3')).length : 0;
};

test.beforeAll(async () => {
  ({ folder, remove } = freshFolder('taking'));
  music = join(folder, 'music');
  const outside = join(folder, 'outside'),
    data = join(folder, 'plover/collection');
  for (const path of [music, outside, join(data, 'lists')]) mkdirSync(path, { recursive: true });
  const tracks = Array.from({ length: FILES }, (_, i): Track => {
    const path = join(outside, `Tide ${i + 1}.mp3`);
    playLike(path, i + 1, 12, ['-b:a', '96k']);
    return {
      id: `p-${i}`,
      location: `file://${path.replaceAll(' ', '%20')}`,
      title: `Tide ${i + 1}`,
      stars: 1 + (i % 5),
    };
  });
  writeTracks(data, tracks);
  writeList(data, { file: 'All.xspf', title: 'All', identifier: 'urn:1', locations: tracks.map((t) => t.location) });
  await start();
  await app.post('/roots', { path: music, measure: false });
  rootId = (await app.get<RootLine[]>('/roots'))[0]!.id;
  source = `destination:${(await app.post<{ id: number }>('/destinations', { folder: join(folder, 'plover') })).id}`;
});
test.afterAll(async () => {
  await app?.stop();
  remove?.();
  process.stdout.write(`${KILLS} kills while tracks were taken\n`);
});

test(`${KILLS} kills while tracks are taken: each is there once, and all of it is one change`, async () => {
  test.setTimeout(900_000);
  for (let n = 0; n < KILLS; n++) {
    const into = `Taken ${n}`;
    const { runId } = await app.post<{ runId: number }>('/take', {
      ...{ source, tracks: [], lists: ['urn:1'], copy: { rootId, into, names: 'own' } },
      ...{ over: 'replace', fromComments: false, presetId: null, crate: 'Taken' },
    });
    const enough = Math.floor(((n + 1) * FILES) / KILLS);
    await settled(
      () => runNow(runId),
      (run) => copies(into) >= enough || (run?.finishedAt ?? null) !== null,
    );
    await app.kill();
    await start();
    const run = await settled(
      () => runNow(runId),
      (now) => (now?.finishedAt ?? null) !== null,
    );
    const report = run!.report as TakeReport;
    expect([run!.state, report.failed, copies(into)]).toEqual(['done', 0, FILES]);
    const { rows } = await app.get<SheetPage>('/tracks?limit=100&sort=title');
    expect(rows).toHaveLength(FILES);
    expect(new Set(rows.map((r) => r.values.title)).size).toBe(FILES);
    for (const { values } of rows) expect(values.rating).toBe(1 + ((Number(String(values.title).slice(5)) - 1) % 5));
    const lists = (await app.get<ListLine[]>('/lists')).filter((l) => !l.removed);
    expect(lists.map((l) => [l.name, l.tracks]).sort()).toEqual([
      ['All', FILES],
      ['Taken', FILES],
    ]);
    // One undo takes all of it out again; the copies stay, and are not taken for new ones.
    await app.post(`/changes/${report.changeSetId!}/undo`);
    expect((await app.get<Overview>('/overview')).tracks).toBe(0);
    expect(copies(into)).toBe(FILES);
  }
});
