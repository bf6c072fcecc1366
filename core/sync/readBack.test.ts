import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { PROGRAMS } from '../exchange/programs.ts';
import { applyThere, FOLDER, printed, trackValues } from '../testing/collections.ts';
import { ALL, editHere, editThere, library, look, start, sync, there } from '../testing/syncing.ts';
import { readBack } from './readBack.ts';

describe.each(Object.entries(PROGRAMS))('with %s, what was written', (_kind, format) => {
  test('reads as both sides were to say, and is known to be the same', () => {
    fc.assert(
      fc.property(fc.array(trackValues, { minLength: 1, maxLength: 5 }), (all) => {
        const both = { ...start(library(all)), here: printed(library(all)) };
        const comparison = look(format, both);
        const files = applyThere(format, both.files, comparison);
        const same = readBack(comparison, format.read(files, FOLDER), format.describe);
        expect([...same.values()].map((s) => s.trackId)).toEqual(all.map((_, i) => i + 1));
        expect(look(format, { ...both, files, past: comparison.past }).lines).toEqual([]);
      }),
      { numRuns: 200 },
    );
  });

  test('is looked at again where it reads otherwise, or where something is left to choose', () => {
    let both = sync(format, start(library([{ title: 'Lamp Room' }, { title: 'Eel Grass' }, { title: 'Dry Dock' }])));
    both = editHere(both, 0, { title: 'Lamp Room, late' });
    both = editHere(both, 1, { title: 'Eel Grass, late' });
    both = editHere(both, 2, { title: 'Dry Dock, here' });
    both = editThere(format, both, 2, { title: 'Dry Dock, there' });
    both = { ...both, here: printed(both.here) };
    const comparison = look(format, both, ALL);
    const written = { ...both, files: applyThere(format, both.files, comparison) };
    const known = (read = there(format, written)): number[] =>
      [...readBack(comparison, read, format.describe).values()].map((s) => s.trackId);
    expect(known()).toEqual([1, 2]);
    expect(known(there(format, editThere(format, written, 1, { title: 'Eel Gras' })))).toEqual([1]);
  });
});
