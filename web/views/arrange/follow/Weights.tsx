/** How much each part counts when tracks are ranked. */
import type { FollowWeights } from '@early-set/core/arrange/follow';
import { DEFAULT_FOLLOW } from '@early-set/core/arrange/follow';
import { Button } from '../../../ui/Button.tsx';

const LABELS: Record<keyof FollowWeights, string> = {
  tempo: 'Tempo',
  key: 'Key',
  energy: 'Energy',
  shape: 'Wished shape',
  rating: 'Stars',
  artist: 'Other artist',
};

interface Props {
  weights: FollowWeights;
  onChange: (weights: FollowWeights) => void;
}

export function Weights({ weights, onChange }: Props) {
  const changed = JSON.stringify(weights) !== JSON.stringify(DEFAULT_FOLLOW);
  return (
    <details className="mt-2">
      <summary className="cursor-pointer text-small font-semibold text-dim">Counts for</summary>
      <div className="mt-1 flex flex-col gap-1">
        {(Object.keys(LABELS) as (keyof FollowWeights)[]).map((part) => (
          <label key={part} className="flex items-center gap-2 text-small">
            <span className="w-24">{LABELS[part]}</span>
            <input
              type="range"
              min={0}
              max={100}
              step={5}
              value={weights[part]}
              onChange={(e) => onChange({ ...weights, [part]: Number(e.target.value) })}
              className="min-w-0 flex-1 accent-kelp"
            />
          </label>
        ))}
        {changed && (
          <Button kind="link" className="self-start" onClick={() => onChange(DEFAULT_FOLLOW)}>
            Reset
          </Button>
        )}
      </div>
    </details>
  );
}
