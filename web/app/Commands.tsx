import { Command as Cmdk } from 'cmdk';
import { useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { auditionNext, jump, PLAY_ON, toggleAudition, usePlayer } from '../audition/player.ts';
import { undoLatest } from '../data/actions.ts';
import { useLists } from '../data/hooks.ts';
import { isPutAway } from '../data/listTree.ts';
import { useRemembered } from '../data/remembered.ts';
import { Dialog } from '../ui/Dialog.tsx';
import { useAllCommands, useCommands, useKeys, type Command } from '../commands/commands.ts';
import { findCommands } from '../commands/findCommands.ts';
import { keysOf, SCREENS, type Screen } from '../commands/keys.ts';
import { STAGES } from './stages.ts';

const HEADED =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-tiny ' +
  '[&_[cmdk-group-heading]]:text-dim';
const ACTION =
  'flex cursor-default items-center px-2 py-1.5 data-[disabled=true]:opacity-45 data-[selected=true]:bg-chosen';

/** The list of actions, the list of keys, and what works everywhere. */
export function Commands({ toggleTheme }: { toggleTheme: () => void }) {
  const [open, setOpen] = useState<'actions' | 'keys' | null>(null);
  /** Done when the dialog is gone: what it does may take the focus. */
  const picked = useRef<(() => void) | null>(null);
  const navigate = useNavigate();
  const { data: lists = [] } = useLists();
  const player = usePlayer();
  const [playOn, setPlayOn] = useRemembered<boolean>(PLAY_ON, false);
  useKeys('everywhere', {
    actions: { run: () => setOpen((o) => (o ? null : 'actions')) },
    keys: { run: () => setOpen('keys') },
    undo: { run: () => void undoLatest(false) },
    redo: { run: () => void undoLatest(true) },
  });
  const noNext = !player.order;
  useKeys('audition', {
    play: { run: () => toggleAudition(null), disabled: !player.track },
    next: { run: () => void auditionNext(1), disabled: noNext },
    previous: { run: () => void auditionNext(-1), disabled: noNext },
    back: { run: () => jump(-30), disabled: !player.track },
    forward: { run: () => jump(30), disabled: !player.track },
  });
  useCommands([
    ...STAGES.map((s) => ({
      id: `go-${s.id}`,
      label: `Go to ${s.label}`,
      group: 'Stages',
      run: () => void navigate(s.path),
    })),
    { id: 'go-bundles', label: 'Go to Bundles', group: 'Stages', run: () => void navigate('/bundles') },
    {
      id: 'go-music-copy',
      label: 'Go to Backups of the music files',
      group: 'Stages',
      run: () => void navigate('/backups/music'),
    },
    { id: 'go-backups', label: 'Go to Backups', group: 'Stages', run: () => void navigate('/backups') },
    {
      id: 'play-on',
      label: playOn ? 'Continuous play: off' : 'Continuous play: on',
      group: SCREENS.audition,
      run: () => setPlayOn(!playOn),
    },
    ...lists
      .filter((l) => !isPutAway(l, lists))
      .map((l) => ({
        id: `open-${l.id}`,
        label: `Open the ${l.kind} ${l.name}`,
        group: 'Crates and playlists',
        run: () => void navigate(`/arrange/${l.id}`),
      })),
    { id: 'theme', label: 'Switch between day and night colours', group: 'Page', run: toggleTheme },
  ]);
  return (
    <>
      <Dialog
        open={open === 'actions'}
        onClose={() => setOpen(null)}
        title="All actions"
        onClosed={() => {
          const run = picked.current;
          picked.current = null;
          run?.();
        }}
      >
        <Actions
          onPick={(run) => {
            picked.current = run;
            setOpen(null);
          }}
        />
      </Dialog>
      <Dialog open={open === 'keys'} onClose={() => setOpen(null)} title="Keys" wide>
        <div className="columns-2 gap-x-8">
          {(Object.keys(SCREENS) as Screen[]).map((screen) => (
            <section key={screen} aria-label={SCREENS[screen]} className="mb-4 break-inside-avoid">
              <h3 className="mb-1 text-small font-semibold text-dim">{SCREENS[screen]}</h3>
              <dl>
                {keysOf(screen).map(([id, { keys, label }]) => (
                  <div key={id} className="flex border-b border-hair py-1">
                    <dt className="figures w-[152px] shrink-0 pr-2 text-small">{keys.join(', ')}</dt>
                    <dd className="flex-1">{label}</dd>
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

function Actions({ onPick }: { onPick: (run: () => void) => void }) {
  const [typed, setTyped] = useState('');
  const commands = useAllCommands();
  const found = useMemo(() => findCommands(commands, typed), [commands, typed]);
  const groups = [...new Set(found.map((c) => c.group))];
  const item = (c: Command) => (
    <Cmdk.Item key={c.id} value={c.id} disabled={c.disabled ?? false} onSelect={() => onPick(c.run)} className={ACTION}>
      <span className="flex-1">{c.label}</span>
      {c.keys && <kbd className="figures text-tiny text-dim">{c.keys}</kbd>}
    </Cmdk.Item>
  );
  return (
    <Cmdk label="All actions" shouldFilter={false} className="flex flex-col">
      <Cmdk.Input
        value={typed}
        onValueChange={setTyped}
        placeholder="Type what you want to do"
        className="mb-2 rounded-xs border border-line bg-sheet px-2.5 py-1.5 outline-offset-0"
      />
      <Cmdk.List className="max-h-[50vh] overflow-auto">
        <Cmdk.Empty className="px-2 py-4 text-dim">No action has that name.</Cmdk.Empty>
        {typed.trim()
          ? found.map(item)
          : groups.map((group) => (
              <Cmdk.Group key={group} heading={group} className={HEADED}>
                {found.filter((c) => c.group === group).map(item)}
              </Cmdk.Group>
            ))}
      </Cmdk.List>
    </Cmdk>
  );
}
