import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nameCommand, parseNameArguments } from './nameCommand.ts';
import { makeAudio } from './testing/harness.ts';

let folder: string;
const at = (name: string): string => join(folder, name);
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-name-'));
  mkdirSync(at('Keel Nine'));
  makeAudio(at('a.mp3'), { seconds: 1, hz: 330, tags: { title: 'Ebb: Part 1?', artist: 'Keel Nine' } });
  copyFileSync(at('a.mp3'), at('b.mp3'));
  copyFileSync(at('a.mp3'), at('Keel Nine/Ebb - Part 1 (2).mp3'));
  makeAudio(at('no title.ogg'), { seconds: 1, hz: 330 });
  writeFileSync(at('broken.mp3'), 'no sound');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function run(...args: string[]) {
  const said: string[] = [],
    complained: string[] = [];
  const asked = parseNameArguments(args);
  if (typeof asked === 'string') return { code: 2, lines: [], complained: [asked] };
  const code = nameCommand(
    asked,
    (text) => said.push(text),
    (text) => complained.push(text),
  );
  return { code, lines: said.map((text) => JSON.parse(text) as Record<string, unknown>), complained };
}

test('where files would lie, what is taken and what a drive would refuse; nothing is moved', () => {
  const before = readdirSync(folder, { recursive: true });
  const files = ['a.mp3', 'b.mp3', 'Keel Nine/Ebb - Part 1 (2).mp3', 'no title.ogg', 'broken.mp3'].map(at);
  const rule = '{{ artist }}/{{ title }}';
  const { code, lines } = run(...files, '--rule', rule, '--into', folder, '--dry-run');
  expect(code).toBe(1);
  expect(lines.map((l) => [l.wanted ?? l.error, l.right, l.numbered])).toEqual([
    ['Keel Nine/Ebb - Part 1.mp3', false, false],
    ['Keel Nine/Ebb - Part 1 (3).mp3', false, true],
    ['Keel Nine/Ebb - Part 1 (2).mp3', true, false],
    ['It has no title', undefined, undefined],
    [expect.stringMatching(/\w/), undefined, undefined],
  ]);
  expect(lines[0]!.taken).toBe(false);
  const [only] = run(files[0]!, '--rule', rule, '--into', folder, '--dry-run', '--this-drive').lines;
  expect(only).toMatchObject({
    wanted: 'Keel Nine/Ebb: Part 1?.mp3',
    refused: expect.stringContaining('Ebb: Part 1?'),
  });
  const [taken] = run(
    files[0]!,
    '--rule',
    'b{% comment %}{{ title }}{% endcomment %}',
    '--into',
    folder,
    '--dry-run',
  ).lines;
  expect(taken).toMatchObject({ wanted: 'b.mp3', taken: true });
  expect(readdirSync(folder, { recursive: true })).toEqual(before);
});

test('asked wrongly, it says how', () => {
  expect(run(at('a.mp3'), '--rule', '{{ title }}').complained).toEqual([
    'Files are moved on the Disk page only; give --dry-run',
  ]);
  expect(run('--rule', '{{ title }}', '--dry-run').complained).toEqual(['No file was named']);
  expect(run('x.mp3', '--dry-run').complained).toEqual(['A rule has to be given']);
  expect(run('x.mp3', '--rule', 'x', '--dry-run', '--max-bytes', '3').complained[0]).toMatch(/^--max-bytes takes/);
  const wrong = run('x.mp3', '--rule', '{{ title', '--dry-run');
  expect([wrong.code, wrong.complained[0]]).toEqual([2, expect.stringMatching(/cannot be used/)]);
});
