import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compareStick, foreignFiles, type WantedFile } from './compare.ts';
import { layOut, sameName, type LayoutWish, type StickList, type StickTrack } from './layout.ts';
import { formatOf, PLAYERS, TARGETS } from './player.ts';
import { bytesFor, recipeFor, type ConvertWish } from './recipe.ts';

const PLAYER = PLAYERS.oystercatcher!;
const CONVERT: ConvertWish = { when: 'needed', format: 'aac', kbps: 256, lufs: null };
const NUMBERED = '{{ list }}/{{ counter | pad: 3 }} {{ title }}';
const wish = (more: Partial<LayoutWish> = {}): LayoutWish => ({
  names: NUMBERED,
  accents: 'keep',
  convert: CONVERT,
  ...more,
});
const track = (id: number, title: string, more: Partial<StickTrack> = {}): StickTrack => ({
  id,
  ending: '.mp3',
  codec: 'mp3',
  lufs: -9,
  values: { title, artist: ['Vesna Rook'] },
  ...more,
});
const tracksOf = (...all: StickTrack[]): Map<number, StickTrack> => new Map(all.map((t) => [t.id, t]));
const list = (name: string, trackIds: number[], place: string[] = []): StickList => ({
  id: name,
  name,
  place,
  trackIds,
});

describe('how a file is made', () => {
  const of = (ending: string, codec: string | null, more: Partial<ConvertWish> = {}, lufs: number | null = -9) =>
    recipeFor({ ending, codec, lufs }, PLAYER, { ...CONVERT, ...more });
  const AS_IT_IS = { format: null, kbps: null, lufs: null };
  test('as it is where the player plays it, else converted', () => {
    expect(of('.mp3', 'mp3')).toEqual(AS_IT_IS);
    expect(of('.M4A', 'aac')).toEqual(AS_IT_IS);
    for (const [ending, codec] of [
      ['.flac', 'flac'],
      ['.m4a', 'alac'],
      ['.wav', 'pcm_s24le'],
      ['.mpc', null],
    ] as const)
      expect(of(ending, codec)).toEqual({ format: 'aac', kbps: 256, lufs: null });
  });
  test('whoever has read it calls a codec otherwise', () => {
    for (const [ending, codec] of [
      ['.mp3', 'MPEG 1 Layer 3'],
      ['.mp3', 'MPEG 2.5 Layer 3'],
      ['.m4a', 'MPEG-4/AAC'],
      ['.m4a', 'aac'],
    ] as const)
      expect(of(ending, codec)).toEqual(AS_IT_IS);
    for (const [ending, codec] of [
      ['.mp3', 'MPEG 1 Layer 2'],
      ['.m4a', 'ALAC'],
      ['.ogg', 'FLAC'],
      ['.aac', 'AAC'],
    ] as const)
      expect(of(ending, codec)).toMatchObject({ format: 'aac' });
    expect(formatOf('.wav', 'non-PCM (65534)')).toBe('wav');
    expect(formatOf('.aif', 'PCM')).toBe('aiff');
    expect(formatOf('.oga', 'Vorbis I')).toBe('ogg');
  });
  test('any player is given everything as it is', () => {
    const odd = { ending: '.mpc', codec: 'musepack8', lufs: null };
    expect(recipeFor(odd, PLAYERS.folder!, CONVERT)).toEqual(AS_IT_IS);
  });
  test('always: all but what has the format already', () => {
    expect(of('.mp3', 'mp3', { when: 'always' })).toMatchObject({ format: 'aac' });
    expect(of('.m4a', 'aac', { when: 'always' })).toEqual(AS_IT_IS);
  });
  test('levelled: converted unless it is right already, or nobody knows', () => {
    expect(of('.mp3', 'mp3', { lufs: -14 })).toEqual({ format: 'aac', kbps: 256, lufs: -14 });
    expect(of('.mp3', 'mp3', { lufs: -9.2 })).toEqual(AS_IT_IS);
    expect(of('.mp3', 'mp3', { lufs: -14 }, null)).toEqual(AS_IT_IS);
  });
  test('nothing that the player does not play', () => {
    expect(of('.flac', 'flac', { format: 'opus' })).toBeNull();
  });
  test('bytes that come of it', () => {
    const made = { size: 30e6, seconds: 240 };
    expect(bytesFor({ format: null, kbps: null, lufs: null }, made)).toBe(30e6);
    expect(bytesFor({ format: 'mp3', kbps: 320, lufs: null }, made)).toBe(9.6e6);
    expect(bytesFor({ format: 'wav', kbps: null, lufs: null }, made)).toBe(240 * 44100 * 4);
  });
});

describe('where files lie', () => {
  test('by the rule, in folders of any depth, in the order of the list; each list names its files', () => {
    const tracks = tracksOf(track(1, 'Tin Shed Rain'), track(2, 'Eel Grass', { ending: '.flac', codec: 'flac' }));
    const names = '{{ place }}/{{ list }}/{{ counter | pad: 2 }} {{ title }}';
    const { files, lists } = layOut(tracks, [list('Slipway', [2, 1], ['Gigs', 'Club'])], wish({ names }), PLAYER);
    expect(files.map((f) => f.path)).toEqual([
      'Gigs/Club/Slipway/01 Eel Grass.m4a',
      'Gigs/Club/Slipway/02 Tin Shed Rain.mp3',
    ]);
    expect(lists).toEqual([{ listId: 'Slipway', path: 'Gigs - Club - Slipway.m3u8', files }]);
  });
  test('one file for all lists, where the name says neither list nor number', () => {
    const names = '{{ artist }}/{{ title }}';
    const { files, lists } = layOut(
      tracksOf(track(1, 'One'), track(2, 'Two'), track(3, 'One')),
      [list('A', [1, 2]), list('B', [2, 1, 3])],
      wish({ names }),
      PLAYER,
    );
    expect(files.map((f) => f.path)).toEqual(['Vesna Rook/One.mp3', 'Vesna Rook/Two.mp3', 'Vesna Rook/One 2.mp3']);
    expect(lists[1]!.files.map((f) => f.trackId)).toEqual([2, 1, 3]);
  });
  test('long names are cut behind a word, and said so', () => {
    const { files } = layOut(
      tracksOf(track(1, 'Quay Lamps at the End of a Very Long Walk Home along the Harbour Wall')),
      [list('A', [1])],
      wish(),
      PLAYER,
    );
    expect(files).toMatchObject([
      { path: 'A/001 Quay Lamps at the End of a Very Long Walk Home along the.mp3', cut: true },
    ]);
  });
  test('what cannot go there is told, once; names of others are left to them', () => {
    const { files, refused } = layOut(
      tracksOf(track(1, 'One'), track(2, ''), track(3, 'Three', { broken: true })),
      [list('A', [1, 2, 9, 3]), list('B', [2])],
      wish({ names: '{{ title }}' }),
      PLAYER,
      ['ONE.mp3'],
    );
    expect(files.map((f) => f.path)).toEqual(['One 2.mp3']);
    expect(refused).toEqual([
      { trackId: 2, reason: 'It has no title' },
      { trackId: 9, reason: 'its file is not there' },
      { trackId: 3, reason: 'its sound cannot be read' },
    ]);
  });
  test('a full folder goes on in a further one', () => {
    const all = Array.from({ length: 600 }, (_, i) => track(i + 1, `T${i}`));
    const { files } = layOut(
      tracksOf(...all),
      [
        list(
          'A',
          all.map((t) => t.id),
        ),
      ],
      wish({ names: '{{ list }}/{{ title }}' }),
      PLAYER,
    );
    const folders = files.map((f) => f.path.split('/')[0]!);
    expect([folders[253], folders[254], folders[508]]).toEqual(['A', 'A 2', 'A 3']);
  });
  test('folders whose names differ in case alone are one, also where it goes on', () => {
    const all = Array.from({ length: 300 }, (_, i) => track(i + 1, `T${i}`));
    const lists = ['House', 'HOUSE'].map((name) =>
      list(
        name,
        all.map((t) => t.id),
      ),
    );
    const { files } = layOut(tracksOf(...all), lists, wish({ names: '{{ list }}/x/{{ title }}' }), PLAYER);
    expect([...new Set(files.map((f) => f.path.split('/').slice(0, 2).join('/')))]).toEqual([
      ...['House/x', 'House/x 2', 'House/x 3'],
    ]);
  });
  const title = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 90 });
  test('whatever things are called: names that the player shows, each once, no folder too full', () => {
    fc.assert(
      fc.property(
        fc.array(title, { minLength: 1, maxLength: 300 }),
        fc.array(fc.record({ name: title, place: fc.array(title, { maxLength: 2 }) }), { minLength: 1, maxLength: 4 }),
        fc.constantFrom(NUMBERED, '{{ title }}', '{{ place }}/{{ list }}/{{ title }}', '{{ title }}/{{ list }}'),
        (titles, named, names) => {
          const all = titles.map((t, i) => track(i + 1, t));
          const lists = named.map(({ name, place }, i) => ({
            ...list(
              name,
              all.map((t) => t.id),
              place,
            ),
            id: String(i),
          }));
          const { files, lists: laid, refused } = layOut(tracksOf(...all), lists, wish({ names }), PLAYER);
          const paths = [...files.map((f) => f.path), ...laid.map((l) => l.path)];
          expect(new Set(paths.map(sameName)).size).toBe(paths.length);
          const folders = new Map<string, number>();
          for (const path of paths) {
            const parts = path.split('/');
            for (const part of parts) {
              expect(part.length).toBeLessThanOrEqual(64);
              expect(part).not.toMatch(/[\\/:*?"<>|\u0000-\u001f]|[. ]$|^$/);
            }
            const folder = parts.slice(0, -1).join('/');
            folders.set(folder, (folders.get(folder) ?? 0) + 1);
          }
          expect(Math.max(...folders.values())).toBeLessThanOrEqual(254);
          const spelt = [...folders.keys()];
          expect(new Set(spelt.map(sameName)).size).toBe(spelt.length);
          const gone = new Set(refused.map((r) => r.trackId));
          // Where a rule leaves no name in one list it may leave one in another.
          for (const { files: listed } of laid)
            expect(listed.flatMap((f) => (gone.has(f.trackId) ? [] : [f.trackId]))).toEqual(
              all.flatMap((t) => (gone.has(t.id) ? [] : [t.id])),
            );
        },
      ),
      { numRuns: 150 },
    );
  });
});

describe('what has to be written', () => {
  const file = (path: string, more: Partial<WantedFile> = {}): WantedFile => ({
    ...{ path, sound: 's', tags: 't', bytes: 100 },
    ...more,
  });
  const asWritten = ({ bytes, ...rest }: WantedFile): WantedFile & { size: number } => ({
    ...rest,
    bytes,
    size: bytes,
  });
  test('only what is new or has changed; what is no longer wanted goes, unless somebody has changed it', () => {
    const written = ['a', 'b', 'c', 'd', 'e', 'f', 'g'].map((p) => asWritten(file(p)));
    const sizes = new Map(['a', 'b', 'c', 'E', 'f', 'g', 'foreign'].map((p) => [p, 100]));
    sizes.set('g', 7);
    const wanted = [
      file('a'),
      file('b', { tags: 'u' }),
      file('c', { sound: 'x' }),
      file('d'),
      file('new', { bytes: 9 }),
    ];
    const made = compareStick(wanted, written, sizes);
    expect(made.files.map((f) => f.state)).toEqual(['same', 'other tags', 'other sound', 'gone from there', 'new']);
    expect(made.removed.map((f) => f.path)).toEqual(['e', 'f']);
    expect(made.left.map((f) => f.path)).toEqual(['g']);
    expect(made.bytes).toEqual({ comes: 309, stays: 100, goes: 400 });
    expect(foreignFiles(written, sizes.keys())).toEqual(['foreign']);
  });
  test('once it is written nothing is left to do, in whatever case the stick gives the names', () => {
    const paths = fc.uniqueArray(fc.string({ minLength: 1, maxLength: 6 }), { selector: sameName });
    fc.assert(
      fc.property(paths, paths, (before, after) => {
        const wanted = after.map((path) => file(path));
        const sizes = new Map(before.map((p) => [p, 100]));
        const { removed } = compareStick(
          wanted,
          before.map((p) => asWritten(file(p))),
          sizes,
        );
        const now = new Map([...sizes.keys()].filter((p) => !removed.some((r) => r.path === p)).map((p) => [p, 100]));
        for (const { path } of wanted)
          now.set([...now.keys()].find((p) => sameName(p) === sameName(path)) ?? path, 100);
        const again = compareStick(wanted, wanted.map(asWritten), now);
        expect(again.files.every((f) => f.state === 'same')).toBe(true);
        expect(again.removed).toEqual([]);
        expect(now.size).toBe(wanted.length);
      }),
    );
  });
});

test('every format that files are converted to has an ending of its own', () => {
  expect(new Set(Object.values(TARGETS).map((t) => t.ending)).size).toBe(Object.keys(TARGETS).length);
});
