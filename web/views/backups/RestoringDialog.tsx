/** While a backup is being restored, the desk is closed: what it does is asked for until it is there again. */
import { Dialog as Radix } from 'radix-ui';
import { useEffect, useEffectEvent } from 'react';
import type { RestoreProgress } from '@early-set/core/api/backups';
import { get } from '../../data/api.ts';
import { openAnew } from '../../data/openAnew.ts';

const ASK_MS = 400;

interface Props {
  progress: RestoreProgress;
  onStep: (progress: RestoreProgress) => void;
}

export function RestoringDialog({ progress, onStep }: Props) {
  const ask = useEffectEvent(async (seen: { closed: boolean }): Promise<void> => {
    try {
      const said = await get<RestoreProgress | null>('/backups/restoring');
      if (said) {
        seen.closed = true;
        onStep(said);
      } else if (seen.closed) openAnew();
    } catch {
      // Between the one and the other nobody answers.
      seen.closed = true;
    }
  });
  useEffect(() => {
    const seen = { closed: false };
    const timer = setInterval(() => void ask(seen), ASK_MS);
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
            {progress.step}…
          </p>
          <p className="mt-2 text-small text-dim">
            Until the last step everything is as it was: closing this page, or the computer, loses nothing.
          </p>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
