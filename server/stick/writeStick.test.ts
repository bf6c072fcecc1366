import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { compareStick } from '@early-set/core/stick/compare';
import { place } from '../files/place.ts';
import { mountExfat, mountSmall, testOnDrive, testOnExfat, unmount } from '../testing/mounts.ts';
import { sizesOn, writeStick, type StickReport, type StickWork } from './writeStick.ts';
import { openWritten } from './written.ts';

let folder: string, home: string, kept: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-stick-'));
  home = join(folder, 'stick');
  kept = join(folder, 'desk/written.jsonl');
  mkdirSync(home);
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** What is to be on the stick: text by path. "!" cannot be made. */
type Wanted = Record<string, string>;
const A: Wanted = { 'Slipway/01 a.mp3': 'aaaa', 'Slipway/02 b.mp3': 'bb', 'Boat/c.mp3': 'c', 'Slipway.m3u8': 'list' };
const B: Wanted = { 'Slipway/01 a.mp3': 'other sound', 'Slipway/02 d.mp3': 'dd', 'Slipway.m3u8': 'list 2' };

function planned(wanted: Wanted) {
  const written = openWritten(kept);
  const sizes = sizesOn(home);
  const files = Object.entries(wanted).map(([path, text]) => ({ path, sound: text, tags: '', bytes: text.length }));
  return { written, changes: compareStick(files, written.files(sizes), sizes) };
}
function write(wanted: Wanted, more: Partial<StickWork> = {}): Promise<StickReport> {
  const { written, changes } = planned(wanted);
  return writeStick({
    ...{ home, scratch: join(folder, 'desk/scratch'), written, remove: changes.removed },
    place: (wish) => Promise.resolve(place(wish)),
    write: changes.files
      .filter((f) => f.state !== 'same')
      .map(({ wanted: { path, sound, tags } }) => ({
        ...{ path, sound, tags },
        make(scratch) {
          if (sound === '!') return Promise.reject(new RangeError('It is broken'));
          const made = `${scratch}.made`;
          writeFileSync(made, sound);
          const { size, mtimeMs } = statSync(made);
          return Promise.resolve({ path: made, size, modifiedMs: mtimeMs });
        },
      })),
    ...more,
  });
}
/** All that lies there, hidden files too. */
const onStick = (below = ''): Wanted =>
  Object.fromEntries(
    readdirSync(join(home, below), { withFileTypes: true }).flatMap((e): [string, string][] => {
      const path = join(below, e.name);
      return e.isDirectory()
        ? Object.entries({ [`${path}/`]: '', ...onStick(path) }).filter(
            ([p]) => !p.endsWith('/') || readdirSync(join(home, p)).length === 0,
          )
        : [[path, readFileSync(join(home, path), 'utf8')]];
    }),
  );
const sorted = (wanted: Wanted): [string, string][] => Object.entries(wanted).sort(([a], [b]) => (a < b ? -1 : 1));
const expectThere = (wanted: Wanted): void => expect(sorted(onStick())).toEqual(sorted(wanted));
const isLeft = (wanted: Wanted): boolean => {
  const { files, removed } = planned(wanted).changes;
  return removed.length > 0 || files.some((f) => f.state !== 'same');
};

test('all of it; then nothing; then only what changed, and what is no longer wanted goes', async () => {
  expect(await write(A)).toMatchObject({ written: 4, removed: 0, bytes: 11, failed: [], stopped: null });
  expectThere(A);
  expect(await write(A)).toMatchObject({ written: 0, removed: 0 });
  expect(await write(B)).toMatchObject({ written: 3, removed: 2, stopped: null });
  expectThere(B);
  expect(isLeft(B)).toBe(false);
  expect(existsSync(join(folder, 'desk/scratch'))).toBe(false);
});

test('what is not ours is not touched: neither what has a name that we want, nor what was put over ours', async () => {
  mkdirSync(join(home, 'Boat'));
  writeFileSync(join(home, 'Boat/c.mp3'), 'somebody else');
  writeFileSync(join(home, 'mine.txt'), 'mine');
  expect(await write(A)).toMatchObject({
    written: 3,
    failed: [{ path: 'Boat/c.mp3', reason: 'A file of somebody else has this name there' }],
  });
  writeFileSync(join(home, 'Slipway/02 b.mp3'), 'somebody put this here');
  await write({});
  expectThere({ 'Boat/c.mp3': 'somebody else', 'mine.txt': 'mine', 'Slipway/02 b.mp3': 'somebody put this here' });
});

test('one that cannot be made is told, the others are written', async () => {
  expect(await write({ ...A, 'Slipway/01 a.mp3': '!' })).toMatchObject({
    written: 3,
    failed: [{ path: 'Slipway/01 a.mp3', reason: 'It is broken' }],
    stopped: null,
  });
});

describe('killed', () => {
  test('at each step: no half file under a name, what was there or what will be, and the same end', async () => {
    for (let at = 0, killed = true; killed; at++) {
      rmSync(folder, { recursive: true });
      mkdirSync(home, { recursive: true });
      writeFileSync(join(home, 'mine.txt'), 'mine');
      await write(A);
      let steps = 0;
      killed = await new Promise<boolean>((resolve) => {
        // Nothing of it ever happens behind this.
        const die = (): Promise<void> => (resolve(true), new Promise(() => undefined));
        void write(B, { step: () => (steps++ === at ? die() : undefined) }).then(() => resolve(false));
      });
      for (const [path, text] of sorted(onStick())) expect([A[path], B[path], 'mine']).toContain(text);
      await write(B);
      expectThere({ ...B, 'mine.txt': 'mine' });
      expect(isLeft(B)).toBe(false);
      // 2 are removed, 3 written in four steps each.
      expect(killed).toBe(at < 14);
    }
  });
  test('where somebody looks at any moment: nothing is ever missing, and what is unsure is made anew', async () => {
    const later: Wanted = { ...B, 'Slipway.m3u8': 'tsil' };
    for (let at = 0, killed = true; killed; at++) {
      rmSync(folder, { recursive: true });
      mkdirSync(home, { recursive: true });
      await write(A, { isWatched: true });
      let steps = 0;
      const names = new Set(Object.keys(A));
      killed = await new Promise<boolean>((resolve) => {
        const die = (): Promise<void> => (resolve(true), new Promise(() => undefined));
        const step: StickWork['step'] = (what, path) => {
          if (what === 'placed') names.add(path);
          if (what === 'removed') names.delete(path);
          expect(sorted(onStick()).flatMap(([p]) => (p.endsWith('/') ? [] : [p]))).toEqual([...names].sort());
          if (what === 'removed') for (const p of Object.keys(later)) expect(onStick()[p]).toBe(later[p]);
          return steps++ === at ? die() : undefined;
        };
        void write(later, { isWatched: true, step }).then(() => resolve(false));
      });
      for (const [path, text] of sorted(onStick())) if (text) expect([A[path], later[path]]).toContain(text);
      expect(await write(later, { isWatched: true })).toMatchObject({ failed: [] });
      expect(sorted(onStick()).filter(([p]) => !p.endsWith('/'))).toEqual(sorted(later));
      expect(isLeft(later)).toBe(false);
      expect(killed).toBe(at < 14);
    }
  });
  test('in the middle of its notes: the half line counts for nothing', async () => {
    await write(A);
    writeFileSync(kept, `${readFileSync(kept, 'utf8')}{"will":{"path":"Boat/c`);
    expect(isLeft(A)).toBe(false);
  });
});

test('called off: what is there is whole, and it goes on from there', async () => {
  const off = new AbortController();
  const report = await write(A, { signal: off.signal, progress: (done) => done === 2 && off.abort() });
  expect(report).toMatchObject({ written: 2, stopped: 'cancelled' });
  for (const [path, text] of sorted(onStick())) expect(A[path]).toBe(text);
  expect(await write(A)).toMatchObject({ written: 2, stopped: null });
  expectThere(A);
});

describe('a drive of its own', () => {
  const big: Wanted = Object.fromEntries(['a', 'b', 'c', 'd'].map((n) => [`x/${n}.mp3`, n.repeat(100_000)]));
  testOnDrive('full: it stops, what is there is whole; with room it goes on', async () => {
    mountSmall(home, '300k');
    try {
      const report = await write(big);
      expect(report).toMatchObject({ stopped: 'full', failed: [] });
      expect(report.written).toBeGreaterThan(0);
      for (const [path, text] of sorted(onStick())) expect(big[path]).toBe(text);
      const fewer = { 'x/a.mp3': 'small', 'x/d.mp3': big['x/d.mp3']! };
      expect(await write(fewer)).toMatchObject({ stopped: null });
      expectThere(fewer);
    } finally {
      unmount(home);
    }
  });
  testOnDrive('pulled out: nothing is written where it was; put in again, it goes on', async () => {
    mountSmall(home, '2m');
    const report = await write(big, {
      step: (at, path) => void (at === 'made' && basename(path) === 'c.mp3' && unmount(home)),
    });
    expect(report).toMatchObject({ written: 2, stopped: 'gone' });
    expect(readdirSync(dirname(home))).toContain(basename(home));
    expectThere({});
  });
});

testOnExfat(
  'on exFAT: written, changed, killed at any step, written again; what is not ours stays',
  async () => {
    const end = mountExfat(home, join(folder, 'image'), '32M');
    expect(end).not.toBeNull();
    try {
      writeFileSync(join(home, 'mine.txt'), 'mine');
      const first: Wanted = { ...A, 'Größe – Übung/03 Ünder.mp3': 'letters', 'House/x.mp3': 'x' };
      const then: Wanted = { ...B, 'Größe – Übung/03 ünder.mp3': 'letters', 'HOUSE/x.mp3': 'x' };
      expect(await write(first)).toMatchObject({ written: 6, failed: [], stopped: null });
      expectThere({ ...first, 'mine.txt': 'mine' });
      for (let at = 0, killed = true; killed; at += 3) {
        let steps = 0;
        killed = await new Promise<boolean>((resolve) => {
          const die = (): Promise<void> => (resolve(true), new Promise(() => undefined));
          void write(then, { step: () => (steps++ === at ? die() : undefined) }).then(() => resolve(false));
        });
        const known = new Set([...Object.values(first), ...Object.values(then), 'mine', '']);
        for (const text of Object.values(onStick())) expect(known).toContain(text);
        expect(await write(then)).toMatchObject({ failed: [], stopped: null });
        expect(isLeft(then)).toBe(false);
        // exFAT keeps a folder's name as it was first written.
        const names = (wanted: Wanted): string[] =>
          Object.keys(wanted)
            .map((name) => name.toLowerCase())
            .sort();
        expect(names(onStick())).toEqual(names({ ...then, 'mine.txt': 'mine' }));
        expect(await write(first)).toMatchObject({ failed: [], stopped: null });
      }
      expect(readFileSync(join(home, 'mine.txt'), 'utf8')).toBe('mine');
    } finally {
      end!();
    }
  },
  120_000,
);
