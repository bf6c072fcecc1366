import { copyFileSync, linkSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import { parseTagArguments, tagCommand } from './tagCommand.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-tag-command-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const asked = (...args: string[]) => {
  const parsed = parseTagArguments(args);
  if (typeof parsed === 'string') throw new Error(parsed);
  return parsed;
};
/** Ten frames of MPEG audio. */
const mp3 = join(folder, 'a.mp3');
writeFileSync(
  mp3,
  Buffer.concat(
    Array.from({ length: 10 }, () => Buffer.concat([Buffer.from([0xff, 0xfb, 0x90, 0x00]), Buffer.alloc(413, 1)])),
  ),
);
const lines = (...args: string[]): { code: number; said: unknown[] } => {
  const said: string[] = [];
  const code = tagCommand(asked(...args, '--json'), join(folder, 'undo'), (text) => said.push(text));
  return { code, said: said.map((s) => JSON.parse(s) as unknown) };
};

describe('the arguments', () => {
  test('values repeat, may hold equals signs, and come before or after files', () => {
    expect(
      asked('--set', 'artist=A', 'x.mp3', '--set', 'artist=B', '--set', 'title=a=b', '--remove', 'comment').edits
        .fields,
    ).toEqual({ artist: ['A', 'B'], title: ['a=b'], comment: [] });
    expect(asked('--', '--odd name.mp3').files).toEqual(['--odd name.mp3']);
    expect(asked('x.mp3').show).toBe(true);
    expect(asked('x.mp3', '--remove', 'picture').edits.picture).toBeNull();
  });

  test.each<[string, string[], string]>([
    ['no file', ['--show'], 'No file was named'],
    ['an unknown field', ['x', '--set', 'mood=calm'], 'no field "mood"'],
    ['no value', ['x', '--set', 'title'], 'FIELD=VALUE'],
    ['an unknown option', ['x', '--all'], 'no option --all'],
    ['a picture that is none', ['x', '--picture', mp3], 'neither JPEG nor PNG'],
    ['a picture that is not there', ['x', '--picture', join(folder, 'no.png')], 'cannot be read'],
    ['a wrong version', ['x', '--id3', '2'], '3 or 4'],
    ['undo with something to set', ['x', '--undo', '--set', 'title=a'], 'goes without --set'],
  ])('%s', (_name, args, reason) => {
    expect(parseTagArguments(args)).toMatch(reason);
  });
});

test('set, shown, said again, taken out; a bad file does not stop the others', () => {
  const letter = join(folder, 'letter.mp3');
  writeFileSync(letter, 'Dear all, '.repeat(400));
  const first = lines(
    letter,
    mp3,
    join(folder, 'gone.mp3'),
    '--set',
    'title=Ebb',
    '--set',
    'key=Gb',
    '--set',
    'trackGainDb=-3',
    '--show',
  );
  expect(first.code).toBe(1);
  expect(first.said).toEqual([
    { file: letter, ok: false, error: 'No MPEG audio is found behind its tags' },
    {
      file: mp3,
      ok: true,
      changed: true,
      inPlace: false,
      dryRun: false,
      container: 'MP3',
      tags: ['ID3v2.4'],
      fields: { title: 'Ebb', key: 'F#', trackGainDb: '-3' },
      picture: null,
    },
    { file: join(folder, 'gone.mp3'), ok: false, error: 'There is no such file' },
  ]);
  expect(lines(mp3, '--set', 'title=Ebb')).toEqual({
    code: 0,
    said: [{ file: mp3, ok: true, changed: false, inPlace: true, dryRun: false }],
  });
  expect(lines(mp3, '--remove', 'key', '--dry-run', '--show').said[0]).toMatchObject({
    changed: true,
    inPlace: true,
    fields: { key: 'F#' },
  });
  expect(lines(mp3, '--remove', 'key', '--show').said[0]).toMatchObject({
    changed: true,
    fields: { title: 'Ebb', trackGainDb: '-3' },
  });
});

test('changes are taken back one by one, to the byte', () => {
  const own = join(folder, 'back.mp3');
  copyFileSync(mp3, own);
  const states = [readFileSync(own)];
  for (const title of ['One', 'Two', 'Three']) {
    lines(own, '--set', `title=${title}`);
    states.push(readFileSync(own));
  }
  expect(lines(own, '--undo', '--dry-run').said[0]).toMatchObject({ ok: true, changed: true, dryRun: true });
  expect(readFileSync(own).equals(states[3]!)).toBe(true);
  for (const state of states.slice(0, 3).reverse()) {
    expect(lines(own, '--undo').code).toBe(0);
    expect(readFileSync(own).equals(state)).toBe(true);
  }
  expect(lines(own, '--undo')).toEqual({
    code: 1,
    said: [{ file: own, ok: false, error: 'Nothing is kept that could be undone for this file' }],
  });
});

test('a file with another name is parted from it only when that is said', () => {
  const own = join(folder, 'one-name.mp3'),
    other = join(folder, 'other-name.mp3'),
    long = `comment=${'x'.repeat(9000)}`;
  copyFileSync(mp3, own);
  linkSync(own, other);
  for (const more of [[], ['--dry-run']])
    expect(lines(own, '--set', long, ...more)).toMatchObject({ code: 1, said: [{ ok: false }] });
  expect(readFileSync(own).equals(readFileSync(mp3))).toBe(true);
  expect(lines(own, '--set', long, '--new-file').code).toBe(0);
  expect(lines(own).said[0]).toMatchObject({ fields: { comment: 'x'.repeat(9000) } });
  expect(readFileSync(other).equals(readFileSync(mp3))).toBe(true);
});
