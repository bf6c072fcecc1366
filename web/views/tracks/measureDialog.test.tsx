import { afterEach, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import { PARTS } from '@early-set/core/analysis/parts';
import { Refusal, serve, show } from '../../testing/server.tsx';
import { MeasureDialog } from './MeasureDialog.tsx';

const SELECTION = { ids: [4, 5] };
const open = (onClose = jest.fn<() => void>()) => {
  show(<MeasureDialog open onClose={onClose} selection={SELECTION} count={2} />);
  return onClose;
};
const measure = (): void => {
  fireEvent.click(screen.getByRole('button', { name: 'Measure' }));
};
afterEach(cleanup);

test('everything of all of them, unless something is chosen', async () => {
  const { sent } = serve({ '/analysis': { runId: 1, tracks: 2 } });
  const closed = open();
  expect(screen.getByText(/2 tracks\. What was set by hand or locked stays/)).toBeTruthy();
  measure();
  await waitFor(() => expect(closed).toHaveBeenCalled());
  expect(sent).toEqual([{ path: '/analysis', body: { selection: SELECTION, older: false, below: null, parts: null } }]);
});

test('only older ones, only some parts', async () => {
  const { sent } = serve({ '/analysis': { runId: 1, tracks: 1 } });
  open();
  fireEvent.click(screen.getByLabelText(/earlier version/));
  for (const name of ['Loudness', 'Energy', 'Sound quality']) fireEvent.click(screen.getByLabelText(name));
  measure();
  await waitFor(() =>
    expect(sent).toEqual([
      { path: '/analysis', body: { selection: SELECTION, older: true, below: null, parts: ['tempo', 'key', 'edges'] } },
    ]),
  );
});

test('naming how unsure chooses the unsure ones', async () => {
  const { sent } = serve({ '/analysis': { runId: 1, tracks: 1 } });
  open();
  fireEvent.change(screen.getByLabelText('Confidence below'), { target: { value: '0.65' } });
  measure();
  await waitFor(() => expect(sent[0]!.body).toMatchObject({ older: false, below: 0.65 }));
});

test('with no part chosen there is nothing to start; a refusal leaves the dialog open', async () => {
  const { sent } = serve({
    '/analysis': new Refusal(409, 'nothing-to-do', 'Everything chosen has been measured by this engine'),
  });
  const closed = open();
  const boxes = screen.getAllByRole('checkbox');
  expect(boxes).toHaveLength(PARTS.length);
  for (const box of boxes) fireEvent.click(box);
  measure();
  expect((await screen.findByRole('alert')).textContent).toBe('Choose at least one part');
  expect(sent).toEqual([]);
  fireEvent.click(boxes[0]!);
  measure();
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(closed).not.toHaveBeenCalled();
  fireEvent.click(screen.getByRole('button', { name: 'Cancel' }));
  expect(closed).toHaveBeenCalled();
});
