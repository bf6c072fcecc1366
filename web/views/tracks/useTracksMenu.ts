/** What can be done with the tracks that are chosen: the menu of the sheet, and the same in the list of actions. */
import { useNavigate } from 'react-router';
import { menuItem, useCommands, type KeyAction, type KeyActions } from '../../commands/commands.ts';
import type { KeyOf } from '../../commands/keys.ts';
import type { MenuItem } from '../../ui/Menu.tsx';

interface Does {
  run: () => void;
  disabled: boolean;
}
interface More {
  measure: Does;
  clean: Does;
  write: Does;
  put: Does;
  points: Does;
  convert: Does;
  copyPath: Does;
  remove: Does;
  allOff: () => void;
  /** The filters become a self-filling crate. */
  keep: Does;
  /** Between the list and the covers. */
  look: () => void;
}

/** Returns the lines of the menu. */
export function useTracksMenu(
  keys: Required<KeyActions<'tracks'>>,
  all: KeyAction,
  { measure, clean, write, points, put, convert, copyPath, remove, allOff, keep, look }: More,
): MenuItem[] {
  const navigate = useNavigate();
  const item = (id: KeyOf<'tracks'>): MenuItem => menuItem('tracks', id, keys[id]);
  const more: MenuItem[] = [
    { label: 'Measure again…', ...measure },
    { label: 'Clean…', ...clean },
    { label: 'Write edits into the files…', ...write },
    { label: 'Write playout points into WAV files…', ...points },
    { label: 'Move or copy files…', ...put },
    { label: 'Convert into a folder…', ...convert },
    { label: 'Copy the path of the file', ...copyPath },
    { label: 'Remove from the library', ...remove, danger: true, apart: true },
  ];
  useCommands([
    ...more.map((i) => ({
      id: `tracks-${i.label}`,
      label: i.label,
      group: 'Tracks',
      run: i.run,
      disabled: i.disabled ?? false,
    })),
    { id: 'tracks-check', label: 'Check what is least certain', group: 'Tracks', run: () => void navigate('/check') },
    { id: 'tracks-keep', label: 'Save the filters as a self-filling crate', group: 'Tracks', ...keep },
    { id: 'tracks-clear', label: 'Take all filters off', group: 'Tracks', run: allOff },
    { id: 'tracks-look', label: 'Show as list or covers', group: 'Tracks', run: look },
  ]);
  return [
    item('audition'),
    item('open'),
    item('edit'),
    { ...item('add'), apart: true },
    item('hearLater'),
    { ...item('fit'), apart: true },
    item('rate'),
    ...more,
    { ...menuItem('table', 'all', all), apart: true },
  ];
}
