import { expect, test } from '@jest/globals';
import { auditionGain } from './audition.ts';
import { findField } from '../fields/table.ts';
import type { TrackValues } from '../fields/values.ts';
import { LIST_FIELDS } from './fields.ts';
import { fitOf } from './fit.ts';
import { schedule, type Timed } from './schedule.ts';
import { sortedOrder } from './sorted.ts';
import { transition } from './transition.ts';

test('they are fields, each named once', () => {
  expect(LIST_FIELDS.filter((id) => !findField(id))).toEqual([]);
  expect(new Set(LIST_FIELDS).size).toBe(LIST_FIELDS.length);
});

test('whatever judges and times the entries of a list asks for nothing else', () => {
  const asked = new Set<string>();
  const values = (more: TrackValues = {}): TrackValues =>
    new Proxy(
      { bpm: 124, key: 'A minor', energy: 60, lufs: -9, durationSeconds: 240, vocals: 'yes', ...more },
      {
        get: (target, field) => {
          if (typeof field === 'string') asked.add(field);
          return Reflect.get(target, field) as unknown;
        },
      },
    );
  const entries: Timed[] = [
    { kind: 'track', data: {}, values: values({ outroStartSeconds: 200, ending: 'cold' }) },
    { kind: 'track', data: { tempo: 'ramp' }, values: values({ introEndSeconds: 16, bpm: 126 }) },
    { kind: 'track', data: { tempo: 'former' }, values: values({ segueSeconds: 220 }) },
  ];
  schedule(entries);
  for (const keyLock of [true, false])
    transition(entries[0]!.values, entries[1]!.values, { keyLock, tempo: 125, bars: 8 });
  fitOf({ bpm: 124, key: 'A minor', energy: 60 }, entries[0]!.values);
  sortedOrder(
    entries.map((e, i) => ({ entryId: String(i), values: e.values, stays: false })),
    'title',
  );
  auditionGain(Number(entries[0]!.values.lufs), Number(entries[0]!.values.truePeakDbtp));
  expect(asked.size).toBeGreaterThan(10);
  expect([...asked].filter((id) => !LIST_FIELDS.includes(id))).toEqual([]);
});
