import { act, cleanup, screen, waitFor } from '@testing-library/react';
import { afterEach, expect, test } from '@jest/globals';
import type { HourLine, InsteadAnswer, InsteadLine } from '@early-set/core/api/hours';
import { serve, show, tell } from '../../testing/server.tsx';
import { InsteadPanel } from './InsteadPanel.tsx';

afterEach(cleanup);
const ENTRY = 'slack';
const track = (trackId: number): InsteadLine => ({
  ...{ trackId, title: `Track ${trackId}`, artist: 'Marrow & Pine', seconds: 200, off: 0, broken: [], hard: false },
});

test('what is in hand stays so where the lines come in another order; where it is gone, the first is', async () => {
  let order = [1, 2, 3];
  serve({
    '/hours/h/instead': (): InsteadAnswer => ({
      ...{ entryId: ENTRY, next: { name: 'News', at: 1_900_000_000 }, tracks: order.map(track) },
    }),
  });
  show(<InsteadPanel hourId="h" line={{ entryId: ENTRY, kind: 'track', name: 'Slack Water' } as HourLine} />);
  const lineOf = (id: number): HTMLElement => screen.getByRole('button', { name: new RegExp(`^Track ${id},`) });
  await waitFor(() => lineOf(1));
  act(() => lineOf(1).focus());
  const comes = async (next: number[]): Promise<void> => {
    order = next;
    act(() => tell({ kind: 'tracks' }));
    await waitFor(() => expect(screen.getAllByRole('button').map((b) => Number(b.dataset.instead))).toEqual(next), {
      timeout: 4000,
    });
  };
  await comes([3, 2, 1]);
  expect(document.activeElement).toBe(lineOf(1));
  await comes([3, 2]);
  expect(document.activeElement).toBe(lineOf(3));
});
