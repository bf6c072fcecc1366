/** Small drawn marks: state of a track, energy, art. */
import type { SheetRow } from '@early-set/core/api/types';

export type RowState = 'ready' | 'look' | 'missing' | 'working' | 'waiting';

/** What the mark in front of a row says, with the words for it. */
export function stateOf(row: SheetRow): { state: RowState; words: string } {
  const v = row.values;
  if (v.fileState === 'missing') return { state: 'missing', words: 'Missing file' };
  if (v.fileState === 'retired') return { state: 'missing', words: 'File in quarantine' };
  if (v.analysisState === 'failed')
    return { state: 'look', words: `Could not be measured: ${row.analysisReason ?? 'unknown reason'}` };
  if (v.analysisState === 'running') return { state: 'working', words: 'Being measured' };
  if (v.analysisState === 'waiting' || v.analysisState === 'none')
    return { state: 'waiting', words: v.analysisState === 'waiting' ? 'Waiting to be measured' : 'Not measured' };
  if (!v.title || !v.artist || !v.genre) return { state: 'look', words: 'Has gaps' };
  return { state: 'ready', words: 'Measured, no gaps' };
}

export function StateMark({ row }: { row: SheetRow }) {
  const { state, words } = stateOf(row);
  return (
    <svg width="11" height="11" viewBox="0 0 11 11" role="img" aria-label={words}>
      <title>{words}</title>
      {state === 'ready' && <circle cx="5.5" cy="5.5" r="4.5" className="fill-kelp" />}
      {state === 'look' && <path d="M5.5 0 11 5.5 5.5 11 0 5.5Z" className="fill-sodium" />}
      {state === 'missing' && <path d="M2 2l7 7M9 2l-7 7" className="stroke-flare" strokeWidth="2.4" />}
      {state === 'waiting' && (
        <circle cx="5.5" cy="5.5" r="4.2" fill="none" className="stroke-dim" strokeDasharray="2.2 1.8" />
      )}
      {state === 'working' && (
        <>
          <circle cx="5.5" cy="5.5" r="4.2" fill="none" className="stroke-tide-deep" strokeWidth="1.6" />
          <path d="M5.5 1.3a4.2 4.2 0 0 1 4.2 4.2" fill="none" className="stroke-buoy" strokeWidth="1.8" />
        </>
      )}
    </svg>
  );
}

/** This is what is heard. */
export const Playing = () => (
  <span
    role="img"
    aria-label="Auditioned"
    className="inline-block h-0 w-0 border-y-[5px] border-l-[8px] border-y-transparent border-l-buoy"
  />
);

export function EnergyBar({ value }: { value: number }) {
  return (
    <span
      role="img"
      aria-label={`Energy ${value}`}
      title={`Energy ${value}`}
      className="block h-[9px] w-full max-w-[70px] bg-hair"
    >
      <span className="block h-full bg-energy" style={{ width: `${value}%` }} />
    </span>
  );
}

/** A cover, or a quiet place-holder in its stead. */
export function Art({ hash, size, alt }: { hash: string | null; size: number; alt: string }) {
  if (!hash) {
    return (
      <svg width={size} height={size} viewBox="0 0 40 40" role="img" aria-label="No cover" className="shrink-0 bg-hair">
        <path d="M12 24a8 8 0 0 1 16 0Z" className="fill-tide" />
        <path d="M6 28h28M11 32h18" className="stroke-tide-deep" strokeWidth="1.6" />
      </svg>
    );
  }
  return (
    <img
      src={`/api/art/${hash}?size=${size <= 64 ? 64 : size <= 160 ? 160 : 480}`}
      width={size}
      height={size}
      alt={alt}
      className="shrink-0 object-cover"
    />
  );
}
