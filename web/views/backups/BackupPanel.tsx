/** The chosen backup: what it holds, and what can be done with it. */
import { useState } from 'react';
import type { BackupLine, BackupsHere } from '@early-set/core/api/backups';
import { perform, several } from '../../data/actions.ts';
import { post, remove as drop } from '../../data/api.ts';
import { useBackups, useOverview } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { bytes, dayAndTime } from '../../ui/format.ts';
import { keptInWords, REASONS, stateOf } from './words.ts';

interface Props {
  backup: BackupLine | null;
  here: BackupsHere;
  /** One is being made or verified. */
  busy: boolean;
  onRestoring: () => void;
}

const SIDE =
  'flex w-[300px] shrink-0 flex-col border-l border-line bg-paper narrow:w-auto narrow:border-t narrow:border-l-0';

export function BackupPanel({ backup, here, busy, onRestoring }: Props) {
  const [asking, setAsking] = useState<'restore' | 'remove' | null>(null);
  const { mutate } = useBackups();
  if (!backup)
    return (
      <aside aria-label="Backup" className={SIDE}>
        <Empty title="What a backup holds">
          <p>Choose one to see it, to verify it again, or to restore it.</p>
        </Empty>
      </aside>
    );
  const remove = async (): Promise<void> => {
    setAsking(null);
    const next = await perform(drop<BackupsHere>(`/backups/${backup.id}`), 'The backup is removed');
    if (next) void mutate(next, { revalidate: false });
  };
  const restore = async (): Promise<void> => {
    setAsking(null);
    if (await perform(post(`/backups/${backup.id}/restore`))) onRestoring();
  };
  const facts: [string, string][] = [
    ['Why', REASONS[backup.reason]],
    ['Tracks', backup.tracks.toLocaleString('en-GB')],
    ['Lists', backup.lists.toLocaleString('en-GB')],
    ['Changes', backup.changes.toLocaleString('en-GB')],
    ['Covers, sync data', several(backup.files, 'file')],
    ['Size', bytes(backup.bytes)],
    ['Verified', stateOf(backup).words],
    ['Kept', keptInWords(backup)],
  ];
  return (
    <aside aria-label="Backup" className={SIDE}>
      <div className="min-h-0 flex-1 overflow-auto p-4">
        <h2 className="heading text-[17px]">{dayAndTime(backup.madeAt)}</h2>
        <dl className="mt-2">
          {facts.map(([what, value]) => (
            <div key={what} className="flex border-b border-hair py-1 text-small">
              <dt className="w-[116px] shrink-0 text-dim">{what}</dt>
              <dd className={`min-w-0 flex-1 ${/^\d/.test(value) ? 'figures' : ''}`}>{value}</dd>
            </div>
          ))}
        </dl>
        {backup.trouble && <p className="mt-2 text-small text-flare">{backup.trouble}.</p>}
        <p className="mt-3 text-small text-dim">
          Verifying restores it into a database of its own, compares every table, and reads every file that goes with
          it.
        </p>
        <div className="mt-2 flex gap-2">
          <Button disabled={busy} onClick={() => void perform(post(`/backups/${backup.id}/verify`), 'Being verified')}>
            Verify again
          </Button>
          <Button disabled={busy} onClick={() => setAsking('remove')}>
            Remove…
          </Button>
        </div>
      </div>
      <div className="border-t border-line p-3">
        <Button
          kind="main"
          className="w-full"
          disabled={!here.canRestore || backup.newer || backup.trouble !== null}
          onClick={() => setAsking('restore')}
        >
          Restore…
        </Button>
        {backup.newer && (
          <p className="mt-2 text-small text-dim">A newer version of Early Set made it, and can restore it.</p>
        )}
      </div>
      {asking === 'restore' && <AskRestore backup={backup} onClose={() => setAsking(null)} onRestore={restore} />}
      <Dialog
        open={asking === 'remove'}
        onClose={() => setAsking(null)}
        title={`Remove the backup of ${dayAndTime(backup.madeAt)}?`}
        note="This cannot be undone. The library and the other backups stay as they are."
      >
        <div className="mt-3 flex justify-end gap-2">
          <Button onClick={() => setAsking(null)}>Cancel</Button>
          <Button kind="main" onClick={() => void remove()}>
            Remove this backup
          </Button>
        </div>
      </Dialog>
    </aside>
  );
}

function AskRestore(props: { backup: BackupLine; onClose: () => void; onRestore: () => Promise<void> }) {
  const { backup, onClose, onRestore } = props;
  const { data: overview } = useOverview();
  return (
    <Dialog open onClose={onClose} title={`Restore the backup of ${dayAndTime(backup.madeAt)}?`}>
      <ul className="flex list-disc flex-col gap-1 pl-4">
        <li>
          The library, its lists, history and settings, covers, and what is kept of destinations become what they were:{' '}
          {several(backup.tracks, 'track')}
          {overview && overview.tracks !== backup.tracks && ` instead of ${overview.tracks.toLocaleString('en-GB')}`}.
        </li>
        <li>Music files are not touched. What changed in them since is found when their folders are scanned.</li>
        <li>What is there now is backed up first, so that you can come back to it.</li>
        <li>Early Set closes for everybody while it is done, and opens again by itself.</li>
      </ul>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" onClick={() => void onRestore()}>
          Back up, then restore
        </Button>
      </div>
    </Dialog>
  );
}
