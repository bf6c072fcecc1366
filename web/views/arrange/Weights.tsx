/** How much each part counts, where tracks are ranked or put in order. */
import { Button } from '../../ui/Button.tsx';

interface Props<W extends { [part in keyof W]: number }> {
  labels: Record<keyof W, string>;
  weights: W;
  defaults: W;
  onChange: (weights: W) => void;
}

export function Weights<W extends { [part in keyof W]: number }>({ labels, weights, defaults, onChange }: Props<W>) {
  const changed = JSON.stringify(weights) !== JSON.stringify(defaults);
  return (
    <details className="mt-2">
      <summary className="cursor-pointer text-small font-semibold text-dim">Counts for</summary>
      <div className="mt-1 flex flex-col gap-1">
        {(Object.keys(labels) as (keyof W & string)[]).map((part) => (
          <label key={part} className="flex items-center gap-2 text-small">
            <span className="w-24">{labels[part]}</span>
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
          <Button kind="link" className="self-start" onClick={() => onChange(defaults)}>
            Reset
          </Button>
        )}
      </div>
    </details>
  );
}
