import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import type { RootLine } from '@early-set/core/api/types';
import { serve, show, type Sent } from '../../testing/server.tsx';
import { rootLine } from '../../testing/rows.ts';
import { RootCard } from './RootCard.tsx';

afterEach(cleanup);
const shown = (root: RootLine): Sent[] => {
  const { sent } = serve({
    '/roots/1/watch': {},
    '/roots/1/new-files': {},
    '/presets': [{ id: 6, name: 'Tidy', steps: [], updatedAt: '2026-03-01T10:00:00Z' }],
  });
  show(<RootCard root={root} chosen={false} onChoose={() => undefined} onElsewhere={() => undefined} />);
  return sent;
};
const preset = (): HTMLSelectElement => screen.getByRole('combobox', { name: 'Clean new files of Shelf 1 with' });
const move = (): HTMLElement => screen.getByRole('switch', { name: 'Move new files of Shelf 1 by the naming rules' });

test('a folder is watched by one switch', async () => {
  const sent = shown(rootLine(1));
  fireEvent.click(screen.getByRole('switch', { name: 'Watch Shelf 1' }));
  await waitFor(() => expect(sent).toEqual([{ path: '/roots/1/watch', body: { watch: true } }]));
});

test('why it cannot be watched is said', () => {
  shown(rootLine(1, { watch: true, watchTrouble: 'The system lets no more folders be watched' }));
  expect(screen.getByText(/Cannot be watched: The system/)).toBeTruthy();
  expect(screen.getByRole('switch', { name: 'Watch Shelf 1' }).getAttribute('aria-checked')).toBe('true');
});

test('what is done to new files is said: a preset, the naming rules', async () => {
  const sent = shown(rootLine(1));
  await screen.findByRole('option', { name: 'Tidy' });
  expect(preset().value).toBe('');
  fireEvent.change(preset(), { target: { value: '6' } });
  fireEvent.click(move());
  await waitFor(() => expect(sent.map((s) => s.body)).toEqual([{ presetId: 6 }, { putByRules: true }]));
});

test('what is set is shown, and taken off again', async () => {
  const sent = shown(rootLine(1, { presetId: 6, putByRules: true }));
  await waitFor(() => expect(preset().value).toBe('6'));
  expect(move().getAttribute('aria-checked')).toBe('true');
  fireEvent.change(preset(), { target: { value: '' } });
  await waitFor(() => expect(sent.map((s) => s.body)).toEqual([{ presetId: null }]));
});
