/** What the scroll bar says of where it is. */
import { afterEach, expect, test } from '@jest/globals';
import { cleanup, render, renderHook, screen, waitFor } from '@testing-library/react';
import { ScrollPlace } from '../../../ui/grid/ScrollPlace.tsx';
import { serve } from '../../../testing/server.tsx';
import { alongWord, useAlong } from './useAlong.ts';

afterEach(cleanup);

test.each([
  ['title', 'lantern', 'La'],
  ['title', '00000009 lives', '0–9'],
  ['artist', 'ærø', 'Ær'],
  ['bpm', 127.5, '127.50'],
  ['year', 1998, '1998'],
  ['key', 'A minor', 'A min'],
  ['durationSeconds', 245, '4:05'],
  ['addedAt', '2026-03-09T10:00:00+00:00', 'Mar 2026'],
  [null, '2026-03-09T10:00:00+00:00', 'Mar 2026'],
  ['fit', 87, '87'],
  ['toTarget', -9.25, '−9.3 LUFS'],
  ['format', 'FLAC', 'FLAC'],
  ['bpm', null, ''],
])('sorted by %s, %s reads %s', (sort, value, word) => {
  expect(alongWord(sort, value)).toBe(word);
});

test('the word for a place is of the row before it that is known; behind all of them it says what is missing', async () => {
  serve({ '/tracks/along': { every: 100, valued: 950, values: [60, 70, 80, 90, 100, 110, 120, 130, 140, 150] } });
  const { result } = renderHook(() => useAlong('sort=bpm&descending=false', 'bpm', 1000));
  await waitFor(() => expect(result.current(0)).toBe('60.00'));
  expect([99, 100, 949, 950, 999].map(result.current)).toEqual(['60.00', '70.00', '150.00', 'no BPM', 'no BPM']);
});

test('of few tracks nobody asks', () => {
  const { result } = renderHook(() => useAlong('sort=bpm', 'bpm', 40));
  expect(result.current(10)).toBe('');
});

const place = (index: number, moving: boolean) => (
  <ScrollPlace index={index} count={10_000} screen={20} moving={moving} placeAt={(i) => `at ${i}`} />
);
test('it is said once the scroll bar has moved far, until it rests', () => {
  const { rerender } = render(place(0, false));
  rerender(place(30, true));
  expect(screen.queryByTestId('scroll-place')).toBeNull();
  rerender(place(4000, true));
  expect(screen.getByTestId('scroll-place').textContent).toBe('at 40004,001');
  rerender(place(20, true));
  expect(screen.getByTestId('scroll-place').textContent).toBe('at 2021');
  rerender(place(20, false));
  expect(screen.queryByTestId('scroll-place')).toBeNull();
});
