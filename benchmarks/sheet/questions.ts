/** What a page asks of a desk with many tracks, each question as it goes over the wire; times in ms. */
import type { Applied, SheetPage } from '@early-set/core/api/types';
import { allOf, EVERYTHING, type Condition } from '@early-set/core/conditions/condition';
import type { Desk } from './running.ts';

const house: Condition = { field: 'genre', test: 'one of', values: ['House'] };
const tempo = { field: 'bpm', test: 'between', low: 118, high: 126 } as const;
const inJson = (value: unknown): string => encodeURIComponent(JSON.stringify(value));
const MANY = 10_000;
const WORDS = 'lantern tide harbour signal copper ferry kelp anchor drift chain neap ebb pilot boat lamp'.split(' ');
const NAMES = 'rook kassar tarn sorrow thole vane orr quill marsh skerry halyard brine lowe fathom'.split(' ');
const LETTERS = [...'eaoirtnslcupdmhgbfywkvx'];

export type Question = [name: string, ask: () => Promise<unknown>];

/** Questions that change nothing. */
export function readingQuestions(desk: Desk, tracks: number): Question[] {
  const page =
    (where: Condition, sort: string | null, descending = false, offset = 0, fitTo: number | null = null) =>
    () =>
      desk.ask(
        'GET',
        `/tracks?where=${inJson(where)}${sort ? `&sort=${sort}` : ''}&descending=${descending}&offset=${offset}` +
          `&limit=150${fitTo ? `&fitTo=${fitTo}` : ''}`,
      );
  // Narrowed a little otherwise each time: what has been asked before is kept.
  let turn = 0;
  const next = (of: readonly string[]): string => of[++turn % of.length]!;
  return [
    ['first page', page(EVERYTHING, null)],
    ['sorted by title', page(EVERYTHING, 'title')],
    ['by title, descending', page(EVERYTHING, 'title', true)],
    ['by artist', page(EVERYTHING, 'artist')],
    ['by artist, descending', page(EVERYTHING, 'artist', true)],
    ['by BPM', page(EVERYTHING, 'bpm')],
    ['by BPM, descending', page(EVERYTHING, 'bpm', true)],
    ['by comment', page(EVERYTHING, 'comment')],
    ['by comment, descending', page(EVERYTHING, 'comment', true)],
    ['house, 118 to 126', () => page(allOf(house, { ...tempo, high: 126 + ++turn / 100 }), 'bpm')()],
    ['find two words', () => page({ test: 'words', text: `${next(WORDS)} ${next(NAMES)}` }, 'title')()],
    ['find one letter', () => page({ test: 'words', text: next(LETTERS) }, 'title')()],
    ['page in the middle, by title', page(EVERYTHING, 'title', false, tracks / 2)],
    ['the same, by BPM, descending', page(EVERYTHING, 'bpm', true, tracks / 2)],
    ['last page, by title', page(EVERYTHING, 'title', false, tracks - 150)],
    ['fit to a track, best first', page(EVERYTHING, 'fit', true, 0, tracks / 20)],
    [
      'pictures, house, 118 to 126',
      () =>
        desk.ask('GET', `/facets?filters=${inJson({ genre: house, tempo: { ...tempo, high: 126 + ++turn / 100 } })}`),
    ],
    ['counts of the stages', () => desk.ask('GET', '/overview')],
    ['ids of everything', () => desk.ask('POST', '/tracks/ids', { selection: { where: EVERYTHING, except: [] } })],
  ];
}

let edited = 0;
/** An edit in the library alone, and the pictures on the left right after it. */
export async function edits(desk: Desk, times: number): Promise<{ edit: number[]; pictures: number[] }> {
  await desk.ask('PATCH', '/settings', { editsGoTo: 'library' });
  const { rows } = await desk.ask<SheetPage>('GET', '/tracks?limit=500');
  const edit: number[] = [],
    pictures: number[] = [];
  for (let i = 0; i < times; i++) {
    const began = performance.now();
    await typed(desk, [rows[i]!.id], 'genre', `Kind ${edited++ % 7}`);
    const asked = performance.now();
    await desk.ask('GET', '/facets');
    edit.push(asked - began);
    pictures.push(performance.now() - asked);
  }
  return { edit, pictures };
}

async function typed(desk: Desk, ids: number[], field: string, value: string): Promise<void> {
  const applied = await desk.ask<Applied>('POST', '/fields', { selection: { ids }, field, value });
  if (applied.conflicts.length > 0) throw new Error(applied.conflicts[0]!.reason);
}

/** One value on 10,000 tracks, the pictures right after it, and taking it back. */
export async function changeMany(desk: Desk): Promise<{ change: number; pictures: number; undo: number }> {
  const { ids } = await desk.ask<{ ids: number[] }>('POST', '/tracks/ids', {
    selection: { where: EVERYTHING, except: [] },
  });
  const began = performance.now();
  await typed(desk, ids.slice(-MANY), 'comment', 'for the harbour');
  const changed = performance.now();
  await desk.ask('GET', '/facets');
  const seen = performance.now();
  await desk.ask('POST', '/undo', {});
  return { change: changed - began, pictures: seen - changed, undo: performance.now() - seen };
}
