import { Command as Cmdk } from 'cmdk';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { jump, toggleAudition } from '../audition/player.ts';
import { undoLatest } from '../data/actions.ts';
import { Dialog } from '../ui/Dialog.tsx';
import { isTyping, useAllCommands, useCommands } from './commands.ts';
import { STAGES } from './stages.ts';

const KEYS: [string, [string, string][]][] = [
  [
    'Everywhere',
    [
      ['Ctrl K', 'All actions by name'],
      ['?', 'This list'],
      ['Ctrl Z', 'Undo the last change'],
      ['Ctrl Shift Z', 'Redo'],
      ['/', 'Find'],
      ['[ ]', 'Fold or open the left and right columns'],
    ],
  ],
  [
    'Tracks',
    [
      ['↑ ↓', 'Move in the sheet'],
      ['Shift ↑ ↓', 'Choose more'],
      ['Ctrl A', 'Choose everything that matches'],
      ['Esc', 'Choose nothing'],
      ['Enter', 'Open in the inspector'],
      ['E', 'Type over a cell; Tab, ↑ and ↓ go on'],
      ['M', 'Moods and energy by ear'],
      ['A', 'Add to a crate or playlist'],
      ['F', 'Show how well others follow this track'],
      ['L', 'Mark to hear later'],
    ],
  ],
  [
    'Arrange',
    [
      ['↑ ↓', 'Move in the list'],
      ['Alt ↑ ↓', 'Move the track up or down'],
      ['Delete', 'Take the track out of the list'],
    ],
  ],
  [
    'Audition',
    [
      ['Space', 'Play or pause'],
      [', .', 'Back or on 30 seconds'],
      ['← →', '5 seconds, in the waveform'],
    ],
  ],
];

/** The command palette, the list of keys, and the keys that work everywhere. */
export function Commands({ toggleTheme }: { toggleTheme: () => void }) {
  const [open, setOpen] = useState<'palette' | 'keys' | null>(null);
  const navigate = useNavigate();
  const commands = useAllCommands();
  useCommands([
    ...STAGES.map((s) => ({
      id: `go-${s.id}`,
      label: `Go to ${s.label}`,
      group: 'Stages',
      run: () => void navigate(s.path),
    })),
    { id: 'undo', label: 'Undo the last change', keys: 'Ctrl Z', group: 'Changes', run: () => void undoLatest(false) },
    { id: 'redo', label: 'Redo', keys: 'Ctrl Shift Z', group: 'Changes', run: () => void undoLatest(true) },
    { id: 'theme', label: 'Switch between day and night colours', group: 'Page', run: toggleTheme },
    { id: 'keys', label: 'Show all keys', keys: '?', group: 'Page', run: () => setOpen('keys') },
  ]);
  useEffect(() => {
    const press = (e: KeyboardEvent): void => {
      const control = e.ctrlKey || e.metaKey;
      if (control && e.key.toLowerCase() === 'k') {
        e.preventDefault();
        setOpen((o) => (o ? null : 'palette'));
        return;
      }
      if (isTyping(e.target)) return;
      if (control && e.key.toLowerCase() === 'z') {
        e.preventDefault();
        void undoLatest(e.shiftKey);
        return;
      }
      if (control || e.altKey) return;
      if (e.key === '?') {
        e.preventDefault();
        setOpen('keys');
      }
      if (e.key === ',') jump(-30);
      if (e.key === '.') jump(30);
      if (e.key === ' ' && !(e.target instanceof HTMLButtonElement) && !e.defaultPrevented) {
        e.preventDefault();
        toggleAudition(null);
      }
    };
    const show = (): void => setOpen('palette');
    window.addEventListener('keydown', press);
    window.addEventListener('early-set:commands', show);
    return () => {
      window.removeEventListener('keydown', press);
      window.removeEventListener('early-set:commands', show);
    };
  }, []);
  const groups = [...new Set(commands.map((c) => c.group))];
  return (
    <>
      <Dialog open={open === 'palette'} onClose={() => setOpen(null)} title="All actions">
        <Cmdk label="All actions" className="flex flex-col">
          <Cmdk.Input
            placeholder="Type what you want to do"
            className="mb-2 rounded-xs border border-line bg-sheet px-2.5 py-1.5 outline-offset-0"
          />
          <Cmdk.List className="max-h-[50vh] overflow-auto">
            <Cmdk.Empty className="px-2 py-4 text-dim">No action has that name.</Cmdk.Empty>
            {groups.map((group) => (
              <Cmdk.Group
                key={group}
                heading={group}
                className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-tiny [&_[cmdk-group-heading]]:text-dim"
              >
                {commands
                  .filter((c) => c.group === group)
                  .map((c) => (
                    <Cmdk.Item
                      key={c.id}
                      value={`${c.label} ${c.id}`}
                      disabled={c.disabled ?? false}
                      onSelect={() => {
                        setOpen(null);
                        c.run();
                      }}
                      className="flex cursor-default items-center px-2 py-1.5 data-[disabled=true]:opacity-45 data-[selected=true]:bg-chosen"
                    >
                      <span className="flex-1">{c.label}</span>
                      {c.keys && <kbd className="figures text-tiny text-dim">{c.keys}</kbd>}
                    </Cmdk.Item>
                  ))}
              </Cmdk.Group>
            ))}
          </Cmdk.List>
        </Cmdk>
      </Dialog>
      <Dialog open={open === 'keys'} onClose={() => setOpen(null)} title="Keys" wide>
        <div className="grid grid-cols-2 gap-x-8 gap-y-4">
          {KEYS.map(([group, keys]) => (
            <section key={group}>
              <h3 className="mb-1 text-small font-semibold text-dim">{group}</h3>
              <dl>
                {keys.map(([key, what]) => (
                  <div key={key} className="flex border-b border-hair py-1">
                    <dt className="figures w-[110px] text-small">{key}</dt>
                    <dd className="flex-1">{what}</dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
        </div>
      </Dialog>
    </>
  );
}
