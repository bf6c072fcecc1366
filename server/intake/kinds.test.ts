import { expect, test } from '@jest/globals';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { kindOf } from './kinds.ts';
import { walkFiles, type Obstacle } from './walk.ts';

test.each([
  ['a/b.MP3', 'audio'],
  ['x.opus', 'audio'],
  ['tape.aifc', 'audio'],
  ['Cover.JPG', 'cover'],
  ['folder.png', 'cover'],
  ['set.m3u8', 'A list, not music'],
  ['take.wav.part', 'An unfinished download'],
  ['song.zip', 'An archive; unpack it first'],
  ['scan.jpg', 'A picture or document, not music'],
  ['notes.txt', 'Text, not music'],
  ['words.cdg', 'Karaoke graphics; no music of the same name lies beside them'],
  ['mp3', 'Not music'],
  ['noending', 'Not music'],
  ['odd.xyz', 'Not music'],
])('%s is %s', (path, expected) => {
  const kind = kindOf(path);
  expect(kind.kind === 'other' ? kind.reason : kind.kind).toBe(expected);
});

test('any name is sorted, and the folder it lies in does not matter', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), fc.string(), (name, folder) => {
      const plain = name.replaceAll('/', '');
      expect(kindOf(`${folder.replaceAll('/', '')}/${plain}`)).toEqual(kindOf(plain));
    }),
  );
});

test('a walk finds every file once, in a steady order, and tells what it passed over', async () => {
  const root = mkdtempSync(join(tmpdir(), 'early-set-walk-'));
  const outside = mkdtempSync(join(tmpdir(), 'early-set-out-'));
  for (const path of ['b/2.mp3', 'b/1.mp3', 'a/deep/er/x.flac', 'ü – ñ.ogg', '.hidden/no.mp3', 'z.wav']) {
    mkdirSync(join(root, path, '..'), { recursive: true });
    writeFileSync(join(root, path), path);
  }
  writeFileSync(join(outside, 'secret.mp3'), 'x');
  symlinkSync(outside, join(root, 'link'));
  symlinkSync(root, join(root, 'a/round'));
  writeFileSync(Buffer.concat([Buffer.from(`${root}/`), Buffer.from([0x66, 0xfc, 0x2e, 0x6d, 0x70, 0x33])]), 'latin');
  const obstacles: Obstacle[] = [];
  const walk = async (): Promise<string[]> => {
    const found: string[] = [];
    for await (const file of walkFiles(root, { obstacle: (o) => obstacles.push(o) })) found.push(file.path);
    return found;
  };
  const found = await walk();
  expect([...found].sort()).toEqual(['a/deep/er/x.flac', 'b/1.mp3', 'b/2.mp3', 'z.wav', 'ü – ñ.ogg'].sort());
  expect(obstacles.map((o) => o.code).sort()).toEqual(['bad-name', 'link', 'link']);
  expect(await walk()).toEqual(found);
  rmSync(outside, { recursive: true });
  chmodSync(root, 0o700);
  rmSync(root, { recursive: true });
  await expect(walk()).rejects.toThrow(/ENOENT/);
});

test('a walk that is called off stops', async () => {
  const root = mkdtempSync(join(tmpdir(), 'early-set-stop-'));
  mkdirSync(join(root, 'more'));
  writeFileSync(join(root, 'a.mp3'), 'x');
  const stop = new AbortController();
  const found: string[] = [];
  await expect(
    (async () => {
      for await (const file of walkFiles(root, { obstacle: () => undefined, signal: stop.signal })) {
        found.push(file.path);
        stop.abort(new Error('called off'));
      }
    })(),
  ).rejects.toThrow('called off');
  expect(found).toEqual(['a.mp3']);
  rmSync(root, { recursive: true });
});
