import { expect, test } from '@jest/globals';
import type { FileRef } from './fileRef.ts';
import { nameInFolder, planPut, type PutWish } from './put.ts';

const ref = (path: string, rootId = 1): FileRef => ({ rootId, path });
const wish = (more: Partial<PutWish> = {}): PutWish => ({
  mode: 'move',
  into: ref('Late', 2),
  taken: 'keep both',
  ...more,
});
const paths = (files: FileRef[], more: Partial<PutWish> = {}, others: FileRef[] = []): string[] =>
  planPut(files, wish(more), others).puts.map(({ to }) => `${to.rootId}:${to.path}`);

test('each keeps its name; equal ones are numbered, or stay', () => {
  const files = [ref('a/Tide.mp3'), ref('b/tide.mp3'), ref('Ebb.mp3')];
  expect(paths(files)).toEqual(['2:Late/Tide.mp3', '2:Late/tide (2).mp3', '2:Late/Ebb.mp3']);
  expect(planPut(files, wish({ taken: 'skip' }), [])).toMatchObject({ skipped: [1], right: [] });
  expect(paths(files, { taken: 'skip', into: ref('', 2) }, [ref('ebb.MP3', 2)])).toEqual(['2:Tide.mp3']);
});

test('what lies there already stays, moved; copied, it is there twice', () => {
  const files = [ref('Late/Tide.mp3', 2)];
  expect(planPut(files, wish(), [])).toMatchObject({ puts: [], skipped: [], right: [0] });
  expect(paths(files, { mode: 'copy' })).toEqual(['2:Late/Tide (2).mp3']);
  expect(planPut(files, wish({ mode: 'copy', taken: 'skip' }), []).skipped).toEqual([0]);
});

test('a folder that is a file’s name takes nothing', () => {
  expect(planPut([ref('Tide.mp3')], wish(), [ref('Late', 2)])).toMatchObject({ puts: [], skipped: [0], right: [] });
});

test('with folders, or names of their own; one without a name stays, and holds its place', () => {
  const files = [ref('a/Tide.mp3'), ref('b/Tide.mp3'), ref('Late/Ebb.mp3', 2)];
  const put = (names: (string | null)[]): unknown => {
    const { puts, unnamed } = planPut(files, wish(), [], names);
    return { to: puts.map(({ at, to }) => `${at} ${to.path}`), unnamed };
  };
  expect(put(files.map((f) => nameInFolder(f, 'with folders')))).toEqual({
    to: ['0 Late/a/Tide.mp3', '1 Late/b/Tide.mp3', '2 Late/Late/Ebb.mp3'],
    unnamed: [],
  });
  expect(nameInFolder(ref('a/b/Tide.mp3'), 'with folders', 'a')).toBe('b/Tide.mp3');
  expect(put(['Ebb.mp3', 'x/One.mp3', null])).toEqual({ to: ['0 Late/Ebb (2).mp3', '1 Late/x/One.mp3'], unnamed: [2] });
});
