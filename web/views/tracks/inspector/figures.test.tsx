import { afterEach, expect, test } from '@jest/globals';
import { cleanup, render, screen } from '@testing-library/react';
import type { TrackDetails } from '@early-set/core/api/types';
import { sheetRow } from '../../../testing/rows.ts';
import { Figures } from './Figures.tsx';

afterEach(cleanup);
const shown = (analysis: object | null, values: TrackDetails['values'] = {}): void =>
  void render(<Figures track={{ ...sheetRow(1, values), analysis } as unknown as TrackDetails} />);

test('a track that was never measured is not said to have no beat', () => {
  shown(null);
  expect(screen.getByText('BPM · not measured')).toBeTruthy();
});
test.each([
  [{}, 'BPM · no beat'],
  [{ bpm: 98.34, tempoSteady: false }, 'BPM · drifts'],
  [{ bpm: 120, tempoSteady: true }, 'BPM · steady grid'],
])('measured: %j says %s', (values, words) => {
  shown({}, values);
  expect(screen.getByText(words)).toBeTruthy();
});
