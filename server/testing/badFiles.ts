/**
 * Three hundred files as real collections hold them: cut off, overwritten, misnamed, empty, odd in rate, channels or
 * length.
 */
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { synthesize } from './ffmpeg.ts';

const SOURCES: [ending: string, seconds: number, args: string[]][] = [
  ['wav', 1.2, []],
  ['mp3', 1.2, ['-b:a', '128k']],
  ['flac', 1.2, []],
  ['ogg', 1.2, ['-c:a', 'libvorbis']],
  ['opus', 1.2, ['-c:a', 'libopus']],
  ['m4a', 1.2, ['-c:a', 'aac']],
  ['aiff', 1.2, []],
  ['mp3', 1.2, ['-b:a', '320k', '-id3v2_version', '3']],
];
const ODD: [name: string, seconds: number, args: string[]][] = [
  ['eight kilohertz.wav', 3, ['-ar', '8000']],
  ['four kilohertz.wav', 3, ['-ar', '4000']],
  ['hundred and ninety-two.flac', 3, ['-ar', '192000']],
  ['six channels.flac', 3, ['-ac', '6']],
  ['eight channels.wav', 3, ['-ac', '8']],
  ['mono.mp3', 3, ['-ac', '1']],
  ['two seconds.mp3', 2, []],
  ['a blink.wav', 0.02, []],
  ['float.wav', 2, ['-c:a', 'pcm_f32le']],
  ['twenty-four bits.wav', 2, ['-c:a', 'pcm_s24le']],
  ['eight bits.wav', 2, ['-c:a', 'pcm_u8']],
  ['law.wav', 2, ['-c:a', 'pcm_mulaw']],
];

/** Random numbers from 0 to 1, always the same. */
function chance(seed: number): () => number {
  let x = seed >>> 0;
  return () => {
    x = (Math.imul(x, 1664525) + 1013904223) >>> 0;
    return x / 2 ** 32;
  };
}

const tone = (seconds: number): string =>
  `aevalsrc=0.3*sin(440*2*PI*t)+0.3*sin(660*2*PI*t)*lt(mod(t\\,0.5)\\,0.1):d=${seconds}`;

/** Makes `count` files in a folder; returns their names. */
export function makeBadFiles(folder: string, count = 300): string[] {
  mkdirSync(folder, { recursive: true });
  const random = chance(4);
  const names: string[] = [];
  const keep = (name: string, bytes?: Buffer): string => {
    names.push(name);
    if (bytes) writeFileSync(join(folder, name), bytes);
    return join(folder, name);
  };
  for (const [name, seconds, args] of ODD) synthesize(keep(name), tone(seconds), ...args);
  synthesize(keep('silence.flac'), 'anullsrc=d=8');
  synthesize(keep('noise.wav'), 'anoisesrc=d=5:a=0.5');
  synthesize(keep('three hours.flac'), 'sine=frequency=220:sample_rate=8000:duration=10800', '-compression_level', '0');
  keep('nothing.mp3', Buffer.alloc(0));
  keep('one byte.wav', Buffer.from([1]));
  keep('zeroes.flac', Buffer.alloc(200_000));
  keep('a letter.mp3', Buffer.from('Dear all,\nthe running order for Tuesday is below.\n'.repeat(40)));
  keep(
    'picture.mp3',
    Buffer.from(
      '/9j/4AAQSkZJRgABAQEASABIAAD/2wBDAP//////////////////////////////////////////////////////////////////////////////////////wgALCAABAAEBAREA/8QAFBABAAAAAAAAAAAAAAAAAAAAAP/aAAgBAQABPxA=',
      'base64',
    ),
  );
  const parts = SOURCES.map(([ending, seconds, args], i) => {
    const path = join(folder, `.source-${i}.${ending}`);
    synthesize(path, tone(seconds), ...args);
    return { ending, path, bytes: readFileSync(path) };
  });
  for (let i = 0; names.length < count; i++) {
    const { ending, path, bytes } = parts[i % parts.length]!;
    const kind = Math.floor(i / parts.length) % 6;
    const name = `${String(i).padStart(3, '0')} `;
    const copy = Buffer.from(bytes);
    if (kind === 0) keep(`${name}cut off.${ending}`, copy.subarray(0, Math.floor(copy.length * random())));
    else if (kind === 1) {
      for (let k = 0; k < 40; k++) copy[Math.floor(copy.length * random())] = Math.floor(256 * random());
      keep(`${name}forty bytes wrong.${ending}`, copy);
    } else if (kind === 2) {
      for (let k = 0; k < 64; k++) copy[k] = Math.floor(256 * random());
      keep(`${name}head overwritten.${ending}`, copy);
    } else if (kind === 3) copyFileSync(path, keep(`${name}misnamed.${parts[(i + 3) % parts.length]!.ending}`));
    else if (kind === 4) {
      const from = Math.floor(copy.length * random() * 0.8);
      copy.fill(0, from, from + Math.floor(copy.length * 0.2));
      keep(`${name}hole.${ending}`, copy);
    } else
      keep(`${name}random.${ending}`, Buffer.from(Array.from({ length: 30_000 }, () => Math.floor(256 * random()))));
  }
  return names;
}
