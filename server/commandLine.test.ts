import { describe, expect, test } from '@jest/globals';
import { readArguments } from './commandLine.ts';

const OPTIONS = { show: { type: 'boolean' }, set: { type: 'string', multiple: true } } as const;

describe('a command line', () => {
  test('has options and files, also such as begin with a dash', () => {
    const read = readArguments(['a.mp3', '--set', 'x=1', '--show', '--set=y=-2', '--', '--odd.mp3'], OPTIONS);
    expect(read).toMatchObject({ values: { set: ['x=1', 'y=-2'], show: true }, positionals: ['a.mp3', '--odd.mp3'] });
  });
  test.each([
    [['--colour'], 'There is no option --colour'],
    [['-z'], 'There is no option -z'],
    [['a', '--set'], '--set takes a value'],
    [['--set', '--show'], '--set takes a value'],
    [['--show=yes'], '--show takes no value'],
  ])('%p is answered by a sentence', (args, sentence) => {
    expect(readArguments(args, OPTIONS)).toBe(sentence);
  });
});
