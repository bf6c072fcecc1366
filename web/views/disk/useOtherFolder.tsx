/** Looking in a folder that is not in the library yet: it is taken in, and when it has been read, looked through. */
import { useEffect, useEffectEvent, useState, type ReactNode } from 'react';
import { useRuns } from '../../data/hooks.ts';
import { FolderPicker } from '../intake/FolderPicker.tsx';

interface OtherFolder {
  /** Is it being read? */
  busy: boolean;
  choose: () => void;
  /** Stops waiting for it; it is read all the same. */
  forget: () => void;
  dialog: ReactNode;
}

/** @param onRead it is in the library, and measured */
export function useOtherFolder(onRead: () => void): OtherFolder {
  const { data: runs = [] } = useRuns();
  const [open, setOpen] = useState(false);
  /** The folder that was chosen, and the latest run there was before. */
  const [awaited, setAwaited] = useState<{ rootId: number; since: number } | null>(null);
  const since = Math.max(0, ...runs.map((r) => r.id));
  const read = useEffectEvent(() => {
    setAwaited(null);
    onRead();
  });
  useEffect(() => {
    if (!awaited) return;
    const after = runs.filter((r) => r.id > awaited.since);
    const scanned = after.some((r) => r.kind === 'intake' && r.rootId === awaited.rootId && r.state !== 'running');
    if (scanned && !after.some((r) => r.state === 'running' && (r.kind === 'intake' || r.kind === 'analysis'))) read();
  }, [awaited, runs]);
  const [before, setBefore] = useState(0);
  return {
    busy: awaited !== null,
    choose: () => {
      setBefore(since);
      setOpen(true);
    },
    forget: () => setAwaited(null),
    dialog: (
      <FolderPicker
        open={open}
        moved={null}
        onClose={() => setOpen(false)}
        onTaken={(rootId) => setAwaited({ rootId, since: before })}
      />
    ),
  };
}
