import { expect, test } from '@jest/globals';
import { findCommands } from './findCommands.ts';

const COMMANDS = [
  'Switch between day and night colours',
  'Sort by Tempo confidence',
  'Filter by tempo…',
  'Filter by genre: Deep House',
  'Filter by genre: House',
  'Sort by BPM',
  'Show the column BPM',
  'Open the playlist Niña del Muelle',
].map((label) => ({ id: label, label, group: 'x', run: () => undefined }));
const found = (typed: string): string[] => findCommands(COMMANDS, typed).map((c) => c.label);

test('nothing typed leaves all in their order', () => expect(found(' ')).toEqual(COMMANDS.map((c) => c.label)));
test.each([
  ['house', ['Filter by genre: House', 'Filter by genre: Deep House']],
  ['sort bpm', ['Sort by BPM']],
  ['bpm', ['Sort by BPM', 'Show the column BPM']],
  ['filter te', ['Filter by tempo…', 'Filter by genre: House', 'Filter by genre: Deep House']],
  ['NINA', ['Open the playlist Niña del Muelle']],
  ['nothing like it', []],
])('“%s”', (typed, names) => expect(found(typed)).toEqual(names));
