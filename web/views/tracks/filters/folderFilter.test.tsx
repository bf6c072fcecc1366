import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import type { FolderCount } from '@early-set/core/files/folderTree';
import { FolderFilter } from './FolderFilter.tsx';

const folder = (rootId: number, root: string, path: string, count: number): FolderCount => ({
  rootId,
  root,
  path,
  count,
});
const names = (): (string | null)[] =>
  screen.getAllByRole('button').flatMap((b) => (b.hasAttribute('aria-pressed') ? [b.textContent] : []));
const chosen = jest.fn();
afterEach(() => {
  cleanup();
  chosen.mockClear();
});

describe('the folder filter', () => {
  test('shows what lies in an only root at once; folds and unfolds', () => {
    const folders = [folder(1, 'Music', 'House/Old', 2), folder(1, 'Music', 'Inbox', 3)];
    render(<FolderFilter folders={folders} chosen={null} onChoose={chosen} />);
    expect(names()).toEqual(['Music5', 'House2', 'Inbox3']);
    fireEvent.click(screen.getByRole('button', { name: 'Folders in House' }));
    expect(names()).toEqual(['Music5', 'House2', 'Old2', 'Inbox3']);
    fireEvent.click(screen.getByRole('button', { name: 'Folders in Music' }));
    expect(names()).toEqual(['Music5']);
  });
  test('of several roots, shows these; equal folders in two are two', () => {
    const folders = [folder(1, 'Music', 'Inbox', 3), folder(2, 'Stick', 'Inbox', 4)];
    render(<FolderFilter folders={folders} chosen={{ rootId: 2, path: 'Inbox' }} onChoose={chosen} />);
    expect(names()).toEqual(['Music3', 'Stick4']);
    fireEvent.click(screen.getByRole('button', { name: 'Folders in Stick' }));
    const inbox = screen.getByRole('button', { name: 'Inbox 4' });
    expect(inbox.getAttribute('aria-pressed')).toBe('true');
    fireEvent.click(inbox);
    expect(chosen).toHaveBeenCalledWith(null);
    fireEvent.click(screen.getByRole('button', { name: 'Stick 4' }));
    expect(chosen).toHaveBeenLastCalledWith({ rootId: 2, path: '' });
  });
});
