/** The playout system itself judges what is made for it. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { catalogueOf, hourLog, itemId } from '@early-set/core/playout/item';
import { TURNSTONE } from '@early-set/core/playout/system';
import { inStock, offered, play, take } from '../../standins/turnstone/stock.ts';
import { readWave, type Wave } from '../../standins/turnstone/wave.ts';
import { synthesize } from '../testing/ffmpeg.ts';
import { makeItem } from './makeItem.ts';

let folder: string, data: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-playout-'));
  data = join(folder, 'turnstone');
  for (const name of ['drop', 'logs']) mkdirSync(join(data, name), { recursive: true });
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const AT = '2026-11-29T20:15:00Z';
const values = (playoutId: number, title: string) => ({
  ...{ title, artist: ['Odette Kassar'], genre: ['House'], playoutId, lufs: -9, durationSeconds: 12 },
  ...{ audibleStartSeconds: 0.1, introEndSeconds: 2, segueSeconds: 11, audibleEndSeconds: 11.9 },
});

test('loud and quiet ones, of any rate and format, are taken, played, and written down', async () => {
  const sources = [
    ['loud.mp3', 'anoisesrc=d=12:c=pink:r=44100:a=0.9:seed=3', 'Lamp Room'],
    ['quiet.flac', 'anoisesrc=d=12:c=brown:r=96000:a=0.05:seed=4', 'Eel, “Grass”'],
    ['peaks.wav', "aevalsrc='0.05*sin(880*PI*t)+0.9*lt(mod(t,1),0.004)*sin(4000*PI*t)':d=12:s=48000", 'Tin Shed Rain'],
  ] as const;
  const items = [];
  for (const [i, [name, sound, title]] of sources.entries()) {
    const source = join(folder, name);
    synthesize(source, sound);
    const own = values(41 + i, title);
    const path = `${itemId(own.playoutId, TURNSTONE)}.wav`;
    const made = await makeItem({ source, to: join(data, 'drop', path), values: own, system: TURNSTONE, at: AT });
    expect(Math.abs(made.measured.integratedLufs! + 23)).toBeLessThanOrEqual(0.1);
    expect(made.measured.truePeakDbtp).toBeLessThanOrEqual(-1);
    items.push({ path, values: own });
  }
  writeFileSync(join(data, 'drop/catalogue.csv'), catalogueOf(items, TURNSTONE));
  expect(offered(data).refused).toEqual([]);
  expect(take(data)).toEqual({ taken: ['000041', '000042', '000043'], refused: [] });
  const wave = readWave(join(data, 'drop/000041.wav')) as Wave;
  expect([wave.hertz, wave.bits, wave.cart!.timers]).toEqual([
    ...[48_000, 16, { AUDs: 4800, INTe: 96_000, SEGs: 528_000, AUDe: 571_200 }],
  ]);
  expect(inStock(data).map((r) => r.title)).toEqual(['Lamp Room', 'Eel, “Grass”', 'Tin Shed Rain']);
  const log = hourLog(items.map(({ path }, i) => ({ time: `2026-12-01T19:0${i}:00`, id: path.slice(0, 6) })));
  writeFileSync(join(data, 'logs/19.csv'), log);
  expect(play(data, '19.csv')).toEqual({ played: 3, refused: [] });
  expect(readFileSync(join(data, 'played/2026-12-01.csv'), 'utf8').split('\n')[1]).toBe(
    '2026-12-01T19:00:00,Lamp Room,Odette Kassar,10.9,000041',
  );
}, 120_000);

test('silence cannot be brought to a loudness, and what has no ID is not made', async () => {
  const source = join(folder, 'silence.wav');
  synthesize(source, 'anullsrc=r=48000:cl=stereo', '-t', '3');
  const wish = { source, to: join(data, 'drop/1.wav'), values: values(1, 'Silence'), system: TURNSTONE, at: AT };
  await expect(makeItem(wish)).rejects.toThrow('It cannot be brought to -23 LUFS');
  await expect(makeItem({ ...wish, values: { ...wish.values, playoutId: 1e7 } })).rejects.toThrow('It has no ID');
  expect(readdirSync(join(data, 'drop'))).toEqual([]);
});
