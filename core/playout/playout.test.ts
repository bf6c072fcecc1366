import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { setWaveChunks, waveChunk } from '../tags/containers/iff.ts';
import { latin1, sourceOf, spliced, u32le } from '../tags/bytes.ts';
import { FILES } from '../testing/tagSamples.ts';
import { BEXT_BYTES, readBext, writeBext, type Bext } from './bext.ts';
import { CART_BYTES, MAX_TIMERS, readCart, TIMER_USES, writeCart, type Cart } from './cart.ts';

/** Letters that have a byte each, without blanks at the ends and what means an end. */
const text = (maxLength: number) =>
  fc.string({
    unit: fc
      .integer({ min: 0x21, max: 0xff })
      .filter((c) => c < 0x7f || c > 0xa0)
      .map((c) => String.fromCharCode(c)),
    maxLength,
  });
const t64 = text(64);
const cart: fc.Arbitrary<Cart> = fc.record({
  ...{ title: t64, artist: t64, cutId: t64, clientId: t64, category: t64, classification: t64, outCue: t64 },
  ...{ startDate: text(10), startTime: text(8), endDate: text(10), endTime: text(8) },
  ...{ producerApp: t64, producerAppVersion: t64, userDefined: t64 },
  levelReference: fc.integer({ min: 0, max: 2 ** 31 - 1 }),
  timers: fc.array(
    fc.record({ use: fc.constantFrom(...TIMER_USES), samples: fc.integer({ min: 0, max: 2 ** 32 - 1 }) }),
    { maxLength: MAX_TIMERS },
  ),
  url: text(1024),
  tagText: text(3000),
});
const measure = fc.option(fc.integer({ min: -30_000, max: 30_000 }).map((n) => n / 100));
const bext: fc.Arbitrary<Bext> = fc.record({
  ...{ description: text(256), originator: text(32), originatorReference: text(32), date: text(10), time: text(8) },
  timeReference: fc.integer({ min: 0, max: 2 ** 50 }),
  loudness: fc.record({
    value: measure,
    range: measure,
    maxTruePeak: measure,
    maxMomentary: measure,
    maxShortTerm: measure,
  }),
  codingHistory: fc.array(text(60).filter(Boolean), { maxLength: 4 }).map((lines) => lines.join('\n')),
});
const NO_CART: Cart = {
  ...{ title: '', artist: '', cutId: '', clientId: '', category: '', classification: '', outCue: '' },
  ...{
    startDate: '',
    startTime: '',
    endDate: '',
    endTime: '',
    producerApp: '',
    producerAppVersion: '',
    userDefined: '',
  },
  ...{ levelReference: 0, timers: [], url: '', tagText: '' },
};

describe('cart', () => {
  test('read as it was written', () => {
    fc.assert(fc.property(cart, (one) => expect(readCart(writeCart(one))).toEqual(one)));
  });
  test('every field where AES46 has it', () => {
    const bytes = writeCart({
      ...NO_CART,
      ...{
        title: 'Tin Shed Rain',
        cutId: '004711',
        outCue: 'on the quay',
        startDate: '2026-11-29',
        endTime: '23:59:59',
      },
      ...{ producerApp: 'Early Set', userDefined: 'x', levelReference: 32767, url: 'u', tagText: 'more' },
      timers: [
        { use: 'SEGs', samples: 9_000_000 },
        { use: 'EOD ', samples: 70_000 },
      ],
    });
    const at = (from: number, length: number): string =>
      latin1(bytes.subarray(from, from + length)).replace(/\0+$/, '');
    expect([at(0, 4), at(4, 64), at(132, 64), at(388, 64), at(452, 10), at(480, 8)]).toEqual([
      ...['0101', 'Tin Shed Rain', '004711', 'on the quay', '2026-11-29', '23:59:59'],
    ]);
    expect([at(488, 64), at(616, 64), u32le(bytes, 680)]).toEqual(['Early Set', 'x', 32767]);
    expect([at(684, 4), u32le(bytes, 688), at(692, 4), u32le(bytes, 696), at(700, 4)]).toEqual([
      ...['SEGs', 9_000_000, 'EOD ', 70_000, ''],
    ]);
    expect([at(1024, 1024), at(2048, 100), CART_BYTES]).toEqual(['u', 'more', 2048]);
  });
  test('letters that have no byte become plain ones; what is too long is cut; too many timers are refused', () => {
    const read = (more: Partial<Cart>): Cart => readCart(writeCart({ ...NO_CART, ...more }))!;
    expect(read({ title: 'Łódź – “Ærø”', artist: '港' })).toMatchObject({ title: 'Lódz - "Ærø"', artist: '?' });
    expect(read({ title: 'x'.repeat(80) }).title).toBe('x'.repeat(64));
    const timers = Array.from({ length: 9 }, () => ({ use: 'SEGs' as const, samples: 1 }));
    expect(() => writeCart({ ...NO_CART, timers })).toThrow(RangeError);
    expect(readCart(new Uint8Array(2047))).toBeNull();
  });
});

describe('bext', () => {
  test('read as it was written', () => {
    fc.assert(fc.property(bext, (one) => expect(readBext(writeBext(one))).toEqual(one)));
  });
  test('of a version before loudness none is read; too short is none', () => {
    const bytes = writeBext({
      ...{ description: 'd', originator: '', originatorReference: '', date: '', time: '', timeReference: 0 },
      loudness: { value: -23, range: 5.5, maxTruePeak: -1, maxMomentary: null, maxShortTerm: -18.2 },
      codingHistory: '',
    });
    expect(readBext(bytes)!.loudness).toEqual({
      value: -23,
      range: 5.5,
      maxTruePeak: -1,
      maxMomentary: null,
      maxShortTerm: -18.2,
    });
    bytes[346] = 1;
    expect(Object.values(readBext(bytes)!.loudness)).toEqual([null, null, null, null, null]);
    expect(readBext(bytes.subarray(0, BEXT_BYTES - 1))).toBeNull();
  });
});

describe('laid into a WAV', () => {
  test('in front of the sound, or in the place of what is there; everything else stays, and it is taken back', () => {
    const before = FILES.WAV!;
    const lay = (bytes: Uint8Array, bodies: Record<string, Uint8Array | null>): Uint8Array =>
      spliced(bytes, setWaveChunks(sourceOf(bytes), bodies));
    const first = lay(before, { cart: writeCart({ ...NO_CART, title: 'One' }) });
    const second = lay(first, { cart: writeCart({ ...NO_CART, title: 'Two', tagText: 'odd' }) });
    expect(u32le(second, 4)).toBe(second.length - 8);
    expect(readCart(waveChunk(sourceOf(second), 'cart')!)!.title).toBe('Two');
    expect(latin1(second).indexOf('cart')).toBeLessThan(latin1(second).indexOf('data'));
    expect(lay(second, { cart: null })).toEqual(before);
    expect(setWaveChunks(sourceOf(before), { cart: null })).toEqual([]);
    expect(waveChunk(sourceOf(before), 'cart')).toBeNull();
  });
});
