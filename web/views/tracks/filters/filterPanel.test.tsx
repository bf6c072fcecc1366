import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import type { Facets } from '@early-set/core/api/types';
import { FilterPanel } from './FilterPanel.tsx';
import { NO_FILTERS, type Filters, type Narrow } from './filters.ts';
import { Histogram } from './Histogram.tsx';

const histogram = { low: 60, high: 180, step: 10, counts: [0, 1, 2, 3, 4, 5, 4, 3, 2, 1, 0, 7], none: 2 };
const genres = ['House', 'Techno', 'Dub', 'Soul', 'Folk', 'Electro', 'Ambient', 'Disco', 'Waltz'].map((value, i) => ({
  value,
  count: 1200 - i * 100,
}));
const FACETS: Facets = {
  histograms: { tempo: histogram, energy: histogram, year: histogram, length: histogram },
  keys: { 'C major': 5, 'A minor': 7, 'G major': 2, '': 3 },
  lists: {
    genre: genres,
    artist: [{ value: 'Brine Choir', count: 1 }],
    format: [{ value: 'FLAC', count: 9 }],
    rating: [
      { value: '3', count: 8 },
      { value: '5', count: 2 },
      { value: '1', count: 1 },
    ],
    moods: [{ value: 'warm', count: 6 }],
    freeTags: [],
    hearLater: [{ value: 'yes', count: 3 }],
    comment: [{ value: 'yes', count: 11 }],
  },
  none: { genre: 4, artist: 0, format: 0, rating: 30, moods: 35, freeTags: 41, hearLater: 38, comment: 30 },
  folders: [
    { rootId: 1, root: 'Shelf', path: 'In/Late', count: 3 },
    { rootId: 2, root: 'Second shelf', path: 'In', count: 5 },
  ],
  needs: { gaps: 6, genre: 4 },
};

function shown(filters: Filters = NO_FILTERS, facets = FACETS) {
  let now = filters;
  const onNarrow = jest.fn<Narrow>();
  const { rerender } = render(<FilterPanel filters={filters} onNarrow={onNarrow} facets={facets} />);
  return {
    onNarrow,
    last: () => onNarrow.mock.lastCall![0](now),
    again: (f: Filters) => {
      now = f;
      rerender(<FilterPanel filters={f} onNarrow={onNarrow} facets={FACETS} />);
    },
  };
}

afterEach(cleanup);

describe('the pictures on the left', () => {
  test('a key is taken alone or with its neighbours, each with the count that it shows, then let go', () => {
    const { last, again } = shown();
    const c = screen.getByRole('button', { name: 'C major and its relative minor: 12' });
    expect(screen.queryByText('With neighbours')).toBeNull();
    fireEvent.click(c);
    expect(last().key).toEqual({ signature: 0, reach: 0 });
    again(last());
    expect(screen.getByRole('button', { name: 'C maj and A min 12', pressed: true })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'With neighbours 14', pressed: false }));
    expect(last().key).toEqual({ signature: 0, reach: 1 });
    again(last());
    expect(
      within(screen.getByRole('group', { name: /circle of fifths/ }))
        .getAllByRole('button', { pressed: true })
        .map((b) => b.getAttribute('aria-label')!.split(' ')[0]),
    ).toEqual(['F', 'C', 'G']);
    fireEvent.click(c);
    expect(last().key).toBeNull();
  });

  test('genres show seven and what has none; the rest on asking; several combine', () => {
    const { last, again } = shown();
    const list = within(screen.getByRole('region', { name: 'Genre' }));
    expect(list.queryByText('Disco')).toBeNull();
    expect(list.getByText('No genre')).toBeTruthy();
    fireEvent.click(list.getByRole('button', { name: '2 more' }));
    fireEvent.click(list.getByRole('button', { name: /^Waltz/ }));
    expect(last().lists.genre).toEqual(['Waltz']);
    again(last());
    fireEvent.click(list.getByRole('button', { name: /^No genre/ }));
    expect(last().lists.genre).toEqual(['Waltz', '']);
    again(last());
    fireEvent.click(list.getByRole('button', { name: /^Waltz/ }));
    expect(last().lists.genre).toEqual(['']);
    fireEvent.click(list.getByRole('button', { name: 'Fewer' }));
    expect(list.getByText('Waltz')).toBeTruthy(); // what is chosen stays in sight
  });

  test('a value that no track has any more is still there to be let go', () => {
    const { last } = shown({ ...NO_FILTERS, lists: { genre: ['Polka'] } });
    fireEvent.click(screen.getByRole('button', { name: /^Polka/ }));
    expect(last().lists.genre).toBeUndefined();
  });

  test('stars from the top, moods, comments and what is to be heard later narrow too', () => {
    const { last } = shown();
    const lines = (name: string) =>
      within(screen.getByRole('region', { name }))
        .getAllByRole('button')
        .map((b) => b.textContent);
    expect(lines('Stars')).toEqual(['5 stars2', '3 stars8', '1 star1', 'No stars30']);
    expect(lines('Moods')).toEqual(['warm6']);
    expect(screen.queryByRole('region', { name: 'Free tags' })).toBeNull();
    expect(lines('Comment')).toEqual(['With a comment11', 'No comment30']);
    fireEvent.click(screen.getByRole('button', { name: /^With a comment/ }));
    expect(last().lists.comment).toEqual(['yes']);
    fireEvent.click(screen.getByRole('button', { name: /^Hear later/ }));
    expect(last().lists.hearLater).toEqual(['yes']);
  });

  test('stars that no track has are no filter; a genre that every track lacks is', () => {
    shown(NO_FILTERS, { ...FACETS, lists: { ...FACETS.lists, rating: [], genre: [] } });
    expect(screen.queryByRole('region', { name: 'Stars' })).toBeNull();
    expect(screen.getByRole('region', { name: 'Genre' }).textContent).toBe('GenreNo genre4');
  });

  test('needs are shown where there are any, and combine', () => {
    const { last } = shown({ ...NO_FILTERS, needs: ['gaps'] });
    expect(screen.queryByText('Missing file')).toBeNull();
    const needs = within(screen.getByRole('region', { name: 'Needs' }));
    fireEvent.click(needs.getByRole('button', { name: /^No genre/ }));
    expect(last().needs).toEqual(['gaps', 'genre']);
    fireEvent.click(needs.getByRole('button', { name: /^Any gap/ }));
    expect(last().needs).toEqual([]);
  });

  test('find looks in the field that is chosen', () => {
    const { last } = shown({ ...NO_FILTERS, findIn: 'comment' });
    expect(screen.getByRole('searchbox', { name: 'Find in comment' })).toBeTruthy();
    fireEvent.change(screen.getByRole('combobox', { name: 'Where to look' }), { target: { value: 'lyrics' } });
    expect(last().findIn).toBe('lyrics');
    fireEvent.change(screen.getByRole('combobox', { name: 'Where to look' }), { target: { value: '' } });
    expect(last().findIn).toBeNull();
  });
  test('what is typed into find waits a moment; Escape takes it away at once', () => {
    jest.useFakeTimers();
    const { onNarrow, last } = shown();
    const box = screen.getByRole('searchbox');
    fireEvent.change(box, { target: { value: 'tide' } });
    expect(onNarrow).not.toHaveBeenCalled();
    act(() => {
      jest.advanceTimersByTime(200);
    });
    expect(last().find).toBe('tide');
    fireEvent.keyDown(box, { key: 'Escape' });
    expect(last().find).toBe('');
    jest.useRealTimers();
  });
});

describe('a histogram', () => {
  const pointer = (node: Element, kind: string, x: number): void => {
    const event = new MouseEvent(kind, { bubbles: true, clientX: x });
    fireEvent(node, event);
  };
  const drawn = (range: { low: number; high: number } | null) => {
    const onChange = jest.fn<(r: { low: number; high: number } | null) => void>();
    const { container } = render(
      <Histogram title="Tempo" unit="BPM" data={histogram} range={range} onChange={onChange} />,
    );
    const area = container.querySelector('.touch-none')!;
    area.getBoundingClientRect = () => ({
      left: 100,
      width: 120,
      right: 220,
      top: 0,
      bottom: 40,
      height: 40,
      x: 100,
      y: 0,
      toJSON: () => '',
    });
    return { area, onChange };
  };

  test('dragging either way takes the bins under it', () => {
    for (const [from, to] of [
      [125, 149],
      [149, 125],
    ] as const) {
      const { area, onChange } = drawn(null);
      pointer(area, 'pointerdown', from);
      pointer(area, 'pointermove', to);
      pointer(area, 'pointerup', to);
      expect(onChange).toHaveBeenLastCalledWith({ low: 80, high: 110 });
      cleanup();
    }
  });

  test('a click inside what is chosen lets go; a drag past the edge stops at the last bin', () => {
    const chosen = drawn({ low: 80, high: 110 });
    pointer(chosen.area, 'pointerdown', 131);
    pointer(chosen.area, 'pointerup', 131);
    expect(chosen.onChange).toHaveBeenLastCalledWith(null);
    cleanup();
    const wide = drawn(null);
    pointer(wide.area, 'pointerdown', 211);
    pointer(wide.area, 'pointermove', 900);
    pointer(wide.area, 'pointerup', 900);
    expect(wide.onChange).toHaveBeenLastCalledWith({ low: 170, high: 180 });
  });

  test('limits can be typed, with a comma too; nonsense is not taken', () => {
    const { onChange } = drawn(null);
    fireEvent.click(screen.getByRole('button', { name: 'Tempo: all. Type a range' }));
    fireEvent.change(screen.getByLabelText('From'), { target: { value: '130' } });
    fireEvent.change(screen.getByLabelText('to'), { target: { value: '120' } });
    fireEvent.click(screen.getByRole('button', { name: 'Narrow' }));
    expect(onChange).not.toHaveBeenCalled();
    fireEvent.change(screen.getByLabelText('From'), { target: { value: '118,5' } });
    fireEvent.click(screen.getByRole('button', { name: 'Narrow' }));
    expect(onChange).toHaveBeenLastCalledWith({ low: 118.5, high: 120 });
  });
});

test('folders are a tree with counts; equal ones of two roots stay apart, a second click lets go', () => {
  const { last, again } = shown();
  const tree = within(screen.getByRole('region', { name: 'Folder' }));
  fireEvent.click(tree.getByRole('button', { name: 'Folders in Second shelf' }));
  fireEvent.click(tree.getByRole('button', { name: 'In 5' }));
  const chosen = last();
  expect(chosen.folder).toEqual({ rootId: 2, path: 'In' });
  again(chosen);
  fireEvent.click(tree.getByRole('button', { name: 'Folders in Shelf' }));
  expect(tree.getByRole('button', { name: 'In 3' }).getAttribute('aria-pressed')).toBe('false');
  expect(tree.getByRole('button', { name: 'In 5' }).getAttribute('aria-pressed')).toBe('true');
  fireEvent.click(tree.getByRole('button', { name: 'In 5' }));
  expect(last().folder).toBeNull();
});
