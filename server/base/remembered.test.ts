import { expect, test } from '@jest/globals';
import { createRemembered } from './remembered.ts';

test('equal questions are worked out once, until something changes; failures are not kept', async () => {
  const kept = createRemembered<number>(2);
  let worked = 0;
  const work = async (): Promise<number> => ++worked;
  expect(kept.known('a')).toBeNull();
  expect(await Promise.all([kept.of('a', work), kept.of('a', work)])).toEqual([1, 1]);
  expect([kept.known('a'), kept.known('b')]).toEqual([1, null]);
  kept.forget();
  expect(await kept.of('a', work)).toBe(2);
  await expect(kept.of('b', () => Promise.reject(new Error('away')))).rejects.toThrow('away');
  expect(await kept.of('b', work)).toBe(3);
  // A third question makes room for itself.
  await kept.of('c', work);
  expect([kept.known('a'), kept.known('c')]).toEqual([null, 4]);
});

test('what was being worked out when something changed is not known afterwards', async () => {
  const kept = createRemembered<string>(9);
  let done: (word: string) => void = () => undefined;
  const old = kept.of('a', () => new Promise((resolve) => (done = resolve)));
  kept.forget();
  done('old');
  expect(await old).toBe('old');
  expect(kept.known('a')).toBeNull();
  expect(await kept.of('a', async () => 'new')).toBe('new');
});
