/** Parts of a result that can be measured again alone. */
import type { AnalysisResult } from './engine.ts';

export const PARTS = ['loudness', 'tempo', 'key', 'energy', 'edges', 'sound'] as const;
export type Part = (typeof PARTS)[number];

export const PART_LABELS: Record<Part, string> = {
  loudness: 'Loudness',
  tempo: 'Tempo and grid',
  key: 'Key',
  energy: 'Energy',
  edges: 'Playout points and sections',
  sound: 'Sound quality',
};

type Stored = Omit<AnalysisResult, 'waveform'>;

/** A former result with some parts of a new one; the whole new one where nothing was there before. */
export function withParts(before: Stored | null, now: Stored, parts: readonly Part[]): Stored {
  if (!before || PARTS.every((p) => parts.includes(p))) return now;
  const out = { ...before } as Record<string, unknown>;
  for (const part of parts) out[part] = now[part];
  if (parts.includes('edges')) out.sections = now.sections;
  return out as unknown as Stored;
}
