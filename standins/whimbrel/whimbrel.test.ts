import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { makeReleases } from './releases.ts';
import { recordingKey } from './recordings.ts';
import { startWhimbrel, DEFAULT_MOOD, type Whimbrel } from './service.ts';
import { WORKS } from './works.ts';

let whimbrel: Whimbrel;
beforeAll(async () => {
  whimbrel = await startWhimbrel({ mood: { ...DEFAULT_MOOD, limit: 1000, slowEvery: 0, downEvery: 0 } });
});
afterAll(() => whimbrel.stop());
const ask = async (path: string): Promise<{ status: number; body: never }> => {
  const r = await fetch(`${whimbrel.address}${path}`);
  return { status: r.status, body: (await r.json()) as never };
};
const control = (mood: object): Promise<unknown> =>
  fetch(`${whimbrel.address}/control`, { method: 'POST', body: JSON.stringify(mood) });

describe('releases', () => {
  const releases = makeReleases(new Map());
  test('every work has one; ids are its own, and the same every time', () => {
    expect(new Set(releases.map((r) => r.id)).size).toBe(releases.length);
    expect(releases.length).toBeGreaterThan(WORKS.length);
    expect(makeReleases(new Map())).toEqual(releases);
    for (const r of releases) {
      expect(r.tracks.length).toBeGreaterThan(0);
      expect(r.tracks.every((t) => t.title && t.artists.length > 0 && t.number > 0)).toBe(true);
    }
  });
  test('lengths come from recordings that were handed in', () => {
    const known = makeReleases(
      new Map([
        [
          recordingKey(['Vesna Rook'], 'Ferry Clerk', null),
          { artist: 'Vesna Rook', title: 'Ferry Clerk', version: null, seconds: 77, fingerprint: '' },
        ],
      ]),
    );
    expect(known.find((r) => r.title === 'Ferry Clerk')!.tracks[0]!.seconds).toBe(77);
  });
});

describe('answers', () => {
  test('a search puts what is meant first, and knows look-alikes', async () => {
    const { body } = await ask('/v1/releases?artist=Brine%20Choir&album=Harbour%20Wall');
    const found = (body as { releases: { title: string; artists: string[]; relevance: number }[] }).releases;
    expect(found[0]).toMatchObject({ title: 'Harbour Wall', artists: ['Brine Choir'] });
    expect(found.some((r) => r.artists[0] === 'The Brine Chorus' && r.relevance < found[0]!.relevance)).toBe(true);
    expect((await ask('/v1/releases?artist=Nobody%20There&album=Nothing')).body).toEqual({ releases: [] });
  });
  test('a release, its picture, and what is not there', async () => {
    const { body } = await ask('/v1/releases?artist=Mabel%20Orr&album=Three%20Hulls');
    const { id } = (body as { releases: { id: string }[] }).releases[0]!;
    expect(((await ask(`/v1/releases/${id}`)).body as { tracks: unknown[] }).tracks.length).toBeGreaterThan(1);
    expect((await ask('/v1/releases/none')).status).toBe(404);
    expect((await ask('/elsewhere')).status).toBe(404);
  });
  test('moods: too often, down, slow', async () => {
    await control({ limit: 1 });
    expect([(await ask('/v1/releases?artist=a')).status, (await ask('/v1/releases?artist=a')).status]).toEqual([
      200, 429,
    ]);
    await control({ limit: 1000, down: true });
    expect((await ask('/v1/releases?artist=a')).status).toBe(503);
    await control({ down: false });
    expect((await ask('/v1/releases?artist=a')).status).toBe(200);
  });
});
