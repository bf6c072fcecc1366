/** Is the window too narrow for several columns beside each other? */
import { useSyncExternalStore } from 'react';

const query = (): MediaQueryList | undefined => globalThis.matchMedia?.('(max-width: 959px)');

function subscribe(changed: () => void): () => void {
  const media = query();
  media?.addEventListener('change', changed);
  return () => media?.removeEventListener('change', changed);
}

export const useNarrow = (): boolean => useSyncExternalStore(subscribe, () => query()?.matches ?? false);
