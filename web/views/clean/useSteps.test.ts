import { beforeEach, expect, test } from '@jest/globals';
import { act, renderHook } from '@testing-library/react';
import { newStep, type Step } from '@early-set/core/clean/steps';
import { useSteps } from './useSteps.ts';

beforeEach(() => localStorage.clear());
const KEY = '1:In\ntext|text';
const optionsOf = (steps: readonly Step[]) => steps.find((s) => s.kind === 'names')!.options;

test('what was said by hand about names stays, whichever preset is loaded', () => {
  const { result } = renderHook(() => useSteps());
  const preset = { name: 'Downloads', steps: [newStep('names', 'n'), newStep('marks', 'm')] };
  act(() => result.current.take(preset, 4));
  const [step] = result.current.preset.steps as [Step & { kind: 'names' }];
  act(() =>
    result.current.change({
      ...step,
      options: { ...step.options, patterns: { [KEY]: ['title', 'artist'] }, splits: { 7: ['99 Buoys'] } },
    }),
  );
  act(() => result.current.take({ name: 'Other', steps: [newStep('marks', 'm')] }, null));
  act(() => result.current.take(preset, 4));
  expect(optionsOf(result.current.preset.steps)).toMatchObject({
    patterns: { [KEY]: ['title', 'artist'] },
    splits: { 7: ['99 Buoys'] },
  });
  // A step that is added later knows it too.
  act(() => result.current.take({ name: 'Other', steps: [] }, null));
  act(() => void result.current.add('names'));
  expect(optionsOf(result.current.preset.steps)).toMatchObject({ splits: { 7: ['99 Buoys'] } });
});

test('what was put back by hand does not come again', () => {
  const { result } = renderHook(() => useSteps());
  act(() => result.current.take({ name: 'Downloads', steps: [newStep('names', 'n')] }, null));
  const now = () => result.current.preset.steps[0] as Step & { kind: 'names' };
  act(() =>
    result.current.change({ ...now(), options: { ...now().options, patterns: { [KEY]: ['title', 'album'] } } }),
  );
  act(() => result.current.change({ ...now(), options: { ...now().options, patterns: {} } }));
  act(() => result.current.take({ name: 'Downloads', steps: [newStep('names', 'n')] }, null));
  expect(now().options.patterns ?? {}).toEqual({});
});
