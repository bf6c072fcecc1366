/** Placing files: never over another, on one drive and across two, cut short at any step, where space or rights end. */
import { spawnSync } from 'node:child_process';
import {
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, describe, expect, jest, test as anywhere } from '@jest/globals';
import { Cancelled, makeAndName, place, rename, TAKEN, type PlaceStep, type Placing } from './place.ts';
import { reasonOf } from './reasons.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-place-'));
const here = join(folder, 'here'),
  other = join(folder, 'other');
mkdirSync(here);
mkdirSync(other);
/** A small file system of its own, where this user may mount one. */
const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=3m', 'none', other]).status === 0;
afterAll(() => {
  if (mounted) spawnSync('umount', [other]);
  rmSync(folder, { recursive: true, force: true });
});

const BYTES = Buffer.from(Array.from({ length: 700_000 }, (_, i) => (i * 31) & 255));
const from = join(here, 'a.mp3');
const wish = (to: string, more: Partial<Placing> = {}): Placing => {
  const { size, mtimeMs } = statSync(from);
  return { mode: 'move', from, to, size, modifiedMs: mtimeMs, begun: false, ...more };
};
beforeEach(() => {
  for (const at of [here, other])
    for (const name of readdirSync(at)) rmSync(join(at, name), { recursive: true, force: true });
  writeFileSync(from, BYTES, { mode: 0o640 });
  utimesSync(from, 1_600_000_000, 1_600_000_000);
});

const drives = ['the same drive', 'another drive'] as const;
describe.each(drives)('on %s', (drive) => {
  const test = drive === 'the same drive' || mounted ? anywhere : anywhere.skip;
  const base = drive === 'another drive' ? other : here;
  const to = join(base, 'deep/b.mp3');
  test('a file is moved, folders made, times and rights kept, nothing left behind', () => {
    const placed = place(wish(to));
    expect(readFileSync(to).equals(BYTES)).toBe(true);
    expect(existsSync(from)).toBe(false);
    expect([placed.size, placed.modifiedMs, statSync(to).mode & 0o777]).toEqual([700_000, 1_600_000_000_000, 0o640]);
    expect(readdirSync(join(base, 'deep'))).toEqual(['b.mp3']);
  });
  test('a copy leaves its source; what is there already is never written over', () => {
    place(wish(to, { mode: 'copy' }));
    expect([existsSync(from), readFileSync(to).equals(BYTES)]).toEqual([true, true]);
    writeFileSync(to, 'something else');
    for (const mode of ['move', 'copy'] as const) expect(() => place(wish(to, { mode }))).toThrow(TAKEN);
    expect([readFileSync(to, 'utf8'), existsSync(from)]).toEqual(['something else', true]);
  });
  test.each<PlaceStep>(['reserved', 'half', 'copied', 'compared', 'named', 'source removed'])(
    'broken off at the step "%s", it is finished when it is begun again',
    (step) => {
      let seen = false;
      const broken = (): void =>
        void place(wish(to), {
          step: (at) => {
            if (at !== step) return;
            seen = true;
            throw new Error('killed');
          },
        });
      const before = wish(to);
      try {
        broken();
      } catch (error) {
        expect(String(error)).toContain('killed');
      }
      if (drive === 'another drive') expect(seen).toBe(true);
      expect(existsSync(from) || existsSync(to)).toBe(true);
      place({ ...before, begun: true });
      expect([existsSync(from), readFileSync(to).equals(BYTES)]).toEqual([false, true]);
      expect(readdirSync(join(base, 'deep')).filter((n) => !n.startsWith('.'))).toEqual(['b.mp3']);
    },
  );
  test('an equal file at the new name is its own work only when it was under way', () => {
    mkdirSync(join(base, 'deep'));
    writeFileSync(to, BYTES);
    expect(() => place(wish(to))).toThrow(TAKEN);
    place(wish(to, { begun: true }));
    expect([existsSync(from), readFileSync(to).equals(BYTES)]).toEqual([false, true]);
  });
});

anywhere('with two names for one file, the first goes; a case-only rename is one', () => {
  linkSync(from, join(here, 'b.mp3'));
  place(wish(join(here, 'b.mp3')));
  expect(readdirSync(here)).toEqual(['b.mp3']);
});

anywhere('a file that is not there, or is another one now, is told', () => {
  const gone = wish(join(here, 'b.mp3'));
  rmSync(from);
  expect(() => place(gone)).toThrow('not there');
  writeFileSync(join(here, 'b.mp3'), 'x');
  expect(() => place(gone)).toThrow('another has its new name');
});

anywhere('folders that a file leaves empty go with it, up to the one they lie in; others stay', () => {
  const deep = join(here, 'one/two/three');
  mkdirSync(deep, { recursive: true });
  writeFileSync(join(deep, 'a.mp3'), BYTES);
  writeFileSync(join(here, 'one/cover.jpg'), 'picture');
  const { size, mtimeMs } = statSync(join(deep, 'a.mp3'));
  const moved = { from: join(deep, 'a.mp3'), size, modifiedMs: mtimeMs, below: here };
  place(wish(join(here, 'new/a.mp3'), moved));
  expect([existsSync(join(here, 'one/two')), readdirSync(join(here, 'one'))]).toEqual([false, ['cover.jpg']]);
  // The folder that all lies in stays, also when it is empty.
  const lib = join(here, 'lib');
  mkdirSync(lib);
  writeFileSync(join(lib, 'b.mp3'), BYTES);
  const b = statSync(join(lib, 'b.mp3'));
  place(wish(join(here, 'b.mp3'), { from: join(lib, 'b.mp3'), size: b.size, modifiedMs: b.mtimeMs, below: lib }));
  expect(readdirSync(lib)).toEqual([]);
});

anywhere('without second names (FAT), an empty file of the name is made first: never over another', () => {
  // link(2) fails there with EPERM; here it fails for a source that is a folder, in the same way.
  const inside = join(here, 'folder');
  mkdirSync(inside);
  writeFileSync(join(here, 'taken'), 'mine');
  expect(() => rename(inside, join(here, 'taken'))).toThrow(TAKEN);
  expect(readFileSync(join(here, 'taken'), 'utf8')).toBe('mine');
  expect(() => rename(inside, join(here, 'free'))).toThrow(); // a folder cannot replace a file
  expect(existsSync(join(here, 'free'))).toBe(false);
});

anywhere('a copy that is called off leaves nothing; progress is told', () => {
  const to = join(here, 'c.mp3'),
    told = jest.fn();
  place(wish(to, { mode: 'copy' }), { progress: told });
  expect(told).toHaveBeenLastCalledWith(700_000);
  rmSync(to);
  expect(() => place(wish(to, { mode: 'copy' }), { cancelled: () => true })).toThrow(Cancelled);
  expect(readdirSync(here)).toEqual(['a.mp3']);
});

anywhere('a source that changes while it is copied is not taken, and stays', () => {
  const to = join(here, 'c.mp3');
  const meddle = (at: PlaceStep): void => {
    if (at === 'half') writeFileSync(from, Buffer.alloc(700_000, 3));
  };
  expect(() => place(wish(to, { mode: 'copy' }), { step: meddle })).toThrow(/changed by something else|same bytes/);
  expect(readdirSync(here)).toEqual(['a.mp3']);
});

(mounted ? anywhere : anywhere.skip)('a full drive: the file stays, what was begun goes, and it says so', () => {
  writeFileSync(join(other, 'filler'), Buffer.alloc(2_800_000));
  let trouble: unknown = null;
  try {
    place(wish(join(other, 'b.mp3')));
  } catch (error) {
    trouble = error;
  }
  expect(reasonOf(trouble)).toBe('The disk is full; the file is as it was');
  expect([existsSync(from), readdirSync(other)]).toEqual([true, ['filler']]);
});

/** FAT in an image of its own, where the kernel knows it and this user may mount one. */
const fat = join(folder, 'fat');
mkdirSync(fat);
const image = join(folder, 'fat.img');
const fatThere =
  spawnSync('sh', ['-c', `truncate -s 8M ${image} && mkfs.vfat ${image} && mount -o loop ${image} ${fat}`]).status ===
  0;
afterAll(() => {
  if (fatThere) spawnSync('umount', [fat]);
});
(fatThere ? anywhere : anywhere.skip)('FAT: moved and copied there, never over another, capitals changed', () => {
  place(wish(join(fat, 'B.mp3')));
  expect(readFileSync(join(fat, 'B.mp3')).equals(BYTES)).toBe(true);
  writeFileSync(from, BYTES);
  expect(() => place(wish(join(fat, 'b.mp3')))).toThrow(TAKEN);
});

anywhere('what replaces a file is refused when that one has become another meanwhile', () => {
  const { dev, ino, size, mtimeMs } = statSync(from);
  const over = { device: dev, inode: ino, size, modifiedMs: mtimeMs };
  expect(() => makeAndName(from, { over }, () => copyFileSync(writeOther(), from))).toThrow(
    'changed by something else',
  );
  expect(readFileSync(from, 'utf8')).toBe('theirs');
  expect(readdirSync(here).filter((n) => n.startsWith('.'))).toEqual([]);
});
const writeOther = (): string => {
  const path = join(folder, 'theirs');
  writeFileSync(path, 'theirs');
  return path;
};

anywhere.each(['EXDEV', 'ESTALE', 'ENODEV', 'ENOSPC', 'EROFS', 'EDQUOT', 'ENAMETOOLONG', 'EWHATEVER'])(
  '%s is a sentence, whatever it is',
  (code) => {
    expect(reasonOf(Object.assign(new Error('x'), { code }))).toMatch(/^The .{10,}/);
  },
);
