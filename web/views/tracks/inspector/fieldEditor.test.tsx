import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import type { SharedValue, TrackDetails } from '@early-set/core/api/types';
import { forget } from '../../../data/remembered.ts';
import { serve, show, type Sent } from '../../../testing/server.tsx';
import { FieldEditor } from './FieldEditor.tsx';

afterEach(() => {
  cleanup();
  forget('copied-value');
});
const track = {
  id: 3,
  rootId: 1,
  rootPath: '/music',
  inFile: {},
  artHash: null,
  analysisReason: null,
  fit: null,
  values: { title: 'Low Cloud', artist: ['Brine Choir'], year: 2012, path: 'a.flac', fileName: 'a' },
  origins: { title: { origin: 'typed', at: '2026-01-01T00:00:00Z' } },
  album: null,
  analysis: null,
  lists: [],
  past: [],
} as unknown as TrackDetails;
const same = (value: SharedValue['value']): SharedValue => ({ same: true, value, different: 1 });
function open(count: number, of: Partial<TrackDetails> = {}): Sent[] {
  const { sent } = serve({
    '/fields/shared': {
      tracks: count,
      fields: { title: { same: false, value: null, different: count }, album: same('Harbour Wall'), genre: same(null) },
    },
    '/files/write': { changeSetId: 3, title: 'x', done: 1, conflicts: [] },
    '/fields/copy': { changeSetId: 2, title: 'x', done: 1, conflicts: [] },
    '/fields': { changeSetId: 1, title: 'x', done: 1, conflicts: [] },
    '/values': [],
  });
  show(<FieldEditor track={{ ...track, ...of }} selection={{ ids: [3, 4] }} count={count} />);
  return sent;
}
const field = (id: string): HTMLElement => document.querySelector(`[data-field="${id}"]`)!;
const edits = (sent: Sent[]): unknown[] => sent.filter((s) => s.path === '/fields').map((s) => s.body);

describe('one track', () => {
  test('its own values, typed over, with the origin kept in view', async () => {
    const sent = open(1);
    fireEvent.click(field('title'));
    const box = screen.getByRole('combobox', { name: 'Title' });
    fireEvent.change(box, { target: { value: 'Low Clouds' } });
    fireEvent.keyDown(box, { key: 'Enter' });
    await waitFor(() =>
      expect(edits(sent)).toEqual([{ selection: { ids: [3] }, field: 'title', value: 'Low Clouds' }]),
    );
  });
  test('Esc leaves it, and so does leaving it unchanged', async () => {
    const sent = open(1);
    for (const leave of [
      (box: HTMLElement) => fireEvent.keyDown(box, { key: 'Escape' }),
      (box: HTMLElement) => fireEvent.blur(box),
    ]) {
      fireEvent.click(field('year'));
      leave(screen.getByRole('combobox', { name: 'Year' }));
      await waitFor(() => expect(field('year').textContent).toBe('2012'));
    }
    expect(edits(sent)).toEqual([]);
  });
});

test('what the file says otherwise is shown beside it, and either is chosen by one click', async () => {
  const sent = open(1, { inFile: { title: 'Low Clouds', year: null } });
  expect(screen.getByText(/^In the file: Low Clouds\./)).toBeTruthy();
  expect(screen.getByText(/^Not in the file\./)).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Use the file’s title' }));
  await waitFor(() => expect(edits(sent)).toEqual([{ selection: { ids: [3] }, field: 'title', value: 'Low Clouds' }]));
  fireEvent.click(screen.getByRole('button', { name: 'Write mine into the file: year' }));
  await waitFor(() =>
    expect(sent.at(-1)).toEqual({ path: '/files/write', body: { selection: { ids: [3] }, fields: ['year'] } }),
  );
});

test('the name of a file is typed for one track only, and has no lock', async () => {
  const sent = open(1);
  expect(screen.queryByRole('button', { name: 'Lock File name' })).toBeNull();
  fireEvent.click(field('fileName'));
  const box = screen.getByRole('combobox', { name: 'File name' });
  fireEvent.change(box, { target: { value: 'Low Cloud' } });
  fireEvent.keyDown(box, { key: 'Enter' });
  await waitFor(() =>
    expect(edits(sent)).toEqual([{ selection: { ids: [3] }, field: 'fileName', value: 'Low Cloud' }]),
  );
  cleanup();
  open(2);
  await waitFor(() => expect(field('title').textContent).toBe('several: 2'));
  expect(field('fileName')).toBeNull();
});

describe('several tracks', () => {
  test('what they share is shown; where they differ it says so; only what is touched goes out', async () => {
    const sent = open(2);
    await waitFor(() => expect(field('title').textContent).toBe('several: 2'));
    expect(field('album').textContent).toBe('Harbour Wall');
    fireEvent.click(field('title'));
    fireEvent.blur(screen.getByRole('combobox', { name: 'Title' }));
    expect(edits(sent)).toEqual([]);
    fireEvent.click(field('genre'));
    const box = screen.getByRole('combobox', { name: 'Genre' });
    fireEvent.change(box, { target: { value: 'Ambient; Drone' } });
    fireEvent.keyDown(box, { key: 'Enter' });
    await waitFor(() =>
      expect(edits(sent)).toEqual([{ selection: { ids: [3, 4] }, field: 'genre', value: 'Ambient; Drone' }]),
    );
  });
});
