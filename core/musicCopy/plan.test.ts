import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { planCopy, roomOf, type Copied, type Lying } from './plan.ts';
import { readSums, sumLine } from './sums.ts';

const lying = (path: string, size = 10, modifiedMs = 1_000_123, changedMs = 5): Lying => ({
  ...{ path, size, modifiedMs, changedMs },
});
const copied = (path: string, size = 10, modifiedMs = 1_000_123, sha256 = path): Copied => ({
  ...{ ...lying(path, size, modifiedMs), sha256 },
});

describe('what a copy needs', () => {
  test('what is as it was needs nothing; what is new or changed is copied; what is gone is told', () => {
    const plan = planCopy(
      [lying('same.mp3'), lying('grown.mp3', 12), lying('touched.mp3', 10, 1_000_999), lying('new.mp3', 7)],
      ['same.mp3', 'grown.mp3', 'touched.mp3', 'gone.mp3'].map((path) => copied(path)),
    );
    expect(plan.same.map(({ path }) => path)).toEqual(['same.mp3']);
    expect(plan.changed.map(({ file }) => file.path)).toEqual(['grown.mp3', 'touched.mp3']);
    expect(plan.fresh).toEqual([{ file: lying('new.mp3', 7), former: [] }]);
    expect(plan.gone.map(({ path }) => path)).toEqual(['gone.mp3']);
    expect(roomOf(plan)).toBe(7 + 2 + 12);
  });
  test('a folder that is renamed needs no room', () => {
    const files = ['a', 'b', 'c'].map((name) => lying(`new/${name}`));
    expect(
      roomOf(
        planCopy(
          files,
          ['a', 'b', 'c'].map((name) => copied(`old/${name}`)),
        ),
      ),
    ).toBe(0);
  });
  test('what could not be read here is not gone', () => {
    const known = ['Loft/a.mp3', 'Loft', 'Loftier/b.mp3', 'c.mp3'].map((path) => copied(path));
    expect(planCopy([], known, ['Loft']).gone.map(({ path }) => path)).toEqual(['Loftier/b.mp3', 'c.mp3']);
  });
  test('what may be renamed is offered, the likeliest first', () => {
    const plan = planCopy(
      [lying('new folder/a.mp3')],
      [copied('x.mp3', 10, 5), copied('old/x.mp3'), copied('old/a.mp3'), copied('old/b.mp3', 11)],
    );
    expect(plan.fresh[0]!.former.map(({ path }) => path)).toEqual(['old/a.mp3', 'old/x.mp3', 'x.mp3']);
  });
  test('tags that were changed in place leave size and time of writing, and are seen all the same', () => {
    expect(planCopy([lying('a', 10, 60_000, 6)], [copied('a', 10, 60_000)]).changed).toHaveLength(1);
  });
  test('each file here is in one part, each that was copied too; nothing is offered that is still here', () => {
    const file = fc.record({
      ...{ path: fc.constantFrom(...'abcdefgh'), size: fc.nat(3), modifiedMs: fc.nat(5), changedMs: fc.nat(5) },
    });
    const some = fc.uniqueArray(file, { selector: ({ path }) => path });
    fc.assert(
      fc.property(some, some, (here, there) => {
        const known = there.map((one) => ({ ...one, sha256: one.path }));
        const { same, fresh, changed, gone } = planCopy(here, known);
        const parts = [...same, ...fresh.map((f) => f.file), ...changed.map((c) => c.file)];
        expect(parts.map(({ path }) => path).sort()).toEqual(here.map(({ path }) => path).sort());
        expect([...same, ...changed.map((c) => c.was), ...gone].map(({ path }) => path).sort()).toEqual(
          there.map(({ path }) => path).sort(),
        );
        for (const { former } of fresh) expect(gone).toEqual(expect.arrayContaining(former));
      }),
    );
  });
});

describe('the list of checksums', () => {
  const sha256 = 'ab'.repeat(32);
  test('is as sha256sum writes it', () => {
    expect(sumLine({ path: 'Crates/a b.mp3', sha256 })).toBe(`${sha256}  Crates/a b.mp3\n`);
    expect(sumLine({ path: 'a\\b\nc', sha256 })).toBe(`\\${sha256}  a\\\\b\\nc\n`);
  });
  test('what is written is read, whatever the names', () => {
    const name = fc.string({ unit: 'grapheme', minLength: 1 }).filter((text) => !text.includes('\0'));
    fc.assert(
      fc.property(fc.array(name), (paths) => {
        const lines = paths.map((path) => ({ path, sha256 }));
        expect(readSums(lines.map(sumLine).join(''))).toEqual(lines);
      }),
    );
  });
  test('what is no such line is passed over', () => {
    expect(readSums(`# a note\n${sha256}\n${sha256}  kept\nshort  name\n`)).toEqual([{ path: 'kept', sha256 }]);
  });
});
