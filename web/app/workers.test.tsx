import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import type { WorkerLine } from '@early-set/core/api/workers';
import { serve, show } from '../testing/server.tsx';
import { Workers } from './Workers.tsx';

afterEach(cleanup);
const here: WorkerLine = { id: 1, name: 'desk', elsewhere: false, away: [], since: '2026-11-30T09:00:00Z' };

test('those on other computers are named, with the folders that they do not have', async () => {
  const lines = [here, { ...here, id: 2, name: 'loft', elsewhere: true }];
  lines.push({ ...here, id: 3, name: 'shed', elsewhere: true, away: ['Archive', 'Stick'] });
  serve({ '/workers': () => lines });
  show(<Workers />);
  const items = await screen.findAllByRole('listitem');
  expect(items.map((item) => item.textContent)).toEqual([
    expect.stringMatching(/^loftsince .*\d$/),
    expect.stringMatching(/^shedsince .*Not there: Archive, Stick\. Tracks there are measured by others\.$/),
  ]);
});

test('nothing is shown where nobody helps', async () => {
  let asked = false;
  serve({
    '/workers': () => {
      asked = true;
      return [here];
    },
  });
  show(<Workers />);
  await waitFor(() => expect(asked).toBe(true));
  expect(screen.queryByRole('list')).toBeNull();
});
