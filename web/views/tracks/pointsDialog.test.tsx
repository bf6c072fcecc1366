import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import type { PointsDraft } from '@early-set/core/api/stick';
import { serve, show } from '../../testing/server.tsx';
import { PointsDialog } from './PointsDialog.tsx';

afterEach(cleanup);
const SELECTION = { ids: [1, 2, 3] };
const open = (draft: PointsDraft) => {
  const { sent } = serve({
    '/playout-points/draft': () => draft,
    '/playout-points/write': { changeSetId: 7, title: 'Write playout points', done: 2, conflicts: [] },
  });
  let closed = 0;
  show(<PointsDialog selection={SELECTION} onClose={() => closed++} />);
  return { sent, closed: () => closed };
};

test('how many files get them and what is left out, then they are written', async () => {
  const reasons = [{ reason: 'It has no segue point', tracks: 1 }];
  const { sent, closed } = open({ files: 2, others: 4, lacking: 1, reasons });
  const list = await screen.findByRole('list', { name: 'What is written' });
  expect(list.textContent).toBe(
    '2WAV files get them1WAV file is left out1It has no segue point4files are no WAV, or not there: left out',
  );
  fireEvent.click(screen.getByRole('button', { name: 'Write 2 files' }));
  await waitFor(() =>
    expect(sent.at(-1)).toMatchObject({ path: '/playout-points/write', body: { selection: SELECTION } }),
  );
  expect(closed()).toBe(1);
});

test('where none can be written, there is nothing to press', async () => {
  open({ files: 0, others: 3, lacking: 0, reasons: [] });
  expect(((await screen.findByRole('button', { name: 'Write 0 files' })) as HTMLButtonElement).disabled).toBe(true);
});
