/**
 * Look-ups against the real stand-in: albums whole, wrong look-alikes not taken, sound, outages, cancel, taking, undo.
 */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { GroupDetails, Lookup, LookupReport, TakePolicies } from '@early-set/core/api/catalogue';
import type { Applied, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { DEFAULT_POLICIES } from '@early-set/core/catalogue/proposals';
import { startWhimbrel, DEFAULT_MOOD, type Whimbrel } from '../../standins/whimbrel/service.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { setServiceAddress } from '../db/services.ts';
import { openCatalogue } from './client.ts';
import { connect } from '../db/database.ts';
import { synthesize } from '../testing/ffmpeg.ts';

let desk: Harness;
let whimbrel: Whimbrel;
const QUICK = { ...DEFAULT_MOOD, limit: 1000, slowEvery: 0, downEvery: 0 };
const control = (mood: object): Promise<unknown> =>
  fetch(`${whimbrel.address}/control`, { method: 'POST', body: JSON.stringify(mood) });
const policies: TakePolicies = { ...DEFAULT_POLICIES, picture: 'fill gaps' };
const idOf = async (title: string): Promise<number> =>
  (
    await desk.query<{ id: number }>('SELECT id FROM tracks WHERE title = $1 OR path LIKE $2', [title, `%${title}%`])
  )[0]!.id;
const values = async (id: number): Promise<TrackDetails['values']> =>
  ((await desk.get(`/tracks/${id}`)).body as TrackDetails).values;

async function lookUp(wish: object): Promise<Lookup> {
  const { body } = await desk
    .post('/lookups', { selection: { where: { all: [] }, except: [] }, how: 'fields', ...wish })
    .expect(200);
  const { id } = body as { id: number };
  let lookup: Lookup;
  await desk.until(async () => {
    lookup = (await desk.get(`/lookups/${id}`)).body as Lookup;
    return !lookup.running;
  }, 'the look-up has ended');
  return lookup!;
}
const group = async (lookup: Lookup, name: RegExp): Promise<GroupDetails> =>
  (await desk.get(`/lookups/${lookup.id}/groups/${lookup.groups.find((g) => name.test(g.name))!.id}`).expect(200))
    .body as GroupDetails;

beforeAll(async () => {
  desk = await startHarness();
  const sound = (name: string, tags: Record<string, string>, hz: number, seconds = 3): void =>
    makeAudio(join(desk.music, name), { tags, hz, seconds });
  const album = ['Letter from the Lighthouse', 'Winter Coat', 'The Kettle and the Rain', 'Lamp Oil Hours'];
  album.forEach((title, i) =>
    sound(`Ada/0${i + 1} ${title}.mp3`, { title, artist: 'Ada Thole', album: 'Lamp Oil Hours' }, 300 + i),
  );
  sound('Inbox/ferry.mp3', { title: 'Ferry Clerk (Radio Edit)', artist: 'Vesna Rook' }, 500);
  sound('Inbox/nobody.mp3', { title: 'A Name Nobody Has', artist: 'Nobody at All' }, 510);
  // Something that a fingerprint can be made of: notes that change.
  const tune = join(desk.music, 'Inbox/x1.flac');
  synthesize(
    tune,
    "aevalsrc='0.4*sin(2*PI*t*(220+110*mod(floor(t*2),5)))+0.2*sin(2*PI*t*(330+55*mod(floor(t*3),7)))':d=40:s=44100",
  );
  const print = spawnSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    tune,
    '-f',
    'chromaprint',
    '-fp_format',
    'raw',
    '-',
  ]).stdout.toString('base64');
  // The index knows how long these are; of others its lengths are made up.
  const recordings = [
    { artist: 'Hal Sorrow', title: 'Halyard', version: null, seconds: 40, fingerprint: print },
    ...album.map((title) => ({ artist: 'Ada Thole', title, version: null, seconds: 3, fingerprint: '' })),
  ];
  writeFileSync(join(desk.folder, 'recordings.jsonl'), recordings.map((r) => `${JSON.stringify(r)}\n`).join(''));
  whimbrel = await startWhimbrel({ recordingsFile: join(desk.folder, 'recordings.jsonl'), mood: QUICK });
  await desk.takeIn();
  const database = await connect(desk.databaseUrl);
  await setServiceAddress(database, 'catalogue', whimbrel.address);
  await database.close();
});
afterAll(async () => {
  await whimbrel.stop();
  await desk.stop();
});

test('an album is found as one release, a single on its own, and what nobody knows is not found', async () => {
  const lookup = await lookUp({});
  expect(lookup.groups.map((g) => [g.kind, g.tracks, g.name])).toEqual(
    expect.arrayContaining([
      ['album', 4, 'Ada Thole – Lamp Oil Hours'],
      ['single', 1, 'Vesna Rook – Ferry Clerk (Radio Edit)'],
    ]),
  );
  expect(lookup.groups.find((g) => /Nobody/.test(g.name))!.state).toBe('none');
  const album = await group(lookup, /Lamp Oil Hours/);
  expect(album.candidates[0]!.release).toMatchObject({ title: 'Lamp Oil Hours', artists: ['Ada Thole'], year: 2011 });
  expect(album.candidates.length).toBeGreaterThan(1); // other versions to choose from
  expect(album.candidates[0]!.match.lines).toEqual(Object.fromEntries(album.trackList.map((t, i) => [t.id, i])));
  const single = await group(lookup, /Ferry Clerk/);
  expect(single.candidates[0]!.release.artists).toEqual(['Vesna Rook']);
  expect(
    single.candidates[0]!.release.tracks[single.candidates[0]!.match.lines[single.trackList[0]!.id]!],
  ).toMatchObject({ title: 'Ferry Clerk', version: 'Radio Edit' });
  const wrong = single.candidates.find((c) => c.release.artists[0] === 'Vesna Rooks');
  if (wrong) expect(wrong.match.score).toBeLessThan(single.candidates[0]!.match.score);
});

test('taking fills gaps with their origin, in the files too; locked and filled values stay; undone, all is as before', async () => {
  const lookup = await lookUp({});
  const album = await group(lookup, /Lamp Oil Hours/);
  const [first] = album.trackList;
  await desk.post('/fields', { selection: { ids: [first!.id] }, field: 'year', value: '1999' }).expect(200);
  const applied = (await desk.post(`/lookups/${lookup.id}/take`, { groups: [album.id], policies }).expect(200))
    .body as Applied;
  const track = (await desk.get(`/tracks/${first!.id}`)).body as TrackDetails;
  expect(track.values).toMatchObject({
    year: 1999,
    label: album.candidates[0]!.release.label,
    genre: ['Singer-Songwriter'],
  });
  expect(track.origins.label!.origin).toBe('catalogue');
  expect(track.artHash).not.toBeNull();
  const { stdout } = spawnSync(
    'ffprobe',
    ['-v', 'error', '-of', 'json', '-show_format', '-show_streams', join(desk.music, album.trackList[1]!.path)],
    { encoding: 'utf8' },
  );
  expect(stdout).toMatch(/Singer-Songwriter/);
  expect(stdout).toMatch(/mjpeg/);
  expect((await group(lookup, /Lamp Oil Hours/)).state).toBe('applied');
  await desk.post(`/changes/${applied.changeSetId}/undo`).expect(200);
  expect((await group(lookup, /Lamp Oil Hours/)).state).toBe('found');
  expect((await values(album.trackList[1]!.id)).genre).toBeNull();
});

test('another version, other lines, other words, skipping', async () => {
  const lookup = await lookUp({});
  const album = await group(lookup, /Lamp Oil Hours/),
    path = `/lookups/${lookup.id}/groups/${album.id}`;
  const other = album.candidates[1]!.release.id;
  expect(((await desk.patch(path, { chosen: other }).expect(200)).body as GroupDetails).chosen).toBe(other);
  const [a, b] = album.trackList as [GroupDetails['trackList'][0], GroupDetails['trackList'][0]];
  const turned = (await desk.patch(path, { lines: { [a.id]: 1, [b.id]: 0 } }).expect(200)).body as GroupDetails;
  expect(turned.candidates.find((c) => c.release.id === other)!.match.lines).toEqual({ [a.id]: 1, [b.id]: 0 });
  await desk.patch(path, { lines: { [a.id]: 1, [b.id]: 1 } }).expect(400);
  await desk.patch(path, { chosen: 'nothing' }).expect(404);
  expect(((await desk.patch(path, { skipped: true }).expect(200)).body as GroupDetails).state).toBe('skipped');
  const nobody = await group(lookup, /Nobody/);
  const found = (
    await desk
      .patch(`/lookups/${lookup.id}/groups/${nobody.id}`, {
        query: { artist: 'Mabel Orr', album: '', title: 'Three Hulls' },
      })
      .expect(200)
  ).body as GroupDetails;
  expect(found.query.title).toBe('Three Hulls');
});

test('by sound: a file whose tags say nothing', async () => {
  const lookup = await lookUp({ selection: { ids: [await idOf('x1.flac')] }, how: 'sound' });
  const heard = await group(lookup, /x1/);
  expect(heard.candidates[0]!.release.title).toBe('Halyard');
  expect(heard.candidates[0]!.match.reasons[0]).toMatch(/sounds like it: \d+ % alike/);
});

test('the filler says how many it can fill, and fills only those fields', async () => {
  const lookup = await lookUp({ fill: { fields: ['year', 'genre'], clear: false } });
  const run = ((await desk.get('/runs')).body as { id: number; report: LookupReport }[]).find(
    (r) => r.id === lookup.runId,
  )!;
  expect(run.report.filled).toBeGreaterThanOrEqual(4);
  expect(run.report.filled + run.report.notFilled).toBe(((await desk.get('/tracks')).body as SheetPage).total);
});

test('an outage is waited for; when it lasts, it is said, the rest is left, and can be asked again', async () => {
  const words: (string | null)[] = [];
  const database = await connect(desk.databaseUrl);
  try {
    await control({ down: true });
    let waited = 0;
    const catalogue = openCatalogue(database, whimbrel.address, {
      gapMs: 0,
      tries: 4,
      trouble: (w) => words.push(w),
      wait: async (ms) => {
        waited += ms;
        if (waited > 2000) await control({ down: false });
      },
    });
    expect((await catalogue.search({ artist: 'Iri Vane', album: '', title: 'Switchgear' }, 5))[0]!.title).toBe(
      'Switchgear',
    );
    expect(words.at(-1)).toBeNull();
    for (const w of words.slice(0, -1)) expect(w).toMatch(/down; waiting \d s/);
    expect(words.length).toBeGreaterThan(1);
    // Asked twice, it answers from what is kept.
    await control({ down: true });
    expect((await catalogue.search({ artist: 'Iri Vane', album: '', title: 'Switchgear' }, 5))[0]!.title).toBe(
      'Switchgear',
    );
    await expect(
      openCatalogue(database, whimbrel.address, { gapMs: 0, tries: 2, wait: async () => undefined }).release(
        'never asked',
      ),
    ).rejects.toThrow('The catalogue is down');
    await control({ down: false, limit: 1 });
    const limited: (string | null)[] = [];
    const polite = openCatalogue(database, whimbrel.address, { gapMs: 0, trouble: (w) => limited.push(w) });
    await polite.search({ artist: 'a', album: '', title: '' }, 1);
    await polite.search({ artist: 'b', album: '', title: '' }, 1);
    expect(limited[0]).toMatch(/asked too often/);
  } finally {
    await control(QUICK);
    await database.close();
  }
  expect(() => openCatalogue(database, 'http://example.com')).toThrow(RangeError);
});

test('cancelled, it stops; what was found stays; the rest can be asked again', async () => {
  await control({ slowEvery: 1, slowMs: 700 });
  await desk.query('DELETE FROM catalogue_cache');
  const { body } = await desk
    .post('/lookups', { selection: { where: { all: [] }, except: [] }, how: 'fields' })
    .expect(200);
  const { id, runId } = body as { id: number; runId: number };
  await desk.post(`/runs/${runId}/cancel`).expect(200);
  await control(QUICK);
  await desk.until(
    async () => ((await desk.get(`/lookups/${id}`)).body as Lookup).groups.every((g) => g.state !== 'waiting'),
    'nothing waits',
  );
  await desk.until(
    async () =>
      (await desk.query('SELECT 1 FROM runs WHERE id = $1 AND finished_at IS NOT NULL', [runId])).length === 1,
    'the run has ended',
  );
  expect(
    ((await desk.get(`/lookups/${id}`)).body as Lookup).groups.some(
      (g) => g.reason === 'Cancelled before its turn came',
    ),
  ).toBe(true);
  await desk.post(`/runs/${runId}/retry`).expect(200);
  await desk.until(async () => {
    const l = (await desk.get(`/lookups/${id}`)).body as Lookup;
    return !l.running && l.groups.some((g) => g.state === 'found');
  }, 'it was asked again');
});

test('while the picture of a release is waited for, other edits go on', async () => {
  const lookup = await lookUp({});
  const groups = await Promise.all(
    lookup.groups
      .filter((g) => g.state === 'found')
      .map((g) => group(lookup, new RegExp(`^${g.name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}$`))),
  );
  const pictured = groups.find((g) => g.candidates.find((c) => c.release.id === g.chosen)?.release.hasPicture);
  expect(pictured).toBeDefined();
  const ended: string[] = [];
  await control({ slowEvery: 1, slowMs: 1500 });
  const taking = desk
    .post(`/lookups/${lookup.id}/take`, { groups: [pictured!.id], policies: { ...policies, picture: 'replace' } })
    .expect(200)
    .then(() => ended.push('taken'));
  await desk
    .post('/fields', {
      selection: { ids: [await idOf('A Name Nobody Has')] },
      field: 'notes',
      value: 'Ask the harbour office',
    })
    .expect(200);
  ended.push('edited');
  await taking;
  await control(QUICK);
  expect(ended).toEqual(['edited', 'taken']);
  await desk.post('/undo', {}).expect(200);
  await desk.post('/undo', {}).expect(200);
});
