import { expect, test } from '@jest/globals';
import { fromShares } from '../analysis/waveform.ts';
import { seeded } from '../signal/random.ts';
import { pairsAmong, type Recording } from './among.ts';

/** A minute of attacks whose levels go by chance, with a fingerprint of its own. */
function recording(seed: number, more: Partial<Recording> = {}): Recording {
  const random = seeded(seed);
  const shares = new Uint8Array(60 * 100 * 3);
  for (let beat = 0; beat < 120; beat++) {
    const levels = [60 + 190 * random(), 40 + 120 * random(), 30 + 90 * random()];
    for (let i = 0; i < 50; i++)
      for (let band = 0; band < 3; band++)
        shares[(beat * 50 + i) * 3 + band] = Math.round(levels[band]! * Math.exp(-i / 25) + 4);
  }
  const fingerprint = Uint32Array.from({ length: 480 }, () => Math.floor(random() * 2 ** 32));
  return { sound: { waveform: fromShares(shares), fingerprint }, audioHash: String(seed), names: '', ...more };
}
const seen = (recordings: Recording[]): unknown[] =>
  pairsAmong(recordings).map(({ first, second, relation }) => [first, second, relation]);

test('by the very bytes, by sound, by names; whatever order they come in', () => {
  const a = recording(1),
    quieter = { ...recording(1), audioHash: 'other' };
  quieter.sound = { ...quieter.sound, waveform: a.sound.waveform.map((v) => Math.max(0, v - 20)) };
  expect(seen([a, recording(2), recording(1)])).toEqual([[0, 2, 'same bytes']]);
  expect(seen([quieter, recording(2), a])).toEqual([[0, 2, 'same recording']]);
  expect(seen([recording(3, { names: 'x\ny' }), recording(4, { names: 'x\ny' })])).toEqual([[0, 1, 'same song']]);
  expect(seen([recording(3), recording(4)])).toEqual([]);
});

test('without a fingerprint names and bytes still propose', () => {
  const bare = (seed: number, names: string): Recording => {
    const one = recording(seed, { names, audioHash: null });
    return { ...one, sound: { ...one.sound, fingerprint: null } };
  };
  expect(seen([bare(1, 'x'), bare(1, 'x'), bare(2, 'z')])).toEqual([[0, 1, 'same recording']]);
  expect(seen([bare(1, ''), bare(1, '')])).toEqual([]);
});
