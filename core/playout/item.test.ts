import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { TrackValues } from '../fields/values.ts';
import { readCsv } from '../exchange/csvTable.ts';
import { readCart, writeCart } from './cart.ts';
import { bextOf, cartOf, catalogueOf, hourLog, itemId, needsOfItem, timersOf } from './item.ts';
import { TURNSTONE } from './system.ts';

const READY: TrackValues = {
  title: 'Lamp Room',
  version: 'Late Mix',
  artist: ['Vesna Rook', 'Iri Vane'],
  genre: ['House'],
  playoutId: 123,
  lufs: -9.2,
  durationSeconds: 240,
  audibleStartSeconds: 0.1,
  introEndSeconds: 12,
  segueSeconds: 231.5,
  audibleEndSeconds: 239.9,
};
const needs = (more: TrackValues): string[] =>
  needsOfItem({ ...READY, ...more }, TURNSTONE).map((n) => `${n.field}: ${n.reason} (${n.mend})`);

describe('what a playout system would refuse', () => {
  test('nothing of a track that has all', () => expect(needs({})).toEqual([]));
  test('each thing that is missing, with where it is mended', () => {
    expect(needs({ title: '', artist: [], playoutId: null, lufs: null, introEndSeconds: null })).toEqual([
      'title: It has no title (Clean)',
      'artist: It has no artist (Clean)',
      'playoutId: It has no ID of 6 digits (Clean)',
      'lufs: Its loudness was never measured (Measure)',
      'introEndSeconds: It has no intro end (Sound)',
    ]);
  });
  test('marks that are not in order or behind the end; days that end before they begin', () => {
    expect(needs({ segueSeconds: 5 })).toEqual([
      'segueSeconds: Its segue point is before the point in front of it (Sound)',
    ]);
    expect(needs({ audibleEndSeconds: 300 })).toEqual([
      'audibleEndSeconds: Its audible end is behind the end of the sound (Sound)',
    ]);
    expect(needs({ playFrom: '2026-12-02', playTo: '2026-12-01' })).toHaveLength(1);
  });
  test('a jingle has no intro that could be missing: it is over where the sound begins', () => {
    expect(needs({ kind: 'jingle', introEndSeconds: null })).toEqual([]);
    expect(needs({ kind: 'track', introEndSeconds: null })).toHaveLength(1);
    const timers = timersOf({ ...READY, kind: 'spoken', introEndSeconds: null }, TURNSTONE, 12_000_000);
    expect(timers.find((t) => t.use === 'INTe')!.samples).toBe(4800);
  });
  test('an ID with more digits than there is room for is none', () => {
    expect([itemId(7, TURNSTONE), itemId(1_000_000, TURNSTONE), itemId('7', TURNSTONE)]).toEqual([
      '000007',
      null,
      null,
    ]);
  });
});

test('whatever its marks, those told lie within the sound and in the order of a track that is not refused', () => {
  const at = fc.option(fc.double({ min: -10, max: 400, noNaN: true }));
  fc.assert(
    fc.property(at, at, at, at, fc.integer({ min: 1, max: 20_000_000 }), (start, intro, segue, end, samples) => {
      const values: TrackValues = {
        ...READY,
        ...{ audibleStartSeconds: start, introEndSeconds: intro, segueSeconds: segue, audibleEndSeconds: end },
      };
      const timers = timersOf(values, TURNSTONE, samples).map((t) => t.samples);
      for (const timer of timers) {
        expect(timer).toBeGreaterThanOrEqual(0);
        expect(timer).toBeLessThanOrEqual(samples);
      }
      if (needsOfItem(values, TURNSTONE).length === 0) expect(timers).toEqual([...timers].sort((a, b) => a - b));
    }),
  );
});

test('the chunks say what the library says', () => {
  const values = { ...READY, playFrom: '2026-11-01T00:00:00Z', dayparts: ['evening', 'night'], ending: 'fade' };
  const cart = readCart(writeCart(cartOf(values, TURNSTONE, 240 * 48_000)))!;
  expect(cart).toMatchObject({
    ...{ title: 'Lamp Room (Late Mix)', artist: 'Vesna Rook; Iri Vane', cutId: '000123', category: 'House' },
    ...{ classification: 'evening; night', outCue: 'fade', startDate: '2026-11-01', endDate: '9999-12-31' },
  });
  expect(cart.timers).toEqual([
    { use: 'AUDs', samples: 4800 },
    { use: 'INTe', samples: 576_000 },
    { use: 'SEGs', samples: 11_112_000 },
    { use: 'AUDe', samples: 11_515_200 },
  ]);
  expect(() => cartOf({ ...READY, playoutId: null }, TURNSTONE, 1)).toThrow('It has no ID');
  const loudness = { value: -23, range: 5, maxTruePeak: -3, maxMomentary: null, maxShortTerm: null };
  expect(bextOf(values, '000123', loudness, '2026-11-29T20:15:00Z')).toMatchObject({
    ...{ description: 'Vesna Rook; Iri Vane - Lamp Room (Late Mix)', originatorReference: '000123' },
    ...{ date: '2026-11-29', time: '20:15:00', loudness },
  });
});

test('the catalogue has a column for each, the log a line for each item', () => {
  const text = catalogueOf(
    [
      { path: '000123.wav', values: { ...READY, explicit: true, language: 'en', playTo: '2027-01-31T00:00:00Z' } },
      { path: '000009.wav', values: { title: 'A "quoted", title', artist: ['B'], playoutId: 9, explicit: false } },
    ],
    TURNSTONE,
  );
  const { rows } = readCsv(text, 'catalogue.csv', []);
  expect(rows).toMatchObject([
    {
      ...{ path: '000123.wav', id: '000123', title: 'Lamp Room (Late Mix)', artist: 'Vesna Rook; Iri Vane' },
      ...{ category: 'House', language: 'en', explicit: 'yes', 'valid from': '', 'valid to': '2027-01-31' },
    },
    { id: '000009', title: 'A "quoted", title', explicit: 'no' },
  ]);
  expect(hourLog([{ time: '2026-12-01T19:00:00', id: '000123' }])).toBe('time,id\n2026-12-01T19:00:00,000123\n');
});
