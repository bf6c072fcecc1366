import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { Dialog } from './Dialog.tsx';

afterEach(cleanup);

function Page({ onClosed }: { onClosed: () => void }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <div tabIndex={0} data-testid="sheet" onKeyDown={(e) => e.key === 'k' && setOpen(true)} />
      <Dialog open={open} onClose={() => setOpen(false)} onClosed={onClosed} title="All actions">
        <input aria-label="What to do" />
      </Dialog>
    </>
  );
}

test('a dialog opened by a key begins in its field, and gives the focus back before anything else happens', async () => {
  const seen: (string | undefined)[] = [];
  render(<Page onClosed={() => seen.push((document.activeElement as HTMLElement | null)?.dataset.testid)} />);
  const sheet = screen.getByTestId('sheet');
  sheet.focus();
  fireEvent.keyDown(sheet, { key: 'k' });
  await waitFor(() => expect(document.activeElement).toBe(screen.getByLabelText('What to do')));
  fireEvent.keyDown(document.activeElement!, { key: 'Escape' });
  await waitFor(() => expect(seen).toEqual(['sheet']));
  expect(document.activeElement).toBe(sheet);
});
