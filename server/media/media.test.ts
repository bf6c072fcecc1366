import { afterAll, describe, expect, test } from '@jest/globals';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { kindOf } from '../intake/kinds.ts';
import { safeSegments } from '../intake/upload.ts';
import { walkFiles, type FoundFile, type Obstacle } from '../intake/walk.ts';
import { parseRange, playsDirectly, wavHeader } from './audition.ts';
import { decode, probe, UnreadableAudio } from './decode.ts';
import { isInside, resolveForWriting, resolveInRoot } from './roots.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-unit-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const root = join(folder, 'root');
mkdirSync(join(root, 'sub/.hidden'), { recursive: true });
mkdirSync(join(folder, 'other'));
writeFileSync(join(root, 'sub/a.mp3'), 'x');
writeFileSync(join(root, '--version'), 'x');
writeFileSync(join(folder, 'other/secret'), 'x');
symlinkSync(join(folder, 'other'), join(root, 'out'));
symlinkSync(join(root, 'sub'), join(root, 'in'));

describe('roots only', () => {
  test('paths inside resolve, links included', async () => {
    expect(await resolveInRoot(root, 'sub/a.mp3')).toBe(join(root, 'sub/a.mp3'));
    expect(await resolveInRoot(root, 'in/a.mp3')).toBe(join(root, 'sub/a.mp3'));
  });
  test.each(['../other/secret', 'out/secret', '/etc/hostname', 'sub/../../other/secret', 'a\0b'])(
    '%s is refused',
    async (path) => {
      await expect(resolveInRoot(root, path)).rejects.toMatchObject({ status: 403 });
    },
  );
  test('what is not there is said to be so', async () => {
    await expect(resolveInRoot(root, 'gone.mp3')).rejects.toMatchObject({ status: 404 });
  });
  test('writing through a link that leads outside is refused', async () => {
    await expect(resolveForWriting(root, ['out', 'new.m3u8'])).rejects.toMatchObject({ status: 403 });
    await expect(resolveForWriting(root, ['..', 'new.m3u8'])).rejects.toMatchObject({ status: 403 });
    expect(await resolveForWriting(root, ['sub', 'new.m3u8'])).toBe(join(root, 'sub/new.m3u8'));
  });
  test('a folder whose name begins alike is not inside', () => {
    expect(isInside('/music', '/music2/a')).toBe(false);
  });
  test('dropped paths never climb', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', minLength: 1 }), (path) => {
        let segments: string[];
        try {
          segments = safeSegments(path);
        } catch {
          return;
        }
        expect(segments.every((s) => Buffer.byteLength(s) <= 240)).toBe(true);
        expect(segments.every((s) => s !== '..' && s !== '.' && !/[/\\\0]/.test(s) && s.length > 0)).toBe(true);
      }),
    );
  });
});

test('a long dropped name keeps its ending, in whatever alphabet', () => {
  expect(safeSegments(`${'長い名前'.repeat(60)}.flac`)).toEqual([expect.stringMatching(/^長い名前.*\.flac$/u)]);
  expect(safeSegments(`a/${'b'.repeat(400)}.mp3`)[1]).toMatch(/^b{100,}\.mp3$/);
});

test('walking lists files in a steady order, names what stands in the way, and stays inside', async () => {
  writeFileSync(Buffer.concat([Buffer.from(`${root}/caf`), Buffer.from([0xe9]), Buffer.from('.mp3')]), 'x');
  mkdirSync(join(root, 'locked'));
  chmodSync(join(root, 'locked'), 0);
  const found: FoundFile[] = [];
  const obstacles: Obstacle[] = [];
  for await (const file of walkFiles(root, { obstacle: (o) => obstacles.push(o) })) found.push(file);
  expect(found.map((f) => f.path)).toEqual(['--version', 'sub/a.mp3']);
  expect(
    obstacles
      .map((o) => o.code)
      .filter((c) => c !== 'unreadable')
      .sort(),
  ).toEqual(['bad-name', 'link', 'link']);
});

test('files are told apart by name', () => {
  expect(kindOf('a/b.MP3')).toEqual({ kind: 'audio' });
  expect(kindOf('a/Folder.JPG')).toEqual({ kind: 'cover' });
  expect(kindOf('a/mp3')).toMatchObject({ kind: 'other' });
  expect(kindOf('x.zip')).toEqual({ kind: 'other', reason: 'An archive; unpack it first' });
});

describe('decoding', () => {
  test('broken and odd files give a sentence, never a crash', async () => {
    writeFileSync(join(root, 'noise.flac'), Buffer.alloc(9000, 3));
    await expect(probe(join(root, 'noise.flac'))).rejects.toBeInstanceOf(UnreadableAudio);
    await expect(probe(join(root, '--version'))).rejects.toThrow(/broken|cannot be decoded/);
    await expect(
      decode(join(root, 'noise.flac'), { sampleRate: 44100, channels: 2 }, () => undefined),
    ).rejects.toBeInstanceOf(UnreadableAudio);
    await expect(probe('http://127.0.0.1:1/x.mp3')).rejects.toBeInstanceOf(UnreadableAudio);
  });
  test('cancelling ends ffmpeg', async () => {
    const controller = new AbortController();
    setTimeout(() => controller.abort(new Error('enough')), 50);
    await expect(
      decode('/dev/zero', { sampleRate: 44100, channels: 2 }, () => undefined, { signal: controller.signal }),
    ).rejects.toThrow();
  });
});

describe('audition', () => {
  test('byte ranges as browsers ask for them', () => {
    expect(parseRange('bytes=0-', 100)).toEqual({ start: 0, end: 99 });
    expect(parseRange('bytes=10-19', 100)).toEqual({ start: 10, end: 19 });
    expect(parseRange('bytes=-5', 100)).toEqual({ start: 95, end: 99 });
    expect(parseRange('bytes=90-500', 100)).toEqual({ start: 90, end: 99 });
    expect(parseRange('bytes=100-', 100)).toBe('bad');
    expect(parseRange(undefined, 100)).toBeNull();
    expect(parseRange('bytes=1-2,5-6', 100)).toBeNull();
  });
  test('the WAV header promises what follows', () => {
    const header = wavHeader(1000);
    expect([
      header.toString('latin1', 0, 4),
      header.readUInt32LE(4),
      header.readUInt16LE(22),
      header.readUInt32LE(24),
      header.readUInt32LE(40),
    ]).toEqual(['RIFF', 1036, 2, 44100, 1000]);
  });
  test('what browsers play goes as it is', () => {
    expect(playsDirectly('MP3', 'MPEG 1 Layer 3')).toBe(true);
    expect(playsDirectly('AIFF', 'PCM')).toBe(false);
    expect(playsDirectly('M4A', 'ALAC')).toBe(false);
  });
});
