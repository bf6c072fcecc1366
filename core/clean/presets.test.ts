import { describe, expect, test } from '@jest/globals';
import { checkSteps, isChanged, presetText, READY_MADE, readPreset, toSave } from './presets.ts';
import { newStep, type Step } from './steps.ts';

describe('presets as files', () => {
  test('there and back', () => {
    for (const preset of READY_MADE) expect(readPreset(presetText(preset))).toEqual(preset);
  });
  test('files from before, when they had another name, are still read', () => {
    for (const preset of READY_MADE)
      expect(readPreset(presetText(preset).replace('early-set-preset', 'early-set-recipe'))).toEqual(preset);
  });
  test('a step that once cleared one field still does', () => {
    const steps = checkSteps([{ kind: 'fields', fields: [], options: { action: 'clear', from: 'comment' } }]) as Step[];
    expect(steps[0]!.fields).toEqual(['comment']);
  });
  test('what was said by hand about single names is not saved with a preset, and is no change of it', () => {
    const step = newStep('names', 'n');
    const said = { ...step, options: { ...step.options, splits: { 7: ['a'] } } } as Step;
    expect(toSave([said])).toEqual([step]);
    expect(isChanged([step], [said])).toBe(false);
  });
  test('what is none is refused in words', () => {
    expect(readPreset('{')).toBe('This is no preset: it is not JSON');
    expect(readPreset('{}')).toBe('This file is no preset of Early Set');
    expect(readPreset('{"format":"early-set-preset","version":2,"steps":[]}')).toMatch('newer');
    expect(checkSteps([{ kind: 'nonsense' }])).toBe('Step 1 is of a kind that is not known here: nonsense');
    expect(
      checkSteps([{ kind: 'marks', options: { web: 'yes', promo: false, own: 1 }, fields: ['title', 'nonsense'] }]),
    ).toEqual([
      { id: 's0', kind: 'marks', on: true, fields: ['title'], options: { web: true, promo: false, encoder: true } },
    ]);
  });
});

describe('steps that were changed since they were saved', () => {
  const saved = [newStep('marks', 'a'), newStep('capitals', 'b')];
  test('ids say nothing; order, switches, fields and options do', () => {
    expect(isChanged(saved, [newStep('marks', 'x'), newStep('capitals', 'y')])).toBe(false);
    expect(isChanged(saved, [...saved].reverse())).toBe(true);
    expect(isChanged(saved, saved.slice(1))).toBe(true);
    expect(isChanged(saved, [{ ...saved[0]!, on: false }, saved[1]!])).toBe(true);
    expect(isChanged(saved, [newStep('marks', 'a', { web: false }), saved[1]!])).toBe(true);
  });
  test('options in another order are the same', () => {
    const [first] = saved;
    const turned = { ...first!, options: Object.fromEntries(Object.entries(first!.options).reverse()) };
    expect(isChanged([first!], [turned as typeof first & object])).toBe(false);
  });
});
