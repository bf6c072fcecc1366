/**
 * What a page shows, as its address says, changed step by step. A change that is made before the page has been drawn
 * after the one before goes on from what was asked for, not from what is drawn: two quick clicks are two filters.
 */
import { useLayoutEffect, useRef } from 'react';
import { useLocation, useNavigationType, useSearchParams } from 'react-router';

/** Makes the next address parameters out of those that were asked for last. */
export type ChangeAddress = (change: (now: URLSearchParams) => URLSearchParams) => void;

/** Number of the latest change, as the history keeps it beside the address. */
interface Step {
  step?: number;
}

export function useAddress(): [URLSearchParams, ChangeAddress] {
  const [params, setParams] = useSearchParams();
  const location = useLocation();
  const type = useNavigationType();
  const latest = useRef<{ step: number; asked: URLSearchParams | null }>({ step: 0, asked: null });
  useLayoutEffect(() => {
    const { step } = (location.state ?? {}) as Step;
    const isEarlier = type !== 'POP' && step !== undefined && step < latest.current.step;
    // Whatever else was gone to counts, be it by a link or backwards.
    if (!isEarlier) latest.current.asked = null;
  }, [location, type]);
  return [
    params,
    (change) => {
      const step = latest.current.step + 1,
        asked = change(latest.current.asked ?? params);
      latest.current = { step, asked };
      setParams(asked, { state: { step } satisfies Step });
    },
  ];
}
