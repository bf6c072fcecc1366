/** Others read the chunks of broadcast that the desk lays into a WAV. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeBext } from '@early-set/core/playout/bext';
import { readCart, writeCart } from '@early-set/core/playout/cart';
import { sourceOf, spliced } from '@early-set/core/tags/bytes';
import { setWaveChunks, waveChunk } from '@early-set/core/tags/containers/iff';
import { synthesize } from '../testing/ffmpeg.ts';
import { packetHash, probeTags } from './decode.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-broadcast-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('bext as ffprobe says it, the sound as it was, cart kept by both', async () => {
  const path = join(folder, 'item.wav');
  synthesize(path, 'sine=frequency=440:sample_rate=48000:duration=1');
  const sound = await packetHash(path);
  const bytes = new Uint8Array(readFileSync(path));
  const cart = {
    ...{ title: 'Tin Shed Rain', artist: 'Odette Kassar', cutId: '004711', clientId: '', category: 'music' },
    ...{ classification: '', outCue: '', startDate: '', startTime: '', endDate: '', endTime: '', producerApp: '' },
    ...{ producerAppVersion: '', userDefined: '', levelReference: 0, url: '', tagText: '' },
    timers: [{ use: 'SEGs' as const, samples: 40_000 }],
  };
  const bext = writeBext({
    ...{ description: 'Tin Shed Rain', originator: 'Skerry Sound', originatorReference: 'ref-1' },
    ...{ date: '2026-11-29', time: '13:05:00', timeReference: 5_000_000_000 },
    loudness: { value: -23, range: 4.2, maxTruePeak: -1, maxMomentary: null, maxShortTerm: null },
    codingHistory: 'A=PCM,F=48000,W=16,M=mono',
  });
  writeFileSync(path, spliced(bytes, setWaveChunks(sourceOf(bytes), { bext, cart: writeCart(cart) })));
  const said = await probeTags(path);
  expect(said).toMatchObject({
    comment: 'Tin Shed Rain',
    encoded_by: 'Skerry Sound',
    originator_reference: 'ref-1',
    date: '2026-11-29',
    creation_time: '13:05:00',
    time_reference: '5000000000',
  });
  expect(said.coding_history).toContain('A=PCM,F=48000,W=16,M=mono');
  expect(await packetHash(path)).toBe(sound);
  expect(readCart(waveChunk(sourceOf(new Uint8Array(readFileSync(path))), 'cart')!)).toEqual(cart);
  // Read through to its end without an error.
  const read = spawnSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'null', '-'], { encoding: 'utf8' });
  expect([read.status, read.stderr]).toEqual([0, '']);
});
