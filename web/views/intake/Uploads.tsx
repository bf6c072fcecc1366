/** Dropped files on their way: each with progress, all with cancel, refusals with their reason. */
import { useEffect, useState } from 'react';
import type { RootLine } from '@early-set/core/api/types';
import { several } from '../../data/actions.ts';
import { ApiError, post, upload } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import type { DroppedFile } from './dropped.ts';

interface Outcome {
  path: string;
  reason: string;
}

export function Uploads({ root, files, onDone }: { root: RootLine; files: DroppedFile[]; onDone: () => void }) {
  const [state, setState] = useState({ done: 0, share: 0, current: '' });
  const [refused, setRefused] = useState<Outcome[]>([]);
  const [ended, setEnded] = useState<'done' | 'cancelled' | null>(null);
  const [controller] = useState(() => new AbortController());
  useEffect(() => {
    const { signal } = controller;
    let left = false;
    (async () => {
      let arrived = 0;
      for (const [i, { file, path }] of files.entries()) {
        if (signal.aborted || left) break;
        setState({ done: i, share: 0, current: path });
        try {
          await upload(
            `/roots/${root.id}/files`,
            file,
            path,
            (share) => setState({ done: i, share, current: path }),
            signal,
          );
          arrived++;
        } catch (error) {
          if (error instanceof DOMException) break;
          setRefused((r) => [
            ...r,
            { path, reason: error instanceof ApiError ? error.message : 'The file did not arrive' },
          ]);
        }
      }
      if (left) return;
      if (arrived > 0) await post(`/roots/${root.id}/scan`).catch(() => undefined);
      setState((s) => ({ ...s, done: arrived }));
      setEnded(signal.aborted ? 'cancelled' : 'done');
    })().catch(() => setEnded('done'));
    return () => {
      left = true;
    };
  }, [controller, files, root.id]);
  return (
    <div className="border-b border-line bg-paper px-5 py-3" aria-live="polite">
      <div className="flex items-center gap-3">
        <h2 className="heading flex-1 text-[16px]">
          {ended === null
            ? `Taking ${several(files.length, 'file')} into ${root.label}`
            : `${several(state.done, 'file')} arrived in ${root.label}${ended === 'cancelled' ? ', then cancelled' : ''}`}
        </h2>
        {ended === null ? (
          <Button onClick={() => controller.abort()}>Cancel</Button>
        ) : (
          <Button onClick={onDone}>Close</Button>
        )}
      </div>
      {ended === null && (
        <>
          <div className="mt-2 h-[5px] bg-hair">
            <div
              className="h-full bg-kelp"
              style={{ width: `${((state.done + state.share) / files.length) * 100}%` }}
            />
          </div>
          <p className="mt-1 truncate text-tiny text-dim">
            {state.done + 1} of {files.length}: {state.current}
          </p>
        </>
      )}
      {refused.length > 0 && (
        <ul className="mt-2">
          {refused.map((r) => (
            <li key={r.path} className="text-small text-sodium-text">
              {r.reason}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
