import { expect, test } from '@jest/globals';
import { DEFAULT_MIRROR, mirroredPath, readMirror } from './mirror.ts';
import { crateAfter, folderAfter, type RenamedFolder } from './renamedFolder.ts';

const renamed: RenamedFolder = { from: { rootId: 1, path: 'Dub' }, to: { rootId: 1, path: 'More/Dub techno' } };
const rule = (path: string, rootId = 1): string =>
  JSON.stringify({ where: { inFolder: { rootId, path }, below: false } });

test('what lies in the folder or below it moves along; the like of it elsewhere does not', () => {
  const after = (path: string, rootId = 1): string => folderAfter({ rootId, path }, renamed).path;
  expect([after('Dub'), after('Dub/Late'), after('Dubplates'), after('Dub', 2)]).toEqual([
    'More/Dub techno',
    'More/Dub techno/Late',
    'Dubplates',
    'Dub',
  ]);
  const up: RenamedFolder = { from: { rootId: 1, path: 'Dub' }, to: { rootId: 1, path: '' } };
  expect(folderAfter({ rootId: 1, path: 'Dub/Late' }, up).path).toBe('Late');
});

test('a crate of the folder gets its name, unless it has one of its own', () => {
  const after = (name: string, path: string): object => {
    const { rule: now, ...rest } = crateAfter({ name, rule: rule(path), mirror: null }, renamed);
    return { ...rest, path: mirroredPath(now ?? null) };
  };
  expect(after('Dub', 'Dub')).toEqual({ name: 'Dub techno', path: 'More/Dub techno' });
  expect(after('Deep', 'Dub')).toEqual({ path: 'More/Dub techno' });
  expect(after('Late', 'Dub/Late')).toEqual({ name: 'Late', path: 'More/Dub techno/Late' });
  expect(crateAfter({ name: 'Dub', rule: rule('Dub', 2), mirror: null }, renamed)).toEqual({});
});

test('a folder in the midst of other conditions, and the settings of a mirror', () => {
  const asks = JSON.stringify({
    where: {
      any: [{ not: { inFolder: { rootId: 1, path: 'Dub/Late' }, below: true } }, { field: 'title', test: 'empty' }],
    },
    limit: { count: 5, by: 'bpm', descending: false },
  });
  const out = crateAfter({ name: 'x', rule: asks, mirror: null }, renamed);
  expect(JSON.parse(out.rule!)).toEqual(JSON.parse(asks.replace('Dub/Late', 'More/Dub techno/Late')));
  const mirror = JSON.stringify({ ...DEFAULT_MIRROR, rootId: 1, path: 'Dub' });
  expect(readMirror(crateAfter({ name: 'x', rule: null, mirror }, renamed).mirror!)?.path).toBe('More/Dub techno');
});
