import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { inOrder } from '../changes/files.ts';
import { relocateFile, relocateFileKind, type RelocateFile } from '../changes/kinds/relocateFile.ts';
import type { FileRef } from './fileRef.ts';
import { placeKey, planNames, type NamePlan, type WantedFile } from './plan.ts';

const ref = (path: string): FileRef => ({ rootId: 1, path });
const file = (path: string, wanted: string): WantedFile => ({ ref: ref(path), wanted: ref(wanted) });
const names = (files: WantedFile[], others: FileRef[] = []): Record<string, string> =>
  Object.fromEntries(planNames(files, others).moves.map(({ at, to }) => [files[at]!.ref.path, to.path]));

describe('a plan', () => {
  test('moves what lies elsewhere, and leaves what lies right', () => {
    const files = [file('Inbox/1.mp3', 'Keel Nine/Tide.mp3'), file('Keel Nine/Ebb.mp3', 'Keel Nine/Ebb.mp3')];
    expect(planNames(files)).toEqual({
      moves: [{ at: 0, to: ref('Keel Nine/Tide.mp3'), numbered: false }],
      troubles: [],
      right: 1,
    });
  });

  test('two that want one name are numbered; who has it keeps it, and numbers that are there stay', () => {
    expect(names([file('b.mp3', 'Tide.mp3'), file('Tide.mp3', 'Tide.mp3')])).toEqual({ 'b.mp3': 'Tide (2).mp3' });
    const again = [file('Tide (2).mp3', 'Tide.mp3'), file('Tide.mp3', 'Tide.mp3'), file('c.mp3', 'Tide.mp3')];
    expect(names(again)).toEqual({ 'c.mp3': 'Tide (3).mp3' });
    // A number that is there does not stand in the way of a title that ends like one.
    expect(names([file('Tide (2).mp3', 'Tide.mp3'), file('c.mp3', 'Tide.mp3'), file('d.mp3', 'Tide (2).mp3')])).toEqual(
      { 'Tide (2).mp3': 'Tide (3).mp3', 'c.mp3': 'Tide.mp3', 'd.mp3': 'Tide (2).mp3' },
    );
    // Alone it needs no number.
    expect(names([file('Tide (2).mp3', 'Tide.mp3')])).toEqual({ 'Tide (2).mp3': 'Tide.mp3' });
    // A title that ends like a number is one.
    expect(names([file('a.mp3', 'Tide.mp3'), file('b.mp3', 'Tide.mp3'), file('c.mp3', 'Tide (2).mp3')])).toEqual({
      'a.mp3': 'Tide.mp3',
      'b.mp3': 'Tide (3).mp3',
      'c.mp3': 'Tide (2).mp3',
    });
  });

  test('names that differ by case or by how accents are composed are one', () => {
    expect(names([file('a.mp3', 'TIDE.mp3'), file('b.mp3', 'tide.mp3')])['b.mp3']).toBe('tide (2).mp3');
    expect(names([file('a.mp3', 'é.mp3'), file('b.mp3', 'e\u0301.mp3')])['b.mp3']).toBe('e\u0301 (2).mp3');
    expect(names([file('tide.mp3', 'Tide.mp3')])).toEqual({ 'tide.mp3': 'Tide.mp3' });
    expect(names([file('a.mp3', 'Tide.mp3')], [ref('tide.MP3')])).toEqual({ 'a.mp3': 'Tide (2).mp3' });
  });

  test('a name that is a folder’s, or a folder that is a file’s, is said, and the place of what stays is kept', () => {
    const files = [file('x.mp3', 'Keel.mp3'), file('Keel.mp3/a.mp3', 'Keel.mp3/a.mp3'), file('y.mp3', 'x.mp3')];
    expect(planNames(files)).toEqual({
      moves: [{ at: 2, to: ref('x (2).mp3'), numbered: true }],
      troubles: [{ at: 0, why: 'A folder has this name' }],
      right: 1,
    });
    expect(planNames([file('a.mp3', 'b/a.mp3')], [ref('b')]).troubles).toEqual([
      { at: 0, why: 'A file has the name of its folder' },
    ]);
  });
});

/** A drive that takes names for one that differ by case only, and on which nothing is ever put over something. */
class Drive {
  private files = new Map<string, { path: string; content: string }>();
  constructor(paths: readonly string[]) {
    for (const path of paths) this.put(path, path);
  }
  private put(path: string, content: string): void {
    const key = placeKey(ref(path));
    if (this.files.has(key)) throw new Error(`${path} is there already`);
    for (const other of this.files.keys())
      if (other.startsWith(`${key}/`) || key.startsWith(`${other}/`)) throw new Error(`${path}: file and folder`);
    this.files.set(key, { path, content });
  }
  move({ before, after }: RelocateFile): void {
    const held = this.files.get(placeKey(before!));
    if (held?.path !== before!.path) throw new Error(`${before!.path} is not there`);
    this.files.delete(placeKey(before!));
    this.put(after.path, held.content);
  }
  list(): [path: string, content: string][] {
    return [...this.files.values()].map((f): [string, string] => [f.path, f.content]).sort();
  }
}
const moved = (files: readonly WantedFile[], plan: NamePlan): RelocateFile[] =>
  inOrder(
    plan.moves.map(({ at, to }) =>
      relocateFile('move', { trackId: at + 1, fileId: `${at}-aaaaaaa` }, files[at]!.ref, to),
    ),
  );

const segment = fc.constantFrom('a', 'A', 'b', 'b (2)', 'c', 'a.mp3', 'é');
const path = fc
  .tuple(fc.array(segment, { maxLength: 2 }), segment)
  .map(([folders, name]) => [...folders, `${name}.mp3`].join('/'));
const wishes = fc.array(fc.tuple(path, path, fc.boolean()), { maxLength: 9 }).map((all) => {
  const seen: string[] = [];
  return all.filter(([now]) => {
    const key = placeKey(ref(now));
    const fits = seen.every((o) => o !== key && !o.startsWith(`${key}/`) && !key.startsWith(`${o}/`));
    if (fits) seen.push(key);
    return fits;
  });
});

test('played on a drive, every plan ends as it says, meets nothing, and goes back', () => {
  fc.assert(
    fc.property(wishes, (all) => {
      const files = all.filter(([, , wants]) => wants).map(([now, wanted]) => file(now, wanted));
      const others = all.filter(([, , wants]) => !wants).map(([now]) => ref(now));
      const plan = planNames(files, others);
      expect(plan.moves.length + plan.troubles.length + plan.right).toBe(files.length);
      const drive = new Drive(all.map(([now]) => now));
      const before = drive.list();
      const moves = moved(files, plan);
      for (const move of moves) drive.move(move);
      const after = new Map(files.map((f) => [f.ref.path, f.ref.path]));
      for (const { at, to } of plan.moves) after.set(files[at]!.ref.path, to.path);
      for (const { path } of others) after.set(path, path);
      expect(drive.list()).toEqual([...after].map(([content, now]) => [now, content]).sort());
      for (const move of moves.toReversed()) drive.move(relocateFileKind.inverse(move));
      expect(drive.list()).toEqual(before);
    }),
    { numRuns: 2000 },
  );
});

test('planned once more where everything lies now, nothing moves', () => {
  fc.assert(
    fc.property(wishes, (all) => {
      const files = all.map(([now, wanted]) => file(now, wanted));
      const plan = planNames(files);
      const now = files.map((f) => f.ref);
      for (const { at, to } of plan.moves) now[at] = to;
      const again = planNames(files.map((f, i) => ({ ...f, ref: now[i]! })));
      if (plan.troubles.length === 0) expect(again.moves).toEqual([]);
    }),
    { numRuns: 1000 },
  );
});
