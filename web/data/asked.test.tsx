import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { act, cleanup, renderHook } from '@testing-library/react';
import fc from 'fast-check';
import { ask, forgetAsked, useAsked, type Held } from './asked.ts';

beforeEach(() => forgetAsked());
afterEach(cleanup);
const track = (id: number, values: Held['values'] = {}): Held => ({
  id,
  values: { title: 'As told', bpm: 120, ...values },
});
const hook = (told: Held[]) => renderHook(({ tracks }) => useAsked(tracks), { initialProps: { tracks: told } });

test('what was asked for is laid over, and over nothing else; an untouched track stays the same object', () => {
  const told = [track(1), track(2)];
  const { result } = hook(told);
  act(() => {
    ask(1, 'title', 'As asked');
  });
  expect(result.current(told[0]!).values).toEqual({ title: 'As asked', bpm: 120 });
  expect(result.current(told[1]!)).toBe(told[1]);
});

test('taken off, it takes off only itself', () => {
  const told = [track(1)];
  const { result } = hook(told);
  let first!: () => void, second!: () => void;
  act(() => {
    first = ask(1, 'bpm', 60).forget;
    second = ask(1, 'bpm', 90).forget;
    ask(1, 'title', 'As asked');
  });
  act(() => first());
  expect(result.current(told[0]!).values.bpm).toBe(90);
  act(() => second());
  expect(result.current(told[0]!).values).toEqual({ title: 'As asked', bpm: 120 });
});

test('once the server says it too, what the server says next counts', () => {
  const { result, rerender } = hook([track(1)]);
  act(() => ask(1, 'bpm', 60).answered());
  rerender({ tracks: [track(1, { bpm: 60 })] });
  const next = track(1, { bpm: 61 });
  rerender({ tracks: [next] });
  expect(result.current(next)).toBe(next);
});

test('one part of the page that knows it does not take it off another that does not yet', () => {
  const older = track(1);
  const sheet = hook([older]),
    inspector = hook([older]);
  act(() => ask(1, 'bpm', 60).answered());
  sheet.rerender({ tracks: [track(1, { bpm: 60 })] });
  expect(inspector.result.current(older).values.bpm).toBe(60);
});

test('there and back before the server has answered: what it said of the first does not show', () => {
  const { result, rerender } = hook([track(1)]);
  act(() => ask(1, 'bpm', 121).answered());
  act(() => {
    ask(1, 'bpm', 120);
  });
  const first = track(1, { bpm: 121 });
  rerender({ tracks: [first] });
  expect(result.current(first).values.bpm).toBe(120);
});

test('an older word of the server does not take it off; taking back does', () => {
  const { result, rerender } = hook([track(1)]);
  act(() => {
    ask(1, 'bpm', 60);
  });
  const older = track(1, { title: 'Something else changed' });
  rerender({ tracks: [older] });
  expect(result.current(older).values).toEqual({ title: 'Something else changed', bpm: 60 });
  act(() => forgetAsked());
  expect(result.current(older)).toBe(older);
});

test('whatever is asked for and taken off in whatever order, the last one standing of a field is shown', () => {
  const acts = fc.array(
    fc.record({ id: fc.integer({ min: 1, max: 3 }), field: fc.constantFrom('title', 'bpm'), off: fc.nat(5) }),
    { maxLength: 25 },
  );
  fc.assert(
    fc.property(acts, (all) => {
      forgetAsked();
      const { result } = hook([]);
      const open: { id: number; field: string; value: number; forget: () => void }[] = [];
      all.forEach(({ id, field, off }, i) =>
        act(() => {
          open.push({ id, field, value: i, forget: ask(id, field, i).forget });
          const gone = off < open.length ? open.splice(off, 1)[0] : undefined;
          gone?.forget();
          // One that is taken off while it is the last takes those before it along: they were replaced.
          if (gone && !open.some((o) => o.id === gone.id && o.field === gone.field && o.value > gone.value))
            for (let k = open.length - 1; k >= 0; k--)
              if (open[k]!.id === gone.id && open[k]!.field === gone.field) open.splice(k, 1);
        }),
      );
      for (const id of [1, 2, 3]) {
        const shown = result.current(track(id)).values;
        for (const field of ['title', 'bpm']) {
          const last = open.findLast((o) => o.id === id && o.field === field);
          expect(shown[field]).toBe(last ? last.value : track(id).values[field]);
        }
      }
      cleanup();
    }),
    { numRuns: 60 },
  );
});
