import { expect, test } from '@jest/globals';
import { clockLength, daysBetween, timeOfDay } from './clock.ts';

test.each([
  [0, '0:00'],
  [59.6, '1:00'],
  [247, '4:07'],
  [3729, '1:02:09'],
])('%d s is %s', (s, text) => {
  expect(clockLength(s)).toBe(text);
});
test('the clock goes past midnight', () => {
  expect(timeOfDay('23:30', 45 * 60)).toBe('00:15');
});
test('days are counted over months and clock changes', () => {
  expect([daysBetween('2031-02-27', '2031-03-01'), daysBetween('2031-04-01', '2031-03-29')]).toEqual([2, -3]);
});
