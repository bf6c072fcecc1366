import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inStock, offered, play, readCsv, take } from './stock.ts';
import { readWave } from './wave.ts';

let data: string, drop: string, noise: Buffer;
beforeEach(() => {
  data = mkdtempSync(join(tmpdir(), 'turnstone-'));
  drop = join(data, 'drop');
  mkdirSync(drop);
  mkdirSync(join(data, 'logs'));
  noise ??= pcm();
});
afterEach(() => rmSync(data, { recursive: true, force: true }));

const HERTZ = 48_000,
  SECONDS = 4;
/** Pink noise at −23 LUFS, in 16 bits and two channels. */
function pcm(): Buffer {
  const source = ['-f', 'lavfi', '-i', `anoisesrc=d=${SECONDS}:c=pink:r=${HERTZ}:a=0.2:seed=7`];
  const run = (...args: string[]) => spawnSync('ffmpeg', ['-hide_banner', ...args], { maxBuffer: 1 << 26 });
  const { stderr } = run(...source, '-af', 'pan=stereo|c0=c0|c1=c0,ebur128', '-f', 'null', '-');
  const said = stderr.toString();
  const lufs = Number(/I:\s+(-?[\d.]+) LUFS/.exec(said.slice(said.lastIndexOf('Summary:')))![1]);
  const filter = `pan=stereo|c0=c0|c1=c0,volume=${-23 - lufs}dB`;
  return run(...source, '-af', filter, '-f', 's16le', '-').stdout;
}

interface Item {
  title: string;
  artist: string;
  id: string;
  marks: Record<string, number>;
  lufs: number;
  hertz: number;
  sound: Buffer;
  chunks: readonly string[];
}
const MARKS = { AUDs: 0, INTe: HERTZ, SEGs: 3 * HERTZ, AUDe: SECONDS * HERTZ };
const item = (more: Partial<Item> = {}): Item => ({
  ...{ title: 'Lamp Room', artist: 'Vesna Rook', id: '000123', marks: MARKS, lufs: -23, hertz: HERTZ, sound: noise },
  chunks: ['cart', 'bext'],
  ...more,
});

function chunk(id: string, body: Buffer): Buffer {
  const head = Buffer.alloc(8);
  head.write(id, 'latin1');
  head.writeUInt32LE(body.length, 4);
  return Buffer.concat([head, body, Buffer.alloc(body.length % 2)]);
}
/** The layouts of AES46 and EBU Tech 3285, by their offsets. */
function wav({ title, artist, id, marks, lufs, hertz, sound, chunks }: Item): Buffer {
  const fmt = Buffer.alloc(16);
  fmt.writeUInt16LE(1, 0);
  fmt.writeUInt16LE(2, 2);
  fmt.writeUInt32LE(hertz, 4);
  fmt.writeUInt32LE(hertz * 4, 8);
  fmt.writeUInt16LE(4, 12);
  fmt.writeUInt16LE(16, 14);
  const cart = Buffer.alloc(2048);
  cart.write('0101', 0, 'latin1');
  for (const [at, text] of [
    [4, title],
    [68, artist],
    [132, id],
  ] as const)
    cart.write(text, at, 'latin1');
  for (const [n, [use, samples]] of Object.entries(marks).entries()) {
    cart.write(use.padEnd(4), 684 + 8 * n, 'latin1');
    cart.writeUInt32LE(samples, 688 + 8 * n);
  }
  const bext = Buffer.alloc(602);
  bext.writeUInt16LE(2, 346);
  bext.writeInt16LE(Math.round(lufs * 100), 412);
  bext.writeInt16LE(-300, 416);
  const parts = [Buffer.from('WAVE'), chunk('fmt ', fmt), chunk('data', sound)];
  if (chunks.includes('cart')) parts.push(chunk('cart', cart));
  if (chunks.includes('bext')) parts.push(chunk('bext', bext));
  return chunk('RIFF', Buffer.concat(parts));
}

/** Offers items by file name, with lines of the catalogue that say the same. */
function offer(items: Record<string, Item>, extra: Record<string, string> = {}): void {
  const columns = ['path', 'id', 'title', 'artist', ...Object.keys(extra)];
  const lines = Object.entries(items).map(([name, i]) =>
    [name, i.id, i.title, i.artist, ...Object.values(extra)].join(','),
  );
  for (const [name, i] of Object.entries(items)) writeFileSync(join(drop, name), wav(i));
  writeFileSync(join(drop, 'catalogue.csv'), `${columns.join(',')}\n${lines.join('\n')}\n`);
}
const refused = (): string[] => offered(data).refused;

test('takes an item that is as it should be; the same again is passed over, a changed one taken', () => {
  offer({ 'lamp.wav': item() });
  expect(take(data)).toEqual({ taken: ['000123'], refused: [] });
  expect(readdirSync(join(data, 'stock')).sort()).toEqual(['000123.wav', 'catalogue.csv']);
  expect(take(data).taken).toEqual([]);
  offer({ 'lamp.wav': item({ title: 'Lamp Room (Late)' }) });
  expect(take(data).taken).toEqual(['000123']);
  expect(inStock(data).map((r) => r.title)).toEqual(['Lamp Room (Late)']);
});

test('reads the marks and the loudness from the chunks', () => {
  offer({ 'lamp.wav': item() });
  expect(readWave(join(drop, 'lamp.wav'))).toMatchObject({
    ...{ hertz: HERTZ, channels: 2, bits: 16, samples: SECONDS * HERTZ },
    cart: { title: 'Lamp Room', artist: 'Vesna Rook', id: '000123', timers: MARKS },
    bext: { lufs: -23, dbtp: -3 },
  });
});

test.each<[string, Partial<Item>, string]>([
  ['no title', { title: '' }, 'it has no title'],
  ['no artist', { artist: '' }, 'it has no artist'],
  ['an ID of another width', { id: '123' }, 'it has no ID of six digits: “123”'],
  ['another rate', { hertz: 44_100 }, 'it has 44100 Hz'],
  ['no cart chunk', { chunks: ['bext'] }, 'it has no cart chunk'],
  ['no bext chunk', { chunks: ['cart'] }, 'it has no bext chunk'],
  ['a mark that is missing', { marks: { AUDs: 0, SEGs: 1, AUDe: 2 } }, 'it lacks a mark: INTe'],
  ['marks out of order', { marks: { ...MARKS, SEGs: 10 } }, 'it has marks that are not in order'],
  ['a mark behind the end', { marks: { ...MARKS, AUDe: 9e6 } }, 'it has marks that are not in order'],
  ['a loudness that is not so', { lufs: -14 }, 'it says -14 LUFS and has -23'],
])('refuses %s', (_what, wrong, why) => {
  offer({ 'lamp.wav': item(wrong) });
  expect(refused().join('\n')).toContain(`lamp.wav: ${why}`);
  expect(take(data).taken).toEqual([]);
});

test('refuses what is too loud, what is half there, and an ID that another has', () => {
  const loud = Buffer.from(noise);
  for (let i = 0; i + 1 < loud.length; i += 2)
    loud.writeInt16LE(Math.max(-32768, Math.min(32767, loud.readInt16LE(i) * 4)), i);
  offer({
    'a.wav': item({ id: '000001' }),
    'b.wav': item({ id: '000001' }),
    'c.wav': item({ id: '000003', sound: loud }),
  });
  const said = refused();
  expect(said[0]).toBe('b.wav: it has the ID of a.wav');
  expect(said[1]).toMatch(/^c\.wav: it has -1\d(\.\d)? LUFS$/);
  expect(said.at(-1)).toMatch(/^c\.wav: it says -23 LUFS and has -1\d/);
  rmSync(join(drop, 'c.wav'));
  truncateSync(join(drop, 'a.wav'), 5000);
  writeFileSync(join(drop, '.growing.wav'), 'x');
  writeFileSync(join(drop, 'unknown.wav'), wav(item()));
  expect(refused()).toEqual([
    'a.wav: it is not whole',
    'unknown.wav: it is not in the catalogue',
    'c.wav: it is in the catalogue, and not there',
  ]);
});
test('an ID that it knows for another item is refused, also later', () => {
  offer({ 'a.wav': item() });
  take(data);
  rmSync(join(drop, 'a.wav'));
  offer({ 'z.wav': item({ title: 'Another' }) });
  expect(refused()).toEqual(['z.wav: it has the ID of a.wav']);
});

test('plays a log from segue to segue, nothing outside its dates, and writes down what was on air', () => {
  offer({ 'a.wav': item() }, { 'valid to': '2026-12-01' });
  take(data);
  writeFileSync(
    join(data, 'logs/19.csv'),
    'time,id\n2026-12-01T19:00:00,000123\n2026-12-02T19:00:00,000123\n2026-12-01T19:05:00,000999\nsoon,000123\n',
  );
  expect(play(data, '19.csv')).toEqual({
    played: 1,
    refused: [
      '19.csv: 000123 may not be played on 2026-12-02',
      '19.csv: there is no item 000999',
      '19.csv: “soon” is no time',
    ],
  });
  expect(readFileSync(join(data, 'played/2026-12-01.csv'), 'utf8')).toBe(
    'time,title,artist,seconds,playout ID\n2026-12-01T19:00:00,Lamp Room,Vesna Rook,3.0,000123\n',
  );
  expect(existsSync(join(data, 'played/2026-12-02.csv'))).toBe(false);
});

test('cells with commas, quotes and line breaks', () => {
  expect(readCsv('a,"b ""c"", d\ne"\r\nf,\n')).toEqual([
    ['a', 'b "c", d\ne'],
    ['f', ''],
  ]);
  expect(() => readCsv('"a')).toThrow('a cell has no end');
});
