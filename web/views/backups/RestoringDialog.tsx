/** While a backup is being restored, the desk is closed: what it does is asked for until it is there again. */
import { Dialog as Radix } from 'radix-ui';
import { useEffect, useEffectEvent, useState } from 'react';
import type { BackupsHere, RestoreProgress } from '@early-set/core/api/backups';
import { perform } from '../../data/actions.ts';
import { get, post } from '../../data/api.ts';
import { openAnew } from '../../data/openAnew.ts';
import { Button } from '../../ui/Button.tsx';

const ASK_MS = 400;

interface Props {
  /** How the one before had ended, when this one was asked for. */
  before: string | null;
}

export function RestoringDialog({ before }: Props) {
  const [progress, setProgress] = useState<RestoreProgress | null>(null);
  const ask = useEffectEvent(async (): Promise<void> => {
    try {
      const said = await get<RestoreProgress | null>('/backups/restoring');
      if (said) setProgress(said);
      else if ((await get<BackupsHere>('/backups')).restored?.at !== (before ?? undefined)) openAnew();
    } catch {
      // Between the one and the other nobody answers.
    }
  });
  useEffect(() => {
    const timer = setInterval(() => void ask(), ASK_MS);
    return () => clearInterval(timer);
  }, []);
  return (
    <Radix.Root open>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-[#0b171c]/45" />
        <Radix.Content
          aria-describedby={undefined}
          onEscapeKeyDown={(e) => e.preventDefault()}
          onInteractOutside={(e) => e.preventDefault()}
          className="fixed top-[24vh] left-1/2 z-50 w-[420px] -translate-x-1/2 rounded-sm border border-line bg-paper p-5"
        >
          <Radix.Title className="heading text-[17px]">The backup is being restored</Radix.Title>
          <p className="mt-2" aria-live="polite">
            {progress?.step ?? 'Stopping Early Set'}…
          </p>
          <p className="mt-2 text-small text-dim">
            Until the last step everything is as it was: closing this page, or the computer, loses nothing.
          </p>
          <div className="mt-3 flex justify-end">
            <Button
              disabled={!progress?.canCancel}
              onClick={() => void perform(post('/backups/restoring/cancel'), 'Cancelled; everything is as it was')}
            >
              Cancel
            </Button>
          </div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
