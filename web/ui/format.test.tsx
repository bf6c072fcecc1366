import { expect, test } from '@jest/globals';
import { render } from '@testing-library/react';
import type { SheetRow } from '@early-set/core/api/types';
import { FIELDS } from '@early-set/core/fields/table';
import { bytes, figure, textOf, timeLeft, valueText } from './format.ts';
import { StateMark, stateOf } from './Marks.tsx';

test('values as people read them', () => {
  expect(textOf('artist', ['Brine Choir', 'Vesna Rook'])).toBe('Brine Choir; Vesna Rook');
  expect(textOf('key', 'Eb minor')).toBe('E♭ min');
  expect(textOf('lufs', -9.84)).toBe('−9.8');
  expect(textOf('durationSeconds', 3729)).toBe('1:02:09');
  expect(textOf('fileState', 'missing')).toBe('missing file');
  expect(figure(-0.04, 1)).toBe('−0.0');
  expect([bytes(0), bytes(1536), bytes(3_400_000)]).toEqual(['0 B', '1.5 kB', '3.2 MB']);
  expect([timeLeft(3), timeLeft(33), timeLeft(100), timeLeft(9000)]).toEqual([
    'a few seconds left',
    '35 s left',
    '2 min left',
    '2.5 h left',
  ]);
});

test('nothing is shown for nothing, in every field', () => {
  for (const f of FIELDS) expect(valueText(f, null)).toBe('');
});

const row = (values: SheetRow['values'], analysisReason: string | null = null): SheetRow => ({
  id: 1,
  rootId: 1,
  artHash: null,
  analysisReason,
  fit: null,
  values,
});
const good = { title: 'a', artist: ['b'], genre: ['c'], fileState: 'here', analysisState: 'done' };
test.each([
  [good, 'ready', 'Measured, no gaps'],
  [{ ...good, genre: null }, 'look', 'Has gaps'],
  [{ ...good, fileState: 'missing' }, 'missing', 'Missing file'],
  [{ ...good, analysisState: 'failed' }, 'look', 'Could not be measured: broken'],
  [{ ...good, analysisState: 'running' }, 'working', 'Being measured'],
  [{ ...good, analysisState: 'none' }, 'waiting', 'Not measured'],
])('%j shows as %s', (values, state, words) => {
  expect(stateOf(row(values, 'broken'))).toEqual({ state, words });
  const { getByRole, unmount } = render(<StateMark row={row(values, 'broken')} />);
  expect(getByRole('img', { name: words })).toBeTruthy();
  unmount();
});
