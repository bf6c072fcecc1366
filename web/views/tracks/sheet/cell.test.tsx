import { afterEach, expect, test } from '@jest/globals';
import { cleanup, render } from '@testing-library/react';
import { Tooltip } from 'radix-ui';
import type { SheetRow } from '@early-set/core/api/types';
import { FIELDS } from '@early-set/core/fields/table';
import { Cell } from './Cell.tsx';
import { sheetRow } from '../../../testing/rows.ts';

afterEach(cleanup);

const row = (values: SheetRow['values'], more: Partial<SheetRow> = {}): SheetRow =>
  sheetRow(1, { path: 'Inbox/01 - brine_choir--low_water.mp3', ...values }, more);
const shows = (id: string, r: SheetRow, reference: Parameters<typeof Cell>[0]['reference'] = null): HTMLElement =>
  render(
    <Tooltip.Provider>
      <Cell id={id} row={r} reference={reference} />
    </Tooltip.Provider>,
  ).container;

test('a title with its version; without one the name of the file; struck through when the file is gone', () => {
  expect(shows('title', row({ title: 'Low Water', version: 'Dub' })).textContent).toBe('Low WaterDub');
  expect(shows('title', row({ title: null })).textContent).toBe('01 - brine_choir--low_water.mp3');
  expect(
    shows('title', row({ title: 'Low Water', fileState: 'missing' })).querySelector('.line-through'),
  ).not.toBeNull();
});

test.each([
  ['waiting', 'waiting'],
  ['running', 'measuring'],
  ['failed', 'failed'],
  ['none', '–'],
])('no tempo yet, analysis %s: %s', (analysisState, words) => {
  expect(shows('bpm', row({ bpm: null, analysisState })).textContent).toBe(words);
  expect(shows('energy', row({ energy: null, analysisState })).textContent).toBe(words);
});

test('figures as they are read', () => {
  expect(shows('bpm', row({ bpm: 121.5, tempoSteady: true })).textContent).toBe('121.50');
  expect(shows('bpm', row({ bpm: 98.136, tempoSteady: false })).textContent).toBe('98.14~');
  expect(shows('key', row({ key: 'Eb minor' })).textContent).toBe('E♭ min6♭');
  expect(
    shows('rating', row({ rating: 4 }))
      .querySelector('[role=img]')
      ?.getAttribute('aria-label'),
  ).toBe('4 of 5 stars');
  expect(shows('genre', row({ genre: ['House', 'Dub'] })).textContent).toBe('House; Dub');
});

test('what ought to be filled says that it is not; other empty cells stay empty', () => {
  const gaps = FIELDS.filter((f) => f.gap).map((f) => f.id);
  expect(gaps.length).toBeGreaterThan(1);
  for (const id of gaps.filter((g) => g !== 'title'))
    expect(shows(id, row({ [id]: null })).textContent).toMatch(/^no /);
  expect(shows('notes', row({ notes: null })).textContent).toBe('');
});

test('fit is a figure when there is something to fit to', () => {
  const reference = { bpm: 120, key: 'A minor', energy: 60 };
  expect(shows('fit', row({ bpm: 120, key: 'A minor', energy: 60 }, { fit: 99.6 }), reference).textContent).toBe('100');
  expect(shows('fit', row({ bpm: 120 }, { fit: 99.6 }), null).textContent).toBe('–');
});
