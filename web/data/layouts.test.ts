import { beforeEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FIELDS } from '@early-set/core/fields/table';
import { arrangeDesk, currentLayout, FIRST_LAYOUT, layoutFile, readLayoutFile, type Layout } from './layouts.ts';
import { forget, remembered, write } from './remembered.ts';

beforeEach(() => {
  for (const name of [
    'columns',
    'theme',
    ...['tracks', 'clean', 'catalogue', 'arrange', 'disk', 'handover', 'take'].map((s) => `widths-${s}`),
  ])
    forget(name);
});

const DRAWN = { left: null, right: null };
const side = fc.option(fc.integer({ min: 0, max: 600 }));
const desk = fc.record({ left: side, right: side });
const layout: fc.Arbitrary<Layout> = fc.record({
  name: fc
    .string({ minLength: 1, maxLength: 80 })
    .map((s) => s.trim())
    .filter((s) => s.length > 0),
  columns: fc.option(
    fc.uniqueArray(
      fc.record({ id: fc.constantFrom('fit', ...FIELDS.map((f) => f.id)), width: fc.integer({ min: 40, max: 700 }) }),
      { minLength: 1, selector: (c) => c.id },
    ),
  ),
  widths: fc.record({
    tracks: desk,
    clean: desk,
    catalogue: desk,
    arrange: desk,
    disk: desk,
    handover: desk,
    take: desk,
  }),
  theme: fc.constantFrom('system' as const, 'day' as const, 'night' as const),
});

describe('layouts', () => {
  test('what is exported comes back the same', () => {
    fc.assert(
      fc.property(layout, (l) => {
        expect(readLayoutFile(layoutFile(l))).toEqual(l);
      }),
    );
  });

  test('what is brought back is what the desk then is', () => {
    fc.assert(
      fc.property(layout, (l) => {
        arrangeDesk(l);
        expect(currentLayout(l.name)).toEqual(l);
      }),
    );
  });

  test('as at first takes every trace away, and says so to whoever lays out the columns', () => {
    write('columns', [{ id: 'title', width: 90 }]);
    const turns = remembered('layout-turn', 0);
    arrangeDesk(FIRST_LAYOUT);
    expect(currentLayout('x')).toEqual({
      name: 'x',
      columns: null,
      widths: {
        tracks: DRAWN,
        clean: DRAWN,
        catalogue: DRAWN,
        arrange: DRAWN,
        disk: DRAWN,
        handover: DRAWN,
        take: DRAWN,
      },
      theme: 'system',
    });
    expect(remembered('layout-turn', 0)).toBe(turns + 1);
  });

  test('any text at all is either a layout or refused with a sentence', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.json(),
          fc
            .json()
            .map(
              (j) => `{"kind":"early-set-layout","version":1,"columns":${j},"widths":${j},"theme":${j},"name":${j}}`,
            ),
        ),
        (text) => {
          try {
            const read = readLayoutFile(text);
            expect(read.name.length).toBeGreaterThan(0);
            for (const c of read.columns ?? []) expect(c.width).toBeGreaterThanOrEqual(40);
          } catch (error) {
            expect((error as Error).message).toMatch(
              /^This (is not a layout of Early Set|layout is from a newer version)$/,
            );
          }
        },
      ),
    );
  });

  test('unknown and repeated columns are left out, widths are kept in bounds', () => {
    const text = JSON.stringify({
      kind: 'early-set-layout',
      version: 1,
      name: ' Night desk ',
      columns: [
        { id: 'title', width: 9 },
        { id: 'nonsense', width: 50 },
        { id: 'title', width: 80 },
        'bpm',
        { id: 'bpm', width: 9000 },
      ],
      widths: { tracks: { left: -4, right: 1e9 } },
    });
    expect(readLayoutFile(text)).toEqual({
      name: 'Night desk',
      columns: [
        { id: 'title', width: 40 },
        { id: 'bpm', width: 700 },
      ],
      widths: {
        tracks: { left: 0, right: 600 },
        clean: DRAWN,
        catalogue: DRAWN,
        arrange: DRAWN,
        disk: DRAWN,
        handover: DRAWN,
        take: DRAWN,
      },
      theme: 'system',
    });
    expect(() => readLayoutFile('{"kind":"early-set-layout","version":2}')).toThrow('newer version');
  });
});
