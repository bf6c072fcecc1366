import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import exceljs from 'exceljs';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { listCommand, parseListArguments } from './listCommand.ts';

let folder: string;
beforeAll(() => {
  folder = join(mkdtempSync(join(tmpdir(), 'early-set-list-')), 'lists');
  mkdirSync(folder);
});
afterAll(() => rmSync(join(folder, '..'), { recursive: true, force: true }));

async function list(name: string, content: string, ...args: string[]) {
  const file = join(folder, name);
  writeFileSync(file, content);
  const parsed = parseListArguments([file, ...args]);
  if (typeof parsed === 'string') throw new Error(parsed);
  const said: (string | Uint8Array)[] = [];
  let complaints = '';
  const code = await listCommand(
    parsed,
    (text) => (complaints += text),
    (content_) => said.push(content_),
  );
  return { code, said: said[0] ?? '', complaints };
}

const M3U =
  '#EXTM3U\n#EXTINF:61,Keel Nine - Lamp Room\n..\\House\\Lamp Room.mp3\n#EXTINF:-1,Tin Ladle\nD:\\m\\Tin Ladle.mp3\n';

describe('early-set list', () => {
  test('turns one format into another; relative paths are taken from the folder of the file', async () => {
    const { code, said, complaints } = await list('a.m3u', M3U, '--to', 'pls');
    expect([code, complaints]).toEqual([0, '']);
    expect(said).toBe(
      `[playlist]\nFile1=${join(folder, '../House/Lamp Room.mp3')}\nTitle1=Keel Nine - Lamp Room\nLength1=61\n` +
        'File2=D:/m/Tin Ladle.mp3\nTitle2=Tin Ladle\nLength2=-1\nNumberOfEntries=2\nVersion=2\n',
    );
  });
  test('paths are mapped, and written relative to the folder of the file', async () => {
    const args = [
      '--map',
      'd:\\m',
      `${folder}/m`,
      '--paths',
      'relative',
      '--to',
      'm3u8',
      '--line',
      '{{ number }} {{ title }}',
    ];
    expect((await list('a.m3u', M3U, ...args)).said).toBe(
      '#EXTM3U\n#PLAYLIST:a\n#EXTINF:61,1 Lamp Room\n../House/Lamp Room.mp3\n#EXTINF:-1,2 Tin Ladle\nm/Tin Ladle.mp3\n',
    );
  });
  test('what could not be used and what the format has no place for is said', async () => {
    const { code, said, complaints } = await list('b.m3u', '#EXTINF:x,Odd\na.mp3\n#EXTINF:3,Lost\n', '--to', 'txt');
    expect([code, said]).toEqual([1, 'x,Odd\n']);
    expect(complaints).toContain('b.m3u, line 1: its length is not a number');
    expect(complaints).toContain('"Lost" has no path');
    expect(complaints).toContain('Text holds no path (1 entry has one)');
  });
  test('lines of text have no path for a format that is nothing without one', async () => {
    const text = 'Keel Nine - Lamp Room\n/m/a.mp3\n';
    const { code, said, complaints } = await list('c.txt', text, '--to', 'm3u8');
    expect([code, said]).toEqual([1, '#EXTM3U\n#PLAYLIST:c\n#EXTINF:-1,a\n/m/a.mp3\n']);
    expect(complaints).toContain('"Keel Nine - Lamp Room" has no path');
    expect((await list('c.txt', text, '--to', 'jspf')).said).toContain('"creator": "Keel Nine"');
  });
  test('as a workbook', async () => {
    const { said } = await list('a.m3u', M3U, '--to', 'xlsx');
    const book = new exceljs.Workbook();
    await book.xlsx.load(said as unknown as ArrayBuffer);
    const sheet = book.worksheets[0]!;
    expect([sheet.name, sheet.getCell('B2').value, sheet.getCell('C3').value, sheet.getCell('E2').value]).toEqual([
      'a',
      'Keel Nine',
      'Tin Ladle',
      61,
    ]);
  });
  test('a file that is not there and a broken template are said', async () => {
    expect(await list('a.m3u', M3U, '--to', 'txt', '--line', '{{ x | nosuch }}')).toMatchObject({
      code: 2,
      complaints: expect.stringContaining('line template cannot be used'),
    });
    let said = '';
    const gone = { file: join(folder, 'gone.m3u'), to: 'txt' as const, paths: 'absolute' as const, maps: [], line: '' };
    expect(
      await listCommand(
        gone,
        (t) => (said += t),
        () => undefined,
      ),
    ).toBe(2);
    expect(said).toMatch(/gone\.m3u: /);
  });
  test.each([
    [['a'], /--to takes/],
    [['a', '--to', 'doc'], /There is no format/],
    [['a', '--to', 'txt', '--paths', 'odd'], /--paths takes/],
    [['a', '--to', 'txt', '--map', 'x'], /--map takes/],
    [['--to', 'txt'], /One file/],
  ])('called wrongly (%j), it says how', (args, sentence) => {
    expect(parseListArguments(args)).toMatch(sentence);
  });
});
