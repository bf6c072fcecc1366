import { describe, expect, test } from '@jest/globals';
import { compileCondition } from './conditionSql.ts';

describe('conditions as SQL', () => {
  test('values never stand in the text', () => {
    const { text, values } = compileCondition({
      all: [
        { field: 'artist', test: 'one of', values: ["x'; DROP TABLE tracks"] },
        { test: 'words', text: '100%_\\' },
      ],
    });
    expect(text).not.toContain('DROP');
    expect(values).toEqual([["x'; DROP TABLE tracks"], '%100\\%\\_\\\\%']);
  });
  test('folders belong to a root, and their names are taken as they are', () => {
    const { text, values } = compileCondition({ inFolder: { rootId: 3, path: '50%_off' }, below: true });
    expect(text).toContain('t.root_id = $1');
    expect(values).toEqual([3, '50\\%\\_off/%']);
  });
  test('parameters go on from those that are there', () => {
    expect(compileCondition({ field: 'bpm', test: 'between', low: 1 }, ['first']).text).toContain('$2');
  });
});
