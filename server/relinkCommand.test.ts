import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { packetHash } from './media/decode.ts';
import { parseRelinkArguments, relinkCommand } from './relinkCommand.ts';
import { makeAudio } from './testing/harness.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-relink-'));
  mkdirSync(join(folder, 'now/deep'), { recursive: true });
  makeAudio(join(folder, 'now/deep/other name.mp3'), { seconds: 2, hz: 330, tags: { title: 'Tagged since' } });
  makeAudio(join(folder, 'now/b.mp3'), { seconds: 2, hz: 550 });
  writeFileSync(join(folder, 'now/notes.txt'), 'no sound');
  writeFileSync(join(folder, 'now/broken.mp3'), 'no sound either');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function run(lines: string[], ...folders: string[]) {
  const file = join(folder, 'missing.jsonl');
  writeFileSync(file, lines.join('\n'));
  const said: string[] = [],
    complained: string[] = [];
  const asked = parseRelinkArguments([file, ...folders]);
  if (typeof asked === 'string') throw new Error(asked);
  const code = await relinkCommand(
    asked,
    (text) => said.push(text),
    (text) => complained.push(text),
  );
  return { code, lines: said.map((text) => JSON.parse(text) as Record<string, unknown>), complained };
}

test('by sound and by name and size; what is no line is named, and the rest goes on', async () => {
  const renamed = join(folder, 'now/deep/other name.mp3');
  const { size } = statSync(join(folder, 'now/b.mp3'));
  const { code, lines, complained } = await run(
    [
      JSON.stringify({ file: 'D:\\Old\\a.mp3', audioHash: await packetHash(renamed), durationSeconds: 2 }),
      JSON.stringify({ file: '/old/B.mp3', size, durationSeconds: 2 }),
      JSON.stringify({ file: '/old/c.mp3', tags: { title: 'Nobody' } }),
      'no line',
      '{"ok": true}',
    ],
    join(folder, 'now'),
  );
  expect(code).toBe(1);
  expect(lines.map((l) => [l.file, l.found, l.by, l.sure])).toEqual([
    ['D:\\Old\\a.mp3', renamed, 'same sound, byte for byte', 1],
    ['/old/B.mp3', join(folder, 'now/b.mp3'), 'name and size', 0.97],
    ['/old/c.mp3', null, null, 0],
  ]);
  expect(complained).toEqual(['line 4: this is not JSON\n', 'line 5: this names no file\n']);
});

test('folders that are not there end it with their name', async () => {
  const { code, complained } = await run(['{"file": "a.mp3"}'], join(folder, 'nowhere'));
  expect([code, complained.length]).toEqual([2, 1]);
  expect(complained[0]).toContain('nowhere: ');
});

test.each([[[]], [['missing.jsonl']], [['missing.jsonl', 'x', '--deep']]])('%j is not enough', (args) => {
  expect(typeof parseRelinkArguments(args)).toBe('string');
});
