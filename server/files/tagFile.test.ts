/** Tags of real files, written by us and read by two others: mutagen and ffprobe. */
import { spawnSync } from 'node:child_process';
import {
  chmodSync,
  copyFileSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { fieldsIn, openTags } from '@early-set/core/tags/edit';
import { withSource, writeTags } from './tagFile.ts';
import { asMetadata, synthesize } from '../testing/ffmpeg.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-tagfile-'));
const run = (program: string, args: string[]): string => {
  const done = spawnSync(program, args, { encoding: 'utf8', maxBuffer: 1 << 26 });
  if (done.status !== 0) throw new Error(`${program}: ${done.stderr}`);
  return done.stdout;
};
const KINDS: [string, string[]][] = [
  ['v23.mp3', ['-id3v2_version', '3', '-write_id3v1', '1']],
  ['v24.mp3', ['-id3v2_version', '4']],
  ['a.flac', []],
  ['a.ogg', ['-c:a', 'libvorbis']],
  ['a.opus', ['-c:a', 'libopus']],
  ['last.m4a', []],
  ['first.m4a', ['-movflags', '+faststart']],
  ['a.wav', []],
  ['a.aiff', ['-write_id3v2', '1']],
];

/** What mutagen reads: title, artists, own key, picture, length of the sound. Programs apart speak JSON. */
const READER = `
import json, sys, mutagen
f = mutagen.File(sys.argv[1])
t = f.tags if f.tags is not None else {}
out = {"kind": type(f).__name__, "length": round(f.info.length, 2), "keys": sorted(str(k) for k in t.keys())}
def texts(*names):
    for n in names:
        if n in t:
            v = t[n]
            v = getattr(v, "text", v)
            return [str(x) for x in v] if isinstance(v, list) else [str(v)]
    return None
out["title"] = texts("TIT2", "title", "\\xa9nam")
out["artist"] = texts("TPE1", "artist", "\\xa9ART")
out["key"] = texts("TKEY", "KEY", "----:com.apple.iTunes:initialkey")
if out["key"] and out["key"][0].startswith("b'"): out["key"] = [out["key"][0][2:-1]]
out["kept"] = texts("TXXX:TXYZ", "TXYZ")
print(json.dumps(out))
`;
interface Read {
  kind: string;
  length: number;
  keys: string[];
  title: string[];
  artist: string[];
  key: string[];
  kept: string[] | null;
}
const mutagen = (path: string): Read => JSON.parse(run('/usr/bin/python3', ['-c', READER, path])) as Read;
/** Checksum of the packets of sound as ffmpeg copies them. */
const packets = (path: string): string =>
  run('ffmpeg', ['-v', 'error', '-i', path, '-map', '0:a', '-c', 'copy', '-f', 'md5', '-']).trim();

beforeAll(() => {
  for (const [name, args] of KINDS) {
    const tags = { title: 'Old', artist: 'Someone', TXYZ: 'kept' };
    synthesize(
      join(folder, name),
      'sine=frequency=330:duration=4:sample_rate=44100',
      '-ac',
      '2',
      ...asMetadata(tags),
      ...args,
    );
  }
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe.each(KINDS.map(([name]) => name))('%s', (name) => {
  const path = join(folder, `own-${name}`);
  const edits = { fields: { title: ['Ebb Tide — Ω'], artist: ['Someone', 'Somebody Else'], key: ['f# minor'] } };

  test('others read what was written, the sound is the same, a second edit fits in place', () => {
    copyFileSync(join(folder, name), path);
    const before = mutagen(path),
      sound = packets(path);
    expect(writeTags(path, edits).changed).toBe(true);
    const after = mutagen(path);
    expect(after).toMatchObject({
      kind: before.kind,
      length: before.length,
      title: ['Ebb Tide — Ω'],
      artist: ['Someone', 'Somebody Else'],
      key: ['F#m'],
      kept: before.kept,
    });
    expect(before.keys.filter((k) => !after.keys.includes(k))).toEqual([]);
    expect(packets(path)).toBe(sound);
    const probed = (): string | undefined => {
      const { format, streams } = JSON.parse(
        run('ffprobe', ['-v', 'error', '-show_entries', 'format_tags=title:stream_tags=title', '-of', 'json', path]),
      ) as { format: { tags?: { title?: string } }; streams: { tags?: { title?: string } }[] };
      return format.tags?.title ?? streams[0]!.tags!.title;
    };
    expect(probed()).toBe('Ebb Tide — Ω');
    for (const title of ['Another title, somewhat longer', 'Ebb', 'Ebb, once more with a little more to say']) {
      expect(writeTags(path, { fields: { title: [title] } })).toEqual({ changed: true, inPlace: true });
      expect(packets(path)).toBe(sound);
      expect([mutagen(path).title, probed()]).toEqual([[title], title]);
    }
  });
});

test('times and permissions are kept, nothing is left behind, a dry run changes nothing', () => {
  const path = join(folder, 'kept.flac');
  copyFileSync(join(folder, 'a.flac'), path);
  chmodSync(path, 0o640);
  utimesSync(path, 1_500_000_000, 1_500_000_000);
  const bytes = readFileSync(path),
    long = { fields: { comment: ['long '.repeat(20_000)] } };
  expect(writeTags(path, long, { dryRun: true })).toEqual({ changed: true, inPlace: false });
  expect(readFileSync(path).equals(bytes)).toBe(true);
  writeTags(path, long);
  const { mode, mtimeMs } = statSync(path);
  expect([mode & 0o777, mtimeMs]).toEqual([0o640, 1_500_000_000_000]);
  expect(readdirSync(folder).filter((f) => f.startsWith('.'))).toEqual([]);
  expect(withSource(path, (source) => fieldsIn(openTags(source)).comment)).toEqual(['long '.repeat(20_000).trim()]);
});

test('a file that is not what it seems is left as it is, with the reason', () => {
  const path = join(folder, 'letter.mp3');
  writeFileSync(path, 'Dear all, '.repeat(400));
  expect(() => writeTags(path, { fields: { title: ['x'] } })).toThrow('No MPEG audio');
  const cut = join(folder, 'cut.wav');
  writeFileSync(cut, readFileSync(join(folder, 'a.wav')).subarray(0, 5000));
  expect(() => writeTags(cut, { fields: { title: ['x'] } })).toThrow('cut off');
  expect(readFileSync(cut).length).toBe(5000);
});
