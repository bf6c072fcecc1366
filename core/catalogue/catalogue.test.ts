import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { bestAssignment } from './assignment.ts';
import { clusterTracks } from './clusters.ts';
import { judgeLines, matchRelease, SURE_SCORE } from './match.ts';
import { CATALOGUE_FIELDS, fillerPolicies, proposals, DEFAULT_POLICIES } from './proposals.ts';
import type { LookedUp, Release } from './releases.ts';
import { namesSimilarity, similarity } from './similarity.ts';

let next = 1;
const track = (title: string, more: Partial<LookedUp> = {}): LookedUp => ({
  id: next++,
  rootId: 1,
  path: `A/${title}.mp3`,
  title,
  version: '',
  artists: ['Vesna Rook'],
  album: '',
  albumArtist: '',
  trackNumber: null,
  discNumber: null,
  year: null,
  seconds: null,
  ...more,
});
const release = (titles: string[], more: Partial<Release> = {}): Release => ({
  id: 'r',
  title: 'Lamp Room',
  artists: ['Vesna Rook'],
  year: 2021,
  country: 'HR',
  format: 'file',
  label: 'Low Lamp',
  catalogueNumber: 'LL1',
  genres: [{ genre: 'Electronic', subGenres: ['House'] }],
  credits: [],
  hasPicture: false,
  tracks: titles.map((t, i) => {
    const [title, version = null] = t.split(' / ');
    return {
      disc: 1,
      number: i + 1,
      title: title!,
      version,
      artists: ['Vesna Rook'],
      seconds: 200 + i * 30,
      isrc: null,
    };
  }),
  ...more,
});

describe('likeness of names', () => {
  test('case, accents, marks and "and" do not count; other words do', () => {
    expect(similarity('MARROW & PINE', 'Marrow and Pine')).toBe(1);
    expect(similarity('Corazón de Sal', 'corazon_de_sal')).toBe(1);
    expect(similarity('Brine Choir', 'The Brine Chorus')).toBeGreaterThan(0.5);
    expect(similarity('Brine Choir', 'The Brine Chorus')).toBeLessThan(0.9);
    expect(similarity('Ferry Clerk', 'Kelp Line')).toBeLessThan(0.3);
    expect(namesSimilarity(['A One', 'B Two'], ['B Two', 'A One'])).toBe(1);
  });
  test('it lies between 0 and 1 and is the same from both sides', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 30 }), fc.string({ maxLength: 30 }), (a, b) => {
        const s = similarity(a, b);
        expect(s).toBeGreaterThanOrEqual(0);
        expect(s).toBeLessThanOrEqual(1);
        expect(similarity(b, a)).toBeCloseTo(s, 12);
      }),
    );
  });
});

test('the assignment is the best there is, compared with all of them', () => {
  const scores = fc.integer({ min: 1, max: 4 }).chain((rows) =>
    fc.integer({ min: 1, max: 4 }).chain((columns) =>
      fc.array(
        fc.array(
          fc.integer({ min: 0, max: 100 }).map((n) => n / 100),
          { minLength: columns, maxLength: columns },
        ),
        { minLength: rows, maxLength: rows },
      ),
    ),
  );
  const least = 0.5;
  const worth = (table: number[][], chosen: number[]): number =>
    chosen.reduce((n, c, i) => n + (c >= 0 ? table[i]![c]! : least - 1e-9), 0);
  const best = (table: number[][], row = 0, used: number[] = []): number => {
    if (row === table.length) return 0;
    let most = least - 1e-9 + best(table, row + 1, used);
    table[row]!.forEach((s, c) => {
      if (!used.includes(c) && s >= least) most = Math.max(most, s + best(table, row + 1, [...used, c]));
    });
    return most;
  };
  fc.assert(
    fc.property(scores, (table) => {
      const found = bestAssignment(table, least);
      const taken = found.filter((c) => c >= 0);
      expect(new Set(taken).size).toBe(taken.length);
      found.forEach((c, i) => {
        if (c >= 0) expect(table[i]![c]!).toBeGreaterThanOrEqual(least);
      });
      expect(worth(table, found)).toBeCloseTo(best(table), 6);
    }),
  );
});

describe('clusters', () => {
  test('albums by folder and tags; discs together; the rest one by one', () => {
    const album = ['One', 'Two', 'Three'].map((t, i) =>
      track(t, { album: 'Lamp Oil Hours', path: `Ada/Lamp Oil Hours/CD${i < 2 ? 1 : 2}/${t}.mp3` }),
    );
    const loose = track('Alone', { path: 'Inbox/alone.mp3' });
    const clusters = clusterTracks([...album, loose]);
    expect(clusters.map((c) => [c.kind, c.trackIds])).toEqual([
      ['album', album.map((t) => t.id)],
      ['single', [loose.id]],
    ]);
    expect(clusters[0]!.query).toEqual({ artist: 'Vesna Rook', album: 'Lamp Oil Hours', title: '' });
  });
  test('numbered names without tags are an album by their folder; asked to, it is torn apart', () => {
    const ripped = ['01 bed', '02 tide', '03 end'].map((t) =>
      track('', { path: `Rips/The Copper Gate - Varnish/${t}.flac`, artists: [] }),
    );
    const [one, ...none] = clusterTracks(ripped);
    expect(none).toEqual([]);
    expect(one).toMatchObject({ kind: 'album', query: { artist: 'The Copper Gate', album: 'Varnish' } });
    expect(clusterTracks(ripped, true).map((c) => c.kind)).toEqual(['single', 'single', 'single']);
  });
  test('every track is in just one cluster', () => {
    const some = fc.array(
      fc.record({
        folder: fc.constantFrom('A', 'A/CD1', 'B', ''),
        album: fc.constantFrom('', 'X', 'Y'),
        n: fc.option(fc.integer({ min: 1, max: 9 })),
      }),
      { maxLength: 12 },
    );
    fc.assert(
      fc.property(some, (specs) => {
        const tracks = specs.map(({ folder, album, n }, i) =>
          track(`t${i}`, { album, trackNumber: n, path: `${folder ? `${folder}/` : ''}t${i}.mp3` }),
        );
        expect(
          clusterTracks(tracks)
            .flatMap((c) => c.trackIds)
            .sort(),
        ).toEqual(tracks.map((t) => t.id).sort());
      }),
    );
  });
});

describe('matching a release', () => {
  const tracks = ['Lamp Room', 'Stairwell', 'Landing'].map((t, i) =>
    track(t, { album: 'Lamp Room', seconds: 200 + i * 30, trackNumber: i + 1, year: 2021 }),
  );
  test('the same album fits wholly; a shorter, another and a later one less, and it is said why', () => {
    const same = matchRelease(tracks, release(['Lamp Room', 'Stairwell', 'Landing']), true);
    expect(same.score).toBeGreaterThan(0.98);
    expect(Object.values(same.lines)).toEqual([0, 1, 2]);
    const shorter = matchRelease(tracks, release(['Lamp Room', 'Stairwell']), true);
    expect(shorter.reasons).toContain('2 of 3 tracks are matched');
    const longer = matchRelease(tracks, release(['Lamp Room', 'Stairwell', 'Landing', 'Attic', 'Roof']), true);
    expect(longer.reasons).toContain('2 tracks of the release without a file');
    const later = matchRelease(tracks, release(['Lamp Room', 'Stairwell', 'Landing'], { year: 2027 }), true);
    expect(later.reasons).toContain('the year is 2027, not 2021');
    const other = matchRelease(
      tracks,
      release(['Lamp Rooms', 'Stairs', 'Land'], { title: 'Lamps', artists: ['Vesna Rooks'] }),
      true,
    );
    for (const worse of [shorter, longer, later, other]) expect(worse.score).toBeLessThan(same.score);
    expect(other.score).toBeLessThan(SURE_SCORE);
  });
  test('versions are told apart, and lengths decide between equal titles', () => {
    const dub = track('Ferry Clerk', { version: 'Dub', seconds: 260 });
    expect(matchRelease([dub], release(['Ferry Clerk', 'Ferry Clerk / Dub']), false).lines).toEqual({ [dub.id]: 1 });
    const [a, b] = [track('Rain', { seconds: 230 }), track('Rain', { seconds: 200 })];
    expect(matchRelease([a!, b!], release(['Rain', 'Rain']), true).lines).toEqual({ [a!.id]: 1, [b!.id]: 0 });
  });
  test('lines chosen by hand are judged as they are', () => {
    const [a, b] = tracks as [LookedUp, LookedUp, LookedUp];
    const turned = judgeLines([a, b], release(['Lamp Room', 'Stairwell']), { [a.id]: 1, [b.id]: 0 }, true);
    expect(turned.lines).toEqual({ [a.id]: 1, [b.id]: 0 });
    expect(turned.score).toBeLessThan(matchRelease([a, b], release(['Lamp Room', 'Stairwell']), true).score);
  });
});

describe('what is taken', () => {
  const r = release(['Lamp Room / Radio Edit']),
    line = r.tracks[0]!;
  const values = { title: 'lamp room', artist: ['Vesna Rook'], year: null, genre: ['Misc'] };
  const taken = (policies = DEFAULT_POLICIES, locked: string[] = []) =>
    proposals(values, locked, r, line, policies)
      .filter((p) => p.taken)
      .map((p) => p.field);
  test('gaps are filled; asked to, values are replaced; locked ones never', () => {
    expect(taken()).toEqual(['version', 'album', 'albumArtist', 'trackNumber', 'year', 'label', 'catalogueNumber']);
    const theirs = {
      ...DEFAULT_POLICIES,
      fields: Object.fromEntries(CATALOGUE_FIELDS.map((f) => [f, 'replace'])) as typeof DEFAULT_POLICIES.fields,
    };
    expect(taken(theirs)).toContain('title');
    expect(taken(theirs, ['title', 'genre'])).not.toEqual(expect.arrayContaining(['title']));
    expect(proposals(values, ['genre'], r, line, theirs).find((p) => p.field === 'genre')).toEqual({
      field: 'genre',
      ours: ['Misc'],
      theirs: ['House'],
      taken: false,
      locked: true,
    });
  });
  test('a filler fills only what it was asked for', () => {
    expect(taken(fillerPolicies(['year', 'genre'], false))).toEqual(['year']);
    expect(taken(fillerPolicies(['year', 'genre'], true))).toEqual(['year', 'genre']);
  });
});
